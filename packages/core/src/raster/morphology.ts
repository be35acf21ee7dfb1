import { bytesFrom } from '../runtime/arena';

/**
 * A mask grown by a disc: 1 for every pixel within `radius` of a non-zero one. The cost is the
 * number of runs of its pixels in rows times the disc's height.
 */
export function grownMask(mask: Uint8Array, width: number, height: number, radius: number): Uint8Array {
  const reach = Math.floor(radius);
  const half = Int32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.floor(Math.sqrt(radius * radius - (i - reach) ** 2)));
  return bytesFrom(width * height, (arena, out) => arena.run.growMask(arena.copyIn(mask), width, height, reach, arena.copyIn(half), out));
}

import { bytesFrom } from '../runtime/arena';

/**
 * 1 wherever something non-zero lies within `reach` along both axes (a dilation by a square). Rows far from anything cost
 * hardly more than looking at them.
 *
 * @param mask 0 or not, row by row
 * @param reach px
 */
export function widened(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  return bytesFrom(width * height, (arena, out) => {
    const [across, until, filled] = [width * height, 4 * width, height].map((bytes) => arena.filled(bytes));
    arena.run.widenMask(arena.copyIn(mask), width, height, reach, across, until, filled, out);
  });
}

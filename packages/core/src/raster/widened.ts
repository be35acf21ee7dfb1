import { inArenaNow } from '../context/compiled';

/**
 * 1 wherever something non-zero lies within `reach` along both axes (a dilation by a square). Rows far from anything cost
 * hardly more than looking at them.
 *
 * @param mask 0 or not, row by row
 * @param reach px
 */
export function widened(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const out = new Uint8Array(width * height);
  inArenaNow((arena) => {
    const [across, until, filled, wide] = [out.length, 4 * width, height, out.length].map((bytes) => arena.filled(bytes));
    arena.run.widenMask(arena.put(mask), width, height, reach, across, until, filled, wide);
    arena.take(wide, out);
  });
  return out;
}

import { atBenchNow } from '../context/compiled';

/**
 * 1 wherever something non-zero lies within `reach` along both axes (a dilation by a square). Rows far from anything cost
 * hardly more than looking at them.
 *
 * @param mask 0 or not, row by row
 * @param reach px
 */
export function widened(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const out = new Uint8Array(width * height);
  atBenchNow((bench) => {
    const [across, until, filled, wide] = [out.length, 4 * width, height, out.length].map((bytes) => bench.filled(bytes));
    bench.run.widenMask(bench.put(mask), width, height, reach, across, until, filled, wide);
    bench.take(wide, out);
  });
  return out;
}

import type { Plane } from './plane';

/** Value of a plane between its pixels, bilinear, borders repeated; whole numbers are pixel middles. */
export function sampleAt({ width, height, data }: Plane, x: number, y: number): number {
  const cx = x <= 0 ? 0 : x >= width - 1 ? width - 1 : x;
  const cy = y <= 0 ? 0 : y >= height - 1 ? height - 1 : y;
  const x0 = Math.floor(cx);
  const y0 = Math.floor(cy);
  const p = y0 * width + x0;
  const right = x0 + 1 < width ? 1 : 0;
  const down = y0 + 1 < height ? width : 0;
  const u = cx - x0;
  const v = cy - y0;
  const top = data[p] + u * (data[p + right] - data[p]);
  const low = data[p + down] + u * (data[p + down + right] - data[p + down]);
  return top + v * (low - top);
}

import type { OklabPlanes } from '../colour/oklab';
import { boxMean } from '../raster/filter';
import { resizePlane } from '../raster/resize';

/** Lightness at which a difference counts half. */
const dim = 0.08;
/** Steps larger than this share of the lightness around are edges, not texture, and count no more. */
const step = 0.1;

/**
 * How busy a picture is around each pixel: slopes of lightness, as shares of the lightness there, in the direction in which
 * they are least (the lesser eigenvalue of the structure tensor; Förstner & Gülch 1987). Wool and wicker are busy in the sun and
 * in the shade; wood, facades and single edges have one direction and are not.
 *
 * @param lab the picture at the size at which its texture is still there
 * @returns a value about 0 to 0.15 at each pixel of the wanted, smaller size
 */
export function busyness({ width, height, l }: OklabPlanes, toWidth: number, toHeight: number): Float32Array {
  const fine = Math.max(1, Math.round(Math.max(width, height) / 450));
  const [xx, xy, yy] = [0, 1, 2].map(() => ({ width, height, data: new Float32Array(width * height) }));
  for (let y = 1; y + 1 < height; y++) {
    for (let x = 1, p = y * width + 1; x + 1 < width; x++, p++) {
      const around = (l[p - 1] + l[p + 1] + l[p - width] + l[p + width]) / 4 + dim;
      const dx = (l[p + 1] - l[p - 1]) / 2 / around;
      const dy = (l[p + width] - l[p - width]) / 2 / around;
      const size = Math.hypot(dx, dy);
      const share = size > step ? step / size : 1;
      xx.data[p] = dx * dx * share * share;
      xy.data[p] = dx * dy * share * share;
      yy.data[p] = dy * dy * share * share;
    }
  }
  const [a, b, c] = [xx, xy, yy].map((plane) => boxMean(plane, fine).data);
  const least = xx;
  for (let p = 0; p < a.length; p++) {
    const half = (a[p] - c[p]) / 2;
    least.data[p] = Math.sqrt(Math.max(0, (a[p] + c[p]) / 2 - Math.sqrt(half * half + b[p] * b[p])));
  }
  return boxMean(resizePlane(boxMean(least, 2 * fine), toWidth, toHeight), 1).data;
}

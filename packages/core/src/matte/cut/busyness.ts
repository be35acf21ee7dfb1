import type { OklabPlanes } from '../../colour/oklab';
import { inArenaNow } from '../../runtime/arena';
import { boxMean } from '../../raster/filter';
import { resizePlane } from '../../raster/resize';

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
  // Sums over blocks: what follows looks at windows of blocks.
  const block = Math.max(1, Math.round(Math.max(width, height) / 450));
  const size = { width: Math.ceil(width / block), height: Math.ceil(height / block) };
  const [xx, xy, yy] = [0, 1, 2].map(() => new Float32Array(size.width * size.height));
  inArenaNow((arena) => {
    const sums = [arena.filled(xx.byteLength), arena.filled(xy.byteLength), arena.filled(yy.byteLength)] as const;
    arena.run.sumSlopes(width, height, arena.copyIn(l), block, dim, step, size.width, ...sums);
    [xx, xy, yy].forEach((plane, k) => arena.copyOut(sums[k], plane));
  });
  const [a, b, c] = [xx, xy, yy].map((data) => boxMean({ ...size, data }, 1).data);
  const least = xx;
  for (let p = 0; p < a.length; p++) {
    const half = (a[p] - c[p]) / 2;
    const lesser = (a[p] + c[p]) / 2 - Math.sqrt(half * half + b[p] * b[p]);
    least[p] = Math.sqrt(Math.max(0, lesser)) / block;
  }
  return boxMean(resizePlane(boxMean({ ...size, data: least }, 2), toWidth, toHeight), 1).data;
}

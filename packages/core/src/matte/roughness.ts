import type { OklabPlanes } from '../colour/oklab';
import { boxMean } from '../raster/filter';
import type { Plane } from '../raster/plane';
import { resizePlane } from '../raster/resize';

/**
 * How rough a picture is around each pixel: standard deviation of lightness in 5 × 5 windows, smoothed. Tells
 * wool and leaves from walls of the same colour.
 *
 * @param lab the picture at the size at which its texture is still there
 * @returns a value about 0 to 0.3 at each pixel of the wanted, smaller size
 */
export function roughness(lab: OklabPlanes, width: number, height: number): Float32Array {
  const lightness: Plane = { width: lab.width, height: lab.height, data: lab.l };
  const mean = boxMean(lightness, 2).data;
  const square = boxMean({ ...lightness, data: lab.l.map((v) => v * v) }, 2).data;
  const deviation = { ...lightness, data: mean.map((m, i) => Math.sqrt(Math.max(0, square[i] - m * m))) };
  return boxMean(resizePlane(deviation, width, height), 2).data;
}

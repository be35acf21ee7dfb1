import type { OklabPlanes } from '../colour/oklab';
import { boxMean } from '../raster/filter';
import { resizePlane } from '../raster/resize';

/**
 * How rough a picture is around each pixel: standard deviation of lightness in 5 × 5 windows, smoothed. Tells
 * wool and leaves from walls of the same colour.
 *
 * @param lab the picture at the size at which its texture is still there
 * @returns a value about 0 to 0.3 at each pixel of the wanted, smaller size
 */
export function roughness(lab: OklabPlanes, width: number, height: number): Float32Array {
  const { l } = lab;
  const size = { width: lab.width, height: lab.height };
  const mean = boxMean({ ...size, data: l }, 2).data;
  const squares = new Float32Array(l.length);
  for (let p = 0; p < l.length; p++) squares[p] = l[p] * l[p];
  const deviation = boxMean({ ...size, data: squares }, 2);
  for (let p = 0; p < l.length; p++) deviation.data[p] = Math.sqrt(Math.max(0, deviation.data[p] - mean[p] * mean[p]));
  return boxMean(resizePlane(deviation, width, height), 2).data;
}

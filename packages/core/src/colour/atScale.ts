import type { Picture } from '../raster/plane';
import { resizePicture, scaledSize } from '../raster/resize';
import { straightened } from './premultiplied';
import { fromSamples, type Samples } from './srgb';

/**
 * Samples as a picture of a scale, in linear light, made straight if they were multiplied by their opacity over a colour.
 *
 * @param scale pixels of the result per pixel of the samples, in (0, 1]
 * @param multiplied #rrggbb
 */
export function pictureAtScale(samples: Samples, scale: number, multiplied?: string): Picture {
  const whole = fromSamples(multiplied ? straightened(samples, multiplied) : samples);
  const { width, height } = scaledSize(whole.width, whole.height, scale);
  return resizePicture(whole, width, height);
}

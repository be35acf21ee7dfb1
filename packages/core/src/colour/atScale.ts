import { defaultContext } from '../runtime/context';
import type { Picture } from '../raster/plane';
import { resizeByRows, scaledSize } from '../raster/resize';
import { straightened } from './premultiplied';
import { fromSamples, type Samples } from './srgb';

/**
 * Samples as a picture of a scale, in linear light, made straight if they were multiplied by their opacity over a colour.
 *
 * @param scale pixels of the result per pixel of the samples, in (0, 1]
 * @param multiplied #rrggbb
 * @param context its pool sees a picture that is not reduced
 */
export function pictureAtScale(samples: Samples, scale: number, multiplied?: string, context = defaultContext()): Picture {
  const { width, height, channels, data } = samples;
  const light = (part: Samples): Picture => fromSamples(multiplied ? straightened(part, multiplied) : part, context);
  const size = scaledSize(width, height, scale);
  if (size.width === width && size.height === height) return light(samples);
  // As numbers a large picture takes four times as much as its codes: only so many rows of it are made at a time.
  const row = width * channels;
  const between = (top: number, end: number): Picture =>
    light({ ...samples, height: end - top, data: data.subarray(top * row, end * row) });
  return resizeByRows({ width, height, hasOpacity: channels === 2 || channels === 4, between }, size.width, size.height);
}

import { decodeSrgb, encodedFinely } from '../../colour/srgb';
import type { Picture, Plane } from '../../raster/plane';

/**
 * A grey picture read as opacity: its code values, or its own opacity where it has one that varies. Mattes are kept as
 * greys whose code is the opacity, so the light they were read into is encoded again.
 */
export function matteOfPicture(p: Picture): Plane {
  const { width, height } = p;
  if (p.a?.some((v) => v < 1)) return { width, height, data: p.a };
  return { width, height, data: p.g.map(encodedFinely) };
}

/** Opacity as a grey of that code value, as mattes are shown and kept. */
export function pictureOfMatte(matte: Plane): Picture {
  const light = matte.data.map(decodeSrgb);
  return { width: matte.width, height: matte.height, r: light, g: light, b: light };
}

import { assertSameSize, makePicture, type Picture } from '../raster/plane';

/**
 * One picture over another in linear light, by the upper one's straight opacity (Porter & Duff 1984, over). The
 * only place where light is multiplied by opacity.
 *
 * @param strength scales the upper opacity, 0 to 1
 * @returns opaque when the lower picture is
 * @throws RangeError when sizes differ
 */
export function over(upper: Picture, lower: Picture, strength = 1): Picture {
  assertSameSize(upper, lower, 'laying one picture over another');
  const out = makePicture(lower.width, lower.height, lower.a ? 0 : undefined);
  const n = lower.r.length;
  for (let p = 0; p < n; p++) {
    const a = (upper.a ? upper.a[p] : 1) * strength;
    const below = lower.a ? lower.a[p] * (1 - a) : 1 - a;
    const total = a + below;
    if (out.a) out.a[p] = total;
    const k = total > 0 ? 1 / total : 0;
    out.r[p] = (a * upper.r[p] + below * lower.r[p]) * k;
    out.g[p] = (a * upper.g[p] + below * lower.g[p]) * k;
    out.b[p] = (a * upper.b[p] + below * lower.b[p]) * k;
  }
  return out;
}

import { makePicture, type Picture, type Plane } from '../raster/plane';

/** Haze between the camera and what is far. */
export interface Air {
  /** Share of the air's own light at 100 m, 0 to below 1. */
  haze: number;
  /** #rrggbb, or taken from what stands farthest. */
  colour: string;
}

/** Clear air. */
export const clearAir: Air = { haze: 0, colour: 'auto' };

/**
 * A picture seen through air: contrast falls off exponentially with distance and colour drifts to the air's (Koschmieder
 * 1924). Opacity stays. The very picture when the air is clear.
 *
 * @param distance m, one for all or of each pixel
 * @param colour linear light of the air
 */
export function throughAir(p: Picture, distance: number | Plane, haze: number, colour: readonly number[]): Picture {
  if (haze <= 0) return p;
  const rate = Math.log(1 - Math.min(0.999, haze)) / 100;
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  const even = typeof distance === 'number' ? Math.exp(rate * distance) : 0;
  for (let i = 0; i < p.r.length; i++) {
    const through = typeof distance === 'number' ? even : Math.exp(rate * distance.data[i]);
    out.r[i] = through * p.r[i] + (1 - through) * colour[0];
    out.g[i] = through * p.g[i] + (1 - through) * colour[1];
    out.b[i] = through * p.b[i] + (1 - through) * colour[2];
  }
  return out;
}

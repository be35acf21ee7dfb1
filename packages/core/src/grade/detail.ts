import { luminance } from '../colour/cielab';
import { gaussian } from '../raster/filter';
import { makePlane, pictureOf, planesOf, type Picture, type Plane } from '../raster/plane';

/** How fine detail is changed. Lengths in px of the full-size picture. */
export interface Detail {
  /** Strength, 0 to 3. */
  sharpen: number;
  /** Size of what is sharpened. */
  radius: number;
  /** Standard deviation of the softening. */
  soften: number;
}

/** Detail as it is. */
export const defaultDetail: Detail = { sharpen: 0, radius: 1.2, soften: 0 };

/** A picture softened, then sharpened in lightness only; opacity stays. Returns the very picture when nothing changes. */
export function detailed(p: Picture, { sharpen, radius, soften }: Detail, scale: number, mask?: Plane): Picture {
  if (sharpen === 0 && soften === 0) return p;
  let out = soften > 0 ? softened(p, soften * scale) : p;
  if (sharpen > 0) {
    const light = makePlane(p.width, p.height);
    for (let i = 0; i < light.data.length; i++) light.data[i] = Math.max(0, luminance(out.r[i], out.g[i], out.b[i]));
    const smooth = gaussian(light, Math.max(0.3, radius * scale)).data;
    const channels = planesOf(out).map((c, k) => ({ ...c, data: k < 3 ? c.data.slice() : c.data }));
    for (let i = 0; i < smooth.length; i++) {
      // Twice as bright or half as bright is the most an edge may swing.
      const k = Math.min(2, Math.max(0.5, (light.data[i] + sharpen * (light.data[i] - smooth[i]) + 1e-4) / (light.data[i] + 1e-4)));
      for (let c = 0; c < 3; c++) channels[c].data[i] *= k;
    }
    out = pictureOf(channels);
  }
  if (!mask) return out;
  const mixed = planesOf(out).map((c, k) => {
    const from = planesOf(p)[k].data;
    return k < 3 ? { ...c, data: c.data.map((v, i) => from[i] + mask.data[i] * (v - from[i])) } : c;
  });
  return pictureOf(mixed);
}

/** Colours blurred by a Gaussian, clear parts not reaching in; opacity stays. */
function softened(p: Picture, sigma: number): Picture {
  const a = p.a;
  const under = a && gaussian({ width: p.width, height: p.height, data: a }, sigma).data;
  const channels = planesOf(p).slice(0, 3);
  const smooth = channels.map((c) => {
    const data = gaussian(a ? { ...c, data: c.data.map((v, i) => v * a[i]) } : c, sigma).data;
    return { ...c, data: under ? data.map((v, i) => (under[i] > 1e-4 ? v / under[i] : c.data[i])) : data };
  });
  return { ...pictureOf(smooth), ...(a && { a }) };
}

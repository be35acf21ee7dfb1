import { pause, type Context } from '../context/context';
import { boxMean } from '../raster/filter';
import type { Picture, Plane } from '../raster/plane';

/** Least squared light that counts as structure of the guide. */
const epsilon = 2e-4;

/**
 * A small matte made large with the detail of the large picture: in every window of the small picture opacity is
 * fitted as a linear function of colour, and the coefficients, enlarged smoothly, are applied to the large
 * picture's own colours (guided upsampling; He et al. 2013, He & Sun 2015).
 *
 * @param smallLight the picture at the matte's size, in the light in which mixing is taken as linear
 * @param light the same, large
 * @param small opacity, 0 to 1
 * @param solved 1 for the small pixels whose opacity was solved; elsewhere the matte is simply enlarged
 * @throws AbortError
 */
export async function carryUp(smallLight: Picture, light: Picture, small: Plane, solved: Uint8Array, context: Context): Promise<Plane> {
  const { width: w, height: h } = small;
  const mean = (data: Float32Array): Float32Array => boxMean({ width: w, height: h, data }, 1).data;
  const times = (p: Float32Array, q: Float32Array): Float32Array => p.map((v, i) => v * q[i]);
  const { r, g, b } = smallLight;
  const a = small.data;
  const [mr, mg, mb, ma] = [r, g, b, a].map(mean);
  await pause(context);
  const [rr, rg, rb, gg, gb, bb] = [times(r, r), times(r, g), times(r, b), times(g, g), times(g, b), times(b, b)].map(mean);
  await pause(context);
  const [ra, ga, ba] = [r, g, b].map((c) => mean(times(c, a)));
  await pause(context);
  const n = w * h;
  const lines = [0, 1, 2, 3].map(() => new Float32Array(n));
  for (let i = 0; i < n; i++) {
    const xx = rr[i] - mr[i] * mr[i] + epsilon;
    const xy = rg[i] - mr[i] * mg[i];
    const xz = rb[i] - mr[i] * mb[i];
    const yy = gg[i] - mg[i] * mg[i] + epsilon;
    const yz = gb[i] - mg[i] * mb[i];
    const zz = bb[i] - mb[i] * mb[i] + epsilon;
    const u = ra[i] - mr[i] * ma[i];
    const v = ga[i] - mg[i] * ma[i];
    const t = ba[i] - mb[i] * ma[i];
    const cxx = yy * zz - yz * yz;
    const cxy = xz * yz - xy * zz;
    const cxz = xy * yz - xz * yy;
    const det = xx * cxx + xy * cxy + xz * cxz;
    if (!(det > 0)) {
      lines[3][i] = ma[i];
      continue;
    }
    const sr = (cxx * u + cxy * v + cxz * t) / det;
    const sg = (cxy * u + (xx * zz - xz * xz) * v + (xy * xz - xx * yz) * t) / det;
    const sb = (cxz * u + (xy * xz - xx * yz) * v + (xx * yy - xy * xy) * t) / det;
    lines[0][i] = sr;
    lines[1][i] = sg;
    lines[2][i] = sb;
    lines[3][i] = ma[i] - sr * mr[i] - sg * mg[i] - sb * mb[i];
  }
  await pause(context);
  const [lr, lg, lb, l0] = lines.map(mean);

  const { width, height } = light;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    if ((y & 31) === 0) await pause(context, 'Carrying opacity up', y / height);
    const sy = Math.min(h - 1, Math.max(0, ((y + 0.5) * h) / height - 0.5));
    const y0 = sy | 0;
    const y1 = Math.min(h - 1, y0 + 1);
    const v = sy - y0;
    for (let x = 0; x < width; x++) {
      const sx = Math.min(w - 1, Math.max(0, ((x + 0.5) * w) / width - 0.5));
      const x0 = sx | 0;
      const x1 = Math.min(w - 1, x0 + 1);
      const u = sx - x0;
      const i00 = y0 * w + x0;
      const i01 = y0 * w + x1;
      const i10 = y1 * w + x0;
      const i11 = y1 * w + x1;
      const p = y * width + x;
      const w00 = (1 - u) * (1 - v);
      const w01 = u * (1 - v);
      const w10 = (1 - u) * v;
      const w11 = u * v;
      if (!(solved[i00] || solved[i01] || solved[i10] || solved[i11])) {
        out[p] = a[i00];
        continue;
      }
      const cr = w00 * lr[i00] + w01 * lr[i01] + w10 * lr[i10] + w11 * lr[i11];
      const cg = w00 * lg[i00] + w01 * lg[i01] + w10 * lg[i10] + w11 * lg[i11];
      const cb = w00 * lb[i00] + w01 * lb[i01] + w10 * lb[i10] + w11 * lb[i11];
      const c0 = w00 * l0[i00] + w01 * l0[i01] + w10 * l0[i10] + w11 * l0[i11];
      const t = cr * light.r[p] + cg * light.g[p] + cb * light.b[p] + c0;
      out[p] = t < 0.004 ? 0 : t > 0.996 ? 1 : t;
    }
  }
  return { width, height, data: out };
}

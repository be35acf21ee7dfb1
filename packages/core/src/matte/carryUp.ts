import { encodedQuickly } from '../colour/srgb';
import { pause, type Context } from '../context/context';
import { grownMask } from '../raster/morphology';
import type { Picture, Plane } from '../raster/plane';

/** Least squared light that counts as structure of the guide. */
const epsilon = 2e-4;

/**
 * A small matte made large with the detail of the large picture: in every 3 × 3 window of the small picture opacity is
 * fitted as a linear function of colour, and the coefficients, enlarged smoothly, are applied to the large
 * picture's own colours (guided upsampling; He et al. 2013, He & Sun 2015). Costs what was solved, not the picture.
 *
 * @param smallLight the picture at the matte's size, sRGB-encoded: the light in which mixing is taken as linear
 * @param shot the large picture, linear light
 * @param small opacity, 0 to 1
 * @param solved 1 for the small pixels whose opacity was solved; elsewhere the matte is simply enlarged
 * @throws AbortError
 */
export async function carryUp(smallLight: Picture, shot: Picture, small: Plane, solved: Uint8Array, context: Context): Promise<Plane> {
  const { width: w, height: h, data: a } = small;
  await pause(context, 'Carrying opacity up', 0);
  const lines = smoothed(colourLines(smallLight, a, grownMask(solved, w, h, 3)), w, h, grownMask(solved, w, h, 1.5));
  const { width, height } = shot;
  const out = new Float32Array(width * height);
  const left = new Int32Array(width);
  const share = new Float32Array(width);
  for (let x = 0; x < width; x++) {
    const sx = Math.min(w - 1, Math.max(0, ((x + 0.5) * w) / width - 0.5));
    left[x] = sx | 0;
    share[x] = sx - left[x];
  }
  for (let y = 0; y < height; y++) {
    if ((y & 31) === 0) await pause(context, 'Carrying opacity up', y / height);
    const sy = Math.min(h - 1, Math.max(0, ((y + 0.5) * h) / height - 0.5));
    const y0 = sy | 0;
    const top = y0 * w;
    const low = Math.min(h - 1, y0 + 1) * w;
    const v = sy - y0;
    for (let x = 0; x < width; x++) {
      const x0 = left[x];
      const x1 = x0 + 1 < w ? x0 + 1 : x0;
      const p = y * width + x;
      if (!(solved[top + x0] | solved[top + x1] | solved[low + x0] | solved[low + x1])) {
        out[p] = a[top + x0];
        continue;
      }
      const u = share[x];
      const r = encodedQuickly(shot.r[p]);
      const g = encodedQuickly(shot.g[p]);
      const b = encodedQuickly(shot.b[p]);
      const above = (1 - u) * lineAt(lines, top + x0, r, g, b) + u * lineAt(lines, top + x1, r, g, b);
      const below = (1 - u) * lineAt(lines, low + x0, r, g, b) + u * lineAt(lines, low + x1, r, g, b);
      const t = above + v * (below - above);
      out[p] = t < 0.004 ? 0 : t > 0.996 ? 1 : t;
    }
  }
  return { width, height, data: out };
}

function lineAt(lines: Float32Array, p: number, r: number, g: number, b: number): number {
  const k = 4 * p;
  return lines[k] * r + lines[k + 1] * g + lines[k + 2] * b + lines[k + 3];
}

/** Opacity as a line through colour around each wanted pixel: slopes over r, g, b and the constant, four numbers a pixel. */
function colourLines(light: Picture, a: Float32Array, wanted: Uint8Array): Float32Array {
  const { width, height, r, g, b } = light;
  const lines = new Float32Array(4 * width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (!wanted[p]) continue;
      let [mr, mg, mb, ma] = [0, 0, 0, 0];
      let [rr, rg, rb, gg, gb, bb] = [0, 0, 0, 0, 0, 0];
      let [ra, ga, ba] = [0, 0, 0];
      for (let dy = -1; dy <= 1; dy++) {
        const row = Math.min(height - 1, Math.max(0, y + dy)) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const q = row + Math.min(width - 1, Math.max(0, x + dx));
          // Around the middle pixel, so that little is lost in taking differences.
          const [dr, dg, db, da] = [r[q] - r[p], g[q] - g[p], b[q] - b[p], a[q]];
          mr += dr;
          mg += dg;
          mb += db;
          ma += da;
          rr += dr * dr;
          rg += dr * dg;
          rb += dr * db;
          gg += dg * dg;
          gb += dg * db;
          bb += db * db;
          ra += dr * da;
          ga += dg * da;
          ba += db * da;
        }
      }
      mr /= 9;
      mg /= 9;
      mb /= 9;
      ma /= 9;
      const xx = rr / 9 - mr * mr + epsilon;
      const xy = rg / 9 - mr * mg;
      const xz = rb / 9 - mr * mb;
      const yy = gg / 9 - mg * mg + epsilon;
      const yz = gb / 9 - mg * mb;
      const zz = bb / 9 - mb * mb + epsilon;
      const u = ra / 9 - mr * ma;
      const v = ga / 9 - mg * ma;
      const t = ba / 9 - mb * ma;
      const cxx = yy * zz - yz * yz;
      const cxy = xz * yz - xy * zz;
      const cxz = xy * yz - xz * yy;
      const det = xx * cxx + xy * cxy + xz * cxz;
      const sr = (cxx * u + cxy * v + cxz * t) / det;
      const sg = (cxy * u + (xx * zz - xz * xz) * v + (xy * xz - xx * yz) * t) / det;
      const sb = (cxz * u + (xy * xz - xx * yz) * v + (xx * yy - xy * xy) * t) / det;
      lines[4 * p] = sr;
      lines[4 * p + 1] = sg;
      lines[4 * p + 2] = sb;
      lines[4 * p + 3] = ma - sr * (mr + r[p]) - sg * (mg + g[p]) - sb * (mb + b[p]);
    }
  }
  return lines;
}

/** The lines averaged over 3 × 3 where wanted. */
function smoothed(lines: Float32Array, width: number, height: number, wanted: Uint8Array): Float32Array {
  const out = new Float32Array(lines.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = 4 * (y * width + x);
      if (!wanted[p >> 2]) continue;
      for (let dy = -1; dy <= 1; dy++) {
        const row = Math.min(height - 1, Math.max(0, y + dy)) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const q = 4 * (row + Math.min(width - 1, Math.max(0, x + dx)));
          for (let k = 0; k < 4; k++) out[p + k] += lines[q + k] / 9;
        }
      }
    }
  }
  return out;
}

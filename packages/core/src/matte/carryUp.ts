import { encodedQuickly } from '../colour/srgb';
import type { Context } from '../context/context';
import { seenByAll, sharedFloats, together, type Kernel } from '../context/together';
import { grownMask } from '../raster/morphology';
import { seenPicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { widened } from '../raster/widened';

/** Least squared light that counts as structure of the guide. */
const epsilon = 2e-4;

/** What was carried up before, and from what. */
export interface Carried {
  small: Plane;
  solved: Uint8Array;
  large: Plane;
}

/**
 * A small matte made large with the detail of the large picture: in every 3 × 3 window of the small picture opacity is
 * fitted as a linear function of colour, and the coefficients, enlarged smoothly, are applied to the large
 * picture's own colours (guided upsampling; He et al. 2013, He & Sun 2015). Costs what was solved, not the picture.
 *
 * @param smallLight the picture at the matte's size, sRGB-encoded: the light in which mixing is taken as linear
 * @param shot the large picture, linear light
 * @param small opacity, 0 to 1
 * @param solved 1 for the small pixels whose opacity was solved; elsewhere the matte is simply enlarged
 * @param last another small matte of the same pictures, carried up: only what differs from it is carried, for the same answer
 * @throws AbortError
 */
export async function carryUp(
  smallLight: Picture,
  shot: Picture,
  small: Plane,
  solved: Uint8Array,
  context: Context,
  last?: Carried,
): Promise<Plane> {
  const { width: w, height: h } = small;
  const { width, height } = shot;
  const differs = last && changed(small.data, solved, last);
  if (differs?.includes(1) === false) return last!.large;
  const fitted = grownMask(solved, w, h, 3);
  const averaged = grownMask(solved, w, h, 1.5);
  const out = sharedFloats(width * height, context);
  if (last && differs) {
    // A line is fitted over its neighbours, averaged with theirs, and used from the next pixel.
    keepWithin(fitted, widened(differs, w, h, 4));
    keepWithin(averaged, widened(differs, w, h, 3));
    out.set(last.large.data);
  }
  const job: CarryJob = {
    light: await seenPicture(smallLight, context),
    shot: await seenPicture(withOpacity(shot), context),
    small: { ...small, data: seenByAll(small.data, context) },
    solved,
    ...(differs && { again: widened(differs, w, h, 2) }),
    ...{ fitted, averaged, out },
  };
  await together(carryBand, job, Math.ceil(h / band), context, 'Carrying opacity up');
  return { width, height, data: job.out };
}

/** 1 where a small matte differs from an earlier one. */
function changed(small: Float32Array, solved: Uint8Array, last: Carried): Uint8Array {
  const out = new Uint8Array(solved.length);
  for (let p = 0; p < out.length; p++) if (solved[p] !== last.solved[p] || small[p] !== last.small.data[p]) out[p] = 1;
  return out;
}

function keepWithin(mask: Uint8Array, part: Uint8Array): void {
  for (let p = 0; p < mask.length; p++) mask[p] &= part[p];
}

interface CarryJob {
  light: Picture;
  shot: Picture;
  small: Plane;
  solved: Uint8Array;
  /** 1 for the small pixels around which the matte may be another than the last; everywhere when left out. */
  again?: Uint8Array;
  /** Where colour lines are fitted, and where they are averaged. */
  fitted: Uint8Array;
  averaged: Uint8Array;
  out: Float32Array;
}

/** Rows of the small matte that a thread carries up at a time. */
const band = 32;

/** Carries one band of the small matte up after the other. */
export const carryBand: Kernel<CarryJob> = {
  name: 'carryBand',
  begin({ light, shot, small: { width: w, height: h, data: a }, solved, again, fitted, averaged, out }) {
    const { width, height } = shot;
    const left = new Int32Array(width);
    const share = new Float32Array(width);
    for (let x = 0; x < width; x++) {
      const sx = Math.min(w - 1, Math.max(0, ((x + 0.5) * w) / width - 0.5));
      left[x] = sx | 0;
      share[x] = sx - left[x];
    }
    // Room for the lines of a band and its neighbours, as they are fitted and as they are averaged.
    const fit = new Float32Array(4 * w * (band + 3));
    const lines = new Float32Array(4 * w * (band + 1));
    /** The small row above the middle of a large one, as a number with its fraction. */
    const rowOf = (y: number): number => Math.min(h - 1, Math.max(0, ((y + 0.5) * h) / height - 0.5));
    const firstOf = (row: number): number => {
      let y = Math.max(0, Math.floor((row * height) / h) - 1);
      while (y < height && rowOf(y) < row) y++;
      return y;
    };
    return (part) => {
      const from = part * band;
      const to = Math.min(h, from + band);
      // One row more is looked at from the last large row.
      const until = Math.min(h, to + 1);
      if (again && !again.subarray(from * w, until * w).includes(1)) return;
      const first = Math.max(0, from - 1);
      colourLines(light, a, fitted, first, Math.min(h, until + 1), fit);
      smoothed(fit, first, averaged, w, h, from, until, lines);
      for (let y = firstOf(from), end = to === h ? height : firstOf(to); y < end; y++) {
        const sy = rowOf(y);
        const y0 = sy | 0;
        const top = y0 * w;
        const low = Math.min(h - 1, y0 + 1) * w;
        const v = sy - y0;
        for (let x = 0; x < width; x++) {
          const x0 = left[x];
          const x1 = x0 + 1 < w ? x0 + 1 : x0;
          const p = y * width + x;
          if (again && !(again[top + x0] | again[top + x1] | again[low + x0] | again[low + x1])) continue;
          if (!(solved[top + x0] | solved[top + x1] | solved[low + x0] | solved[low + x1])) {
            out[p] = a[top + x0];
            continue;
          }
          const u = share[x];
          const r = encodedQuickly(shot.r[p]);
          const g = encodedQuickly(shot.g[p]);
          const b = encodedQuickly(shot.b[p]);
          const [above0, below0] = [top - from * w, low - from * w];
          const above = (1 - u) * lineAt(lines, above0 + x0, r, g, b) + u * lineAt(lines, above0 + x1, r, g, b);
          const below = (1 - u) * lineAt(lines, below0 + x0, r, g, b) + u * lineAt(lines, below0 + x1, r, g, b);
          const t = above + v * (below - above);
          out[p] = t < 0.004 ? 0 : t > 0.996 ? 1 : t;
        }
      }
    };
  },
};

function lineAt(lines: Float32Array, p: number, r: number, g: number, b: number): number {
  const k = 4 * p;
  return lines[k] * r + lines[k + 1] * g + lines[k + 2] * b + lines[k + 3];
}

/** Opacity as a line through colour around each wanted pixel of some rows: slopes over r, g, b and the constant, four numbers a pixel. */
function colourLines(light: Picture, a: Float32Array, wanted: Uint8Array, from: number, to: number, lines: Float32Array): void {
  const { width, height, r, g, b } = light;
  for (let y = from; y < to; y++) {
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
      const k = 4 * (p - from * width);
      lines[k] = sr;
      lines[k + 1] = sg;
      lines[k + 2] = sb;
      lines[k + 3] = ma - sr * (mr + r[p]) - sg * (mg + g[p]) - sb * (mb + b[p]);
    }
  }
}

/** Rows `from` up to `to` of the lines, averaged over 3 × 3 where wanted. @param first the row with which the lines begin */
function smoothed(
  lines: Float32Array,
  first: number,
  wanted: Uint8Array,
  width: number,
  height: number,
  from: number,
  to: number,
  out: Float32Array,
): void {
  for (let y = from; y < to; y++) {
    for (let x = 0; x < width; x++) {
      if (!wanted[y * width + x]) continue;
      const p = 4 * ((y - from) * width + x);
      let [a, b, c, d] = [0, 0, 0, 0];
      for (let dy = -1; dy <= 1; dy++) {
        const row = (Math.min(height - 1, Math.max(0, y + dy)) - first) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const q = 4 * (row + Math.min(width - 1, Math.max(0, x + dx)));
          a += lines[q];
          b += lines[q + 1];
          c += lines[q + 2];
          d += lines[q + 3];
        }
      }
      out[p] = a / 9;
      out[p + 1] = b / 9;
      out[p + 2] = c / 9;
      out[p + 3] = d / 9;
    }
  }
}

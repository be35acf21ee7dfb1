import { gaussian } from '../raster/filter';
import type { Looked } from './residueTone';

/** A reflection is looked for so far below the subject's lowest row, units; with less room than this there is none to be seen. */
const mirrorReach = 50;
const mirrorLeast = 12;
/** What is smoother than this, units, says nothing; a pixel says at most so much, encoded. */
const mirrorSmooth = 12;
const mirrorMost = 0.15;
/** Where the mirror begins is tried a few rows up and down; chance is known from the mirror image moved sideways, units. */
const mirrorRows = [-2, -1, 0, 1, 2];
const mirrorSteps = { from: 3, to: 14, each: 9 };
/** From this correlation on, and so many deviations above chance, there is a reflection. */
const mirrorAlike = 0.3;
const mirrorScore = 2.5;

/**
 * Pixels in the subject's reflection in what it stands on: below its lowest row the shot correlates with the subject turned upside down,
 * more than with the same moved sideways.
 *
 * @returns a mask; nothing when there is none
 */
export function mirrorBelow({ matte, outline: { unit }, codes }: Looked): Uint8Array | undefined {
  const { width, height } = matte;
  let bottom = -1;
  for (let p = matte.data.length - 1; p >= 0 && bottom < 0; p--) if (matte.data[p] > 0.5) bottom = Math.floor(p / width);
  const end = Math.min(height - 1, bottom + Math.round(mirrorReach * unit));
  if (bottom < 0 || end - bottom < mirrorLeast * unit) return undefined;
  // Only a band is needed: what is below, and as much above it.
  const top = Math.max(0, bottom - 4 - (end - bottom));
  const from = top * width;
  const size = { width, height: end + 1 - top };
  const cut = (data: Float32Array): Float32Array => data.subarray(from, (end + 1) * width);
  const cover = cut(matte.data);
  const free = { ...size, data: Float32Array.from(cover, (a, p) => (a < 0.01 && p >= (bottom - 4 - top) * width ? 1 : 0)) };
  const weight = gaussian(free, mirrorSmooth * unit).data;
  const bands = codes.map((code) => {
    const data = cut(code);
    const sum = gaussian({ ...size, data: data.map((v, p) => v * free.data[p]) }, mirrorSmooth * unit).data;
    return { data, mean: sum.map((v, p) => v / Math.max(1e-3, weight[p])) };
  });
  const alike = (aside: number, base: number): number => {
    const rows = end - base;
    const image = bands.map(() => new Float32Array(width * rows));
    const under = new Uint8Array(width * rows);
    for (let y = 0; y < rows; y++) {
      const source = base - 1 - y - top;
      if (source < 0) break;
      for (let x = Math.max(0, aside); x < Math.min(width, width + aside); x++) {
        const q = source * width + x - aside;
        const a = cover[q];
        if (a === 0) continue;
        under[y * width + x] = 1;
        const p = (base + 1 + y - top) * width + x;
        bands.forEach(({ data, mean }, c) => (image[c][y * width + x] = a * (data[q] - mean[p])));
      }
    }
    const smooth = image.map((data) => gaussian({ width, height: rows, data }, mirrorSmooth * unit).data);
    let [both, shot, mirrored] = [0, 0, 0];
    for (let y = 0, i = 0; y < rows; y++) {
      const counts = 1 - y / rows;
      for (let x = 0; x < width; x++, i++) {
        const p = (base + 1 + y - top) * width + x;
        if (cover[p] > 0.01) continue;
        for (let c = 0; c < 3; c++) {
          const m = image[c][i] - smooth[c][i];
          if (m === 0) continue;
          const e = Math.max(-mirrorMost, Math.min(mirrorMost, bands[c].data[p] - bands[c].mean[p]));
          both += counts * e * m;
          shot += counts * e * e * (under[i] === 1 ? 1 : 0.3);
          mirrored += counts * m * m;
        }
      }
    }
    return shot > 0 && mirrored > 0 ? both / Math.sqrt(shot * mirrored) : 0;
  };
  const own = Math.max(...mirrorRows.map((row) => alike(0, bottom + row)));
  if (own < mirrorAlike) return undefined;
  const chance: number[] = [];
  for (let k = mirrorSteps.from; k <= mirrorSteps.to; k++) {
    for (const way of [-1, 1]) {
      const aside = way * k * Math.round(mirrorSteps.each * unit);
      chance.push(Math.max(alike(aside, bottom), alike(aside, bottom + 2)));
    }
  }
  const mean = chance.reduce((sum, v) => sum + v, 0) / chance.length;
  const deviation = Math.sqrt(chance.reduce((sum, v) => sum + (v - mean) ** 2, 0) / chance.length);
  if (own - mean < mirrorScore * Math.max(0.02, deviation)) return undefined;
  const mask = new Uint8Array(matte.data.length);
  for (let y = bottom + 1; y <= bottom + 0.7 * (end - bottom); y++) {
    for (let x = 0; x < width; x++) {
      const source = (2 * bottom - y) * width + x;
      if (source >= 0 && matte.data[source] > 0.3 && matte.data[y * width + x] < 0.01) mask[y * width + x] = 1;
    }
  }
  return mask;
}

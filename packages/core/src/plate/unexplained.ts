import { encodedQuickly } from '../colour/srgb';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { eitherOf, maskAt, maskOf } from '../raster/mask';
import { assertSameSize, makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture, resizePlane, scaledSize } from '../raster/resize';
import { unitOf } from './outlineRings';

/** Longest side, px, at which it is looked for. Lengths below are px of a shot 1200 px long. */
const workSide = 900;
/** Opacity from which a pixel is the subject's, from which it is surely so, and up to which it is ground with nothing before it. */
const covered = 0.9;
const sure = 0.95;
const clear = 0.02;
/** So far from what is covered it is looked for; the subject's colours are taken from so far within its edge. */
const reach = 24;
const within = 24;
/** Colours are compared with so many of either side, those of the ground within so far of the middle of a square. */
const subjectSamples = 60;
const groundSamples = 100;
const groundTo = 110;
const square = 24;
const fewest = 12;
/** Of rows and columns of samples one in so many is looked at. */
const every = 2;
/** Colours nearer to each other than this are not told apart: noise, in encoded light. */
const noise = 0.03;
/** A logarithm of squared distances: more than this is evidence. Evidence of neighbours is taken together. */
const enough = 1;
const together = 1.5;
/** Recovered ground is doubted from so far from all ground; bare ground too, if it leans so far to the subject. */
const strangeRecovered = 0.1;
const strangeBare = 0.2;
const leaning = 0.3;

/** Evidence of a squared distance from all ground, which is enough at so great a distance. */
function strangeness(squared: number, from: number): number {
  return (enough * Math.log1p(squared / noise ** 2)) / Math.log1p((from / noise) ** 2);
}

/** Colours at some places, evenly chosen: three codes each, one after another. */
function coloursAt({ r, g, b }: Picture, places: readonly number[], most: number): Float64Array {
  const taken = Math.min(places.length, most);
  const out = new Float64Array(3 * taken);
  for (let i = 0; i < taken; i++) {
    const p = places[Math.floor(((i + 0.5) * places.length) / taken)];
    out[3 * i] = encodedQuickly(r[p]);
    out[3 * i + 1] = encodedQuickly(g[p]);
    out[3 * i + 2] = encodedQuickly(b[p]);
  }
  return out;
}

/** Squared distance to the second nearest of some colours: a single one may be an accident. */
function secondNearest(colours: Float64Array, r: number, g: number, b: number): number {
  let [nearest, second] = [9, 9];
  for (let i = 0; i < colours.length; i += 3) {
    const d = (colours[i] - r) ** 2 + (colours[i + 1] - g) ** 2 + (colours[i + 2] - b) ** 2;
    if (d < nearest) [nearest, second] = [d, nearest];
    else if (d < second) second = d;
  }
  return second;
}

/**
 * What of the ground beside the subject the ground around it does not explain: where the recovered colour of a half-covered pixel occurs
 * nowhere near, and where bare ground that hangs together with the subject has a colour that the subject has there and the ground has not.
 * It is a rim that the matte has left out or thinned, and would be spread over the hole by a fill and around it by a blur. Colours are
 * compared with the nearest of either side, not with means, for both sides have several.
 *
 * @param behind the shot with the subject unmixed from the half-covered pixels
 * @param shot the subject's own colours are taken from it
 * @returns a mask at the matte's size
 * @throws RangeError when sizes differ
 */
export function unexplainedGround(behind: Picture, shot: Picture, matte: Plane): Uint8Array {
  assertSameSize(behind, matte, 'looking for what the ground does not explain');
  assertSameSize(shot, matte, 'looking for what the ground does not explain');
  const { width, height } = scaledSize(matte.width, matte.height, Math.min(1, workSide / Math.max(matte.width, matte.height)));
  const unit = unitOf(width, height);
  const seen = resizePicture(behind, width, height);
  const own = resizePicture(shot, width, height);
  const cover = resizePlane(matte, width, height).data;
  const core = maskOf(cover, (a) => a > covered);
  const away = distanceTo(core, width, height, (groundTo + square) * unit).data;
  const open = maskOf(cover, (a) => a < sure);
  const inwards = distanceTo(open, width, height, within * unit + 1).data;
  const isLookedAt = (p: number): boolean => away[p] > 0 && away[p] <= reach * unit;
  const evidence = makePlane(width, height);
  const told = makePlane(width, height);
  const side = Math.round(square * unit);
  for (let top = 0; top < height; top += side) {
    for (let left = 0; left < width; left += side) {
      const places: number[] = [];
      for (let y = top; y < Math.min(height, top + side); y++)
        for (let x = left, p = y * width + left; x < Math.min(width, left + side); x++, p++) if (isLookedAt(p)) places.push(p);
      if (places.length === 0) continue;
      const [ours, theirs]: number[][] = [[], []];
      const far = Math.ceil(groundTo * unit);
      const near = (reach + within + square) * unit;
      const [x0, y0] = [left + (side >> 1), top + (side >> 1)];
      for (let y = Math.max(0, y0 - far); y < Math.min(height, y0 + far); y += every) {
        for (let x = Math.max(0, x0 - far), p = y * width + x; x < Math.min(width, x0 + far); x += every, p += every) {
          if (cover[p] > sure) {
            if (inwards[p] > 1 && inwards[p] < within * unit && (x - x0) ** 2 + (y - y0) ** 2 < near * near) ours.push(p);
          } else if (away[p] > reach * unit) theirs.push(p);
        }
      }
      if (ours.length < fewest || theirs.length < fewest) continue;
      const subject = coloursAt(own, ours, subjectSamples);
      const ground = coloursAt(seen, theirs, groundSamples);
      for (const p of places) {
        const [r, g, b] = [encodedQuickly(seen.r[p]), encodedQuickly(seen.g[p]), encodedQuickly(seen.b[p])];
        const strange = secondNearest(ground, r, g, b);
        const leans = Math.log((strange + noise ** 2) / (secondNearest(subject, r, g, b) + noise ** 2));
        const isRecovered = cover[p] > clear;
        const doubted = isRecovered || leans > leaning ? strangeness(strange, isRecovered ? strangeRecovered : strangeBare) : leans;
        evidence.data[p] = Math.max(leans, doubted);
        told.data[p] = 1;
      }
    }
  }
  const sums = gaussian(evidence, together * unit).data;
  const weights = gaussian(told, together * unit).data;
  const isUnexplained = maskOf(told.data, (t, p) => t === 1 && sums[p] > enough * weights[p]);
  return maskAt(touching(isUnexplained, core, width), width, height, matte.width, matte.height);
}

/** What of a mask hangs together with another. */
function touching(mask: Uint8Array, core: Uint8Array, width: number): Uint8Array {
  const { label, area } = components(eitherOf(mask, core), width, mask.length / width);
  const hasCore = new Uint8Array(area.length);
  for (let p = 0; p < core.length; p++) if (core[p] === 1) hasCore[label[p]] = 1;
  return maskOf(mask, (m, p) => m === 1 && hasCore[label[p]] === 1);
}

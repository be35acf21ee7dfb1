import { gaussian } from '../raster/filter';
import { indicesWhere } from '../raster/mask';
import { makePlane } from '../raster/plane';
import type { Outline } from './outlineRings';
import { telling, type Looked } from './residueTone';

/**
 * A strand is followed outwards from and to so far, units; what is found the same way farther out is chance. On its way it leans so
 * much, on the mean, from both its sides towards the subject, and in that direction.
 */
const strandBand = [1, 18] as const;
const chanceBand = [26, 43] as const;
const strandLeans = 0.45;
const strandWay = 0.9;
/** Half of what lies between its sides, units. */
const strandSides = 2.5;
/** Clutter is measured so far out, units, and smoothed over so much. */
const clutterFrom = 18;
const clutterOver = 22;
/** Chance that a piece has something like a strand: without clutter, at most, and the clutter at which it is half of that. */
const chanceLeast = 0.01;
const chanceMost = 0.75;
const clutterHalf = 0.035;
/** So many deviations more strands than chance gives are strands; where chance gives a piece this share, none can be told. */
const strandScore = 4;
const tooBusy = 0.18;
/** Where there is hardly any clutter around the whole outline, one strand is enough when it leans so much. */
const alone = 0.85;
const quiet = 0.025;

/**
 * Pixels of single strands of the subject: thin, of its colour, unlike both their sides, from its outline outwards. How many there would be by
 * chance is known from how much of the like there is farther out.
 *
 * @returns a mask; nothing when there are no more than chance gives
 */
export function strandsBeside(looked: Looked): Uint8Array | undefined {
  const { outline } = looked;
  const ridge = ridges(looked);
  const chance = chances(outline, ridge);
  const found = pathsOutwards(outline, ridge, strandBand);
  const { score, expected, clearest } = counted(found, chance);
  if (!(expected < tooBusy)) return undefined;
  const farOut = counted(pathsOutwards(outline, ridge, chanceBand), chance);
  const isAlone = clearest > alone && expected < quiet;
  if (score - Math.max(0, farOut.score) < strandScore && !isAlone) return undefined;
  const mask = new Uint8Array(outline.awayAt.length);
  const { ends, mean } = found;
  for (let s = 0; s < ends.length; s++) {
    if (ends[s] >= 0 && mean[s] > strandLeans && chance[s] < tooBusy) markBack(outline, ridge, ends[s], mask);
  }
  return mask;
}

/** How many pieces have a way like a strand, in deviations from what chance gives; the share that chance gives; and the clearest way. */
function counted({ ends, mean }: Paths, chance: Float64Array): { score: number; expected: number; clearest: number } {
  let [sum, total, expected, told, clearest] = [0, 0, 0, 0, 0];
  for (let s = 0; s < ends.length; s++) {
    if (ends[s] < 0 || Number.isNaN(chance[s])) continue;
    const q = chance[s];
    // A piece counts the more, the rarer it is that it has something of the like.
    sum += ((mean[s] > strandLeans ? 1 : 0) - q) / (q * (1 - q));
    total += 1 / (q * (1 - q));
    expected += q;
    told++;
    clearest = Math.max(clearest, mean[s]);
  }
  return { score: told > 0 ? sum / Math.sqrt(total) : 0, expected: expected / told, clearest };
}

/** By piece: where the best way outwards ends, -1 where the ground is not that wide; and the mean of the ridge along it. */
interface Paths {
  ends: Int32Array;
  mean: Float32Array;
}

/** How much each pixel around the outline leans from both its sides towards the subject; none elsewhere. */
function ridges({ outline, codes, own, matte }: Looked): Float32Array {
  const { width, unit, places, outX, outY } = outline;
  const out = new Float32Array(outline.awayAt.length);
  const sides = strandSides * unit;
  const turns = [-2, -1, 0, 1, 2].map((k) => [Math.cos((k * Math.PI) / 8), Math.sin((k * Math.PI) / 8)]);
  const leaning = (p: number, q: number): number => {
    if (matte.data[q] > 0.01) return 0;
    let [toward, separate, moved] = [0, 0, 0];
    for (let c = 0; c < 3; c++) {
      const way = own[c][p] - codes[c][q];
      const step = codes[c][p] - codes[c][q];
      toward += step * way;
      separate += way * way;
      moved += step * step;
    }
    return separate < telling || toward < strandWay * Math.sqrt(separate * moved) ? 0 : toward / separate;
  };
  for (let i = 0; i < places.length; i++) {
    const p = places[i];
    let best = 0;
    for (const [cos, sin] of turns) {
      const [dx, dy] = [outX[i] * cos - outY[i] * sin, outX[i] * sin + outY[i] * cos];
      const across = Math.round(dx * sides) * width - Math.round(dy * sides);
      const first = leaning(p, p + across);
      if (first > best) best = Math.max(best, Math.min(first, leaning(p, p - across)));
    }
    out[p] = Math.min(1, best);
  }
  return out;
}

/** The best way outwards from each piece, through a band of distances. */
function pathsOutwards(outline: Outline, ridge: Float32Array, [from, to]: readonly [number, number]): Paths {
  const { width, unit, places, away, awayAt, piece, facing } = outline;
  const order = indicesWhere(places.length, (i) => away[i] >= from && away[i] < to).sort((a, b) => away[a] - away[b]);
  const sum = new Float32Array(awayAt.length).fill(-1);
  const ends = new Int32Array(facing.length).fill(-1);
  const mean = new Float32Array(facing.length).fill(-1);
  const long = (to - from) * unit;
  const steps = stepsAround(width);
  for (const i of order) {
    const p = places[i];
    let before = away[i] < from + 1.5 / unit ? 0 : -1;
    for (const step of steps) {
      const q = p + step;
      if (awayAt[q] < awayAt[p] && sum[q] > before) before = sum[q];
    }
    if (before < 0) continue;
    sum[p] = before + ridge[p];
    if (away[i] > to - 1.5 / unit && sum[p] / long > mean[piece[i]]) [mean[piece[i]], ends[piece[i]]] = [sum[p] / long, p];
  }
  return { ends, mean };
}

/** From a pixel to those around it. */
function stepsAround(width: number): number[] {
  return [-1, 1, -width, width, -width - 1, -width + 1, width - 1, width + 1];
}

/** The way back from an end to the outline, one px around it. */
function markBack({ width, awayAt }: Outline, ridge: Float32Array, end: number, mask: Uint8Array): void {
  const steps = stepsAround(width);
  for (let p = end; p >= 0;) {
    mask[p] = 1;
    let next = -1;
    for (const step of steps) {
      const q = p + step;
      if (ridge[q] > 0.5 * strandLeans) mask[q] = 1;
      if (awayAt[q] > 0 && awayAt[q] < awayAt[p] && (next < 0 || ridge[q] > ridge[next])) next = q;
    }
    p = next;
  }
}

/** By piece: the chance that it has something like a strand, from what there is of the like farther out. */
function chances({ width, height, places, away, piece, facing, unit }: Outline, ridge: Float32Array): Float64Array {
  const [like, known] = [makePlane(width, height), makePlane(width, height)];
  for (let i = 0; i < places.length; i++) {
    if (away[i] < clutterFrom) continue;
    like.data[places[i]] = ridge[places[i]];
    known.data[places[i]] = 1;
  }
  const [sum, total] = [like, known].map((plane) => gaussian(plane, clutterOver * unit).data);
  const out = new Float64Array(facing.length);
  const count = new Float64Array(facing.length);
  for (let i = 0; i < places.length; i++) {
    if (away[i] > 12 || total[places[i]] < 0.02) continue;
    out[piece[i]] += sum[places[i]] / total[places[i]];
    count[piece[i]]++;
  }
  return out.map((v, s) => (count[s] > 0 ? chanceOf(v / count[s]) : NaN));
}

function chanceOf(clutter: number): number {
  return chanceLeast + (chanceMost * clutter * clutter) / (clutter * clutter + clutterHalf * clutterHalf);
}

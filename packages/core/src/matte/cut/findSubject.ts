import { pause, type Context } from '../../runtime/context';
import { components } from '../../raster/components';
import { distanceTo } from '../../raster/distance';
import { gaussian } from '../../raster/filter';
import { outlineOf } from '../../raster/outline';
import { fitColourModel, sidesOf, unlikeliness, type Features } from './colourModel';
import { colourEvidence } from './evidence';
import { markedOutside, rasterMarks, type Mark } from './marks';
import type { MatteGround } from '../matte';
import { WholeGraph } from './wholeGraph';
import { indicesWhere, maskOf } from '../../raster/mask';

/** A subject proposed without any marks. */
export interface FoundSubject {
  /** 1 where it is thought to be, at the size of the first cut. */
  label: Uint8Array;
  width: number;
  height: number;
  /** Marks that say the same: to be taken, changed, or dropped. Pixels of the full-size shot. */
  marks: Mark[];
  /** How well it stands apart from its surroundings; only for ranking. */
  score: number;
}

/** How much texture counts against colour in the first guess, from texture alone to colour alone. */
const mixtures = [0.5, 1, 0];
/** Share of the picture taken for subject at first. */
const seedShare = 0.12;
const rounds = 6;
/** Weight of the first guess of place beside a colour's evidence. */
const placeWeight = 0.9;

/**
 * Subjects proposed from the border's colours, from busy texture, and from centrality: a guess by each mixture
 * of these, and by texture anywhere, then colour models and minimum cuts in turn. Not for people only; a proposal, to be taken
 * or dropped.
 *
 * @returns up to four that differ, best first wherever they lie; none when nothing stands out
 * @throws AbortError
 */
export async function findSubject(ground: MatteGround, context: Context): Promise<FoundSubject[]> {
  const { guesses, apart } = firstGuesses(ground.levels[0], [0.5, 0.5], mixtures, [1]);
  return proposed(ground, [...guesses, texture(ground.levels[0])], apart, context);
}

/** How large what is pointed at may be, as shares of what lies in the middle of a picture. */
const pointedSizes = [0.5, 1, 2.2];

/**
 * What a press on a thing means: the same guesses, but around the pressed place, near and far, and only what holds it.
 *
 * @param at pixels of the full-size shot
 * @returns up to three that differ, best first; none when nothing stands apart there
 * @throws AbortError
 */
export async function pointedSubject(ground: MatteGround, at: readonly [number, number], context: Context): Promise<FoundSubject[]> {
  const [lab] = ground.levels;
  const scale = ground.ratios[0] * context.scale;
  const centre: [number, number] = [(at[0] * scale) / lab.width, (at[1] * scale) / lab.height];
  const { guesses, apart } = firstGuesses(lab, centre, [0.4], pointedSizes);
  const pressed = rasterMarks([{ kind: 'inside', radius: 0.012 * (lab.width / scale), points: [at] }], lab.width, lab.height, scale);
  return proposed(ground, guesses, apart, context, pressed);
}

/** Colour models and cuts in turn from each guess; those that differ, best first. */
async function proposed(
  ground: MatteGround,
  guesses: Float32Array[],
  apart: Float32Array,
  context: Context,
  pressed?: Uint8Array,
): Promise<FoundSubject[]> {
  const [lab] = ground.levels;
  const { width, height } = lab;
  const whole = new WholeGraph(lab, ground.cuts.steepness[0]);
  const found: FoundSubject[] = [];
  for (const [i, guess] of guesses.entries()) {
    await pause(context, 'Looking for the subject', i / guesses.length);
    const label = mainParts(await settle(lab, whole, guess, context, pressed), width, height);
    const area = label.reduce((sum, v) => sum + v, 0) / label.length;
    if (area < 0.004 || area > 0.75) continue;
    if (found.some((f) => overlap(f.label, label) > 0.8)) continue;
    const marks = marksFor(label, width, height, ground.ratios[0] * context.scale);
    if (marks.length > 0)
      found.push({
        label,
        width,
        height,
        marks,

        score: standsApart(apart, label, width, height),
      });
  }
  return found.sort((a, b) => b.score - a.score);
}

/** Values brought to 0…1 between their 5th and 98th hundredth. */
function normalised(values: Float32Array): Float32Array {
  const sorted = Float32Array.from(values).sort();
  const low = sorted[Math.floor(0.05 * sorted.length)];
  const high = sorted[Math.floor(0.98 * sorted.length)];
  return values.map((v) => Math.min(1, Math.max(0, (v - low) / (high - low + 1e-6))));
}

/** How busy each pixel's surroundings are, 0 to 1. */
function texture({ width, height, busy }: Features): Float32Array {
  return normalised(gaussian({ width, height, data: busy ?? new Float32Array(width * height) }, 0.02 * width).data);
}

/**
 * Where a subject may be; and how much each pixel differs from the rim in colour and from smooth ground in texture, wherever it lies.
 *
 * @param middle where it is thought to lie, shares of width and height
 * @param sizes how large it may be, shares of the usual
 */
function firstGuesses(
  lab: Features,
  middle: readonly [number, number],
  mixtures: readonly number[],
  sizes: readonly number[],
): { guesses: Float32Array[]; apart: Float32Array } {
  const { width, height } = lab;
  const n = width * height;
  const colours = fitColourModel(lab, rimOf(width, height), 8);
  const { l, a, b, busy } = lab;
  const unlike = Float32Array.from({ length: n }, (_, p) =>
    Math.min(60, Math.max(0, unlikeliness(colours, l[p], a[p], b[p], busy ? busy[p] : 0, 40) + 20)),
  );
  const busyAround = texture(lab);
  const colour = normalised(gaussian({ width, height, data: unlike }, 0.012 * width).data);
  const central = (p: number, size: number): number => {
    const x = ((p % width) + 0.5) / width - middle[0];
    const y = (Math.floor(p / width) + 0.5) / height - middle[1];
    return Math.exp(-(x * x) / (0.06 * size) - (y * y) / (0.08 * size));
  };
  const guesses = sizes.flatMap((size) => mixtures.map((m) => busyAround.map((t, p) => (m * t + (1 - m) * colour[p]) * central(p, size))));
  return { guesses, apart: busyAround.map((t, p) => (t + colour[p]) / 2) };
}

/** Pixels within a twentieth of the shorter side from the picture's rim. */
function rimOf(width: number, height: number): Int32Array {
  const rim = Math.max(1, Math.round(Math.min(width, height) / 20));
  const out: number[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) if (Math.min(x, y, width - 1 - x, height - 1 - y) < rim) out.push(y * width + x);
  }
  return Int32Array.from(out);
}

/** Colour models and cuts in turn, from a first guess of place. */
async function settle(lab: Features, whole: WholeGraph, guess: Float32Array, context: Context, pressed?: Uint8Array): Promise<Uint8Array> {
  const { width, height } = lab;
  const limit = Float32Array.from(guess).sort()[Math.floor((1 - seedShare) * guess.length)];
  const seeds = pressed?.slice() ?? new Uint8Array(guess.length);
  for (const p of rimOf(width, height)) if (guess[p] < limit && !seeds[p]) seeds[p] = markedOutside;
  const place = guess.map((v) => placeWeight * Math.tanh((1.5 * (v - limit)) / (limit + 1e-6)));
  let inside = indicesWhere(guess.length, (p) => guess[p] >= limit);
  let outside = indicesWhere(guess.length, (p) => guess[p] < 0.45 * limit);
  let label: Uint8Array = new Uint8Array(guess.length);
  for (let round = 0; round < rounds && inside.length >= 50 && outside.length >= 50; round++) {
    const strength = round === 0 ? 2 : 1;
    const before = label;
    const models = await sidesOf(lab, inside, outside, context, [8, 14]);
    const weighed = place.map((v) => strength * v);
    label = await whole.cut(seeds, await colourEvidence(lab, models, context), weighed, context);
    // Hardly a pixel in five hundred has changed: it has settled.
    if (label.reduce((sum, v, p) => sum + (v === before[p] ? 0 : 1), 0) < label.length / 500) break;
    inside = indicesWhere(label.length, (p) => label[p] === 1);
    outside = indicesWhere(label.length, (p) => label[p] === 0);
  }
  return label;
}

/** The largest region, and others at least a fifth as large. */
function mainParts(label: Uint8Array, width: number, height: number): Uint8Array {
  const found = components(label, width, height);
  const largest = Math.max(...found.area.slice(1), 0);
  return label.map((v, p) => (v && found.area[found.label[p]] >= largest / 5 ? 1 : 0));
}

function overlap(a: Uint8Array, b: Uint8Array): number {
  let [both, any] = [0, 0];
  for (let p = 0; p < a.length; p++) {
    both += a[p] & b[p];
    any += a[p] | b[p];
  }
  return any > 0 ? both / any : 0;
}

/** How many times as much is said for what lies along the border inside as for what lies along it outside. */
function standsApart(guess: Float32Array, label: Uint8Array, width: number, height: number): number {
  const reach = 0.04 * Math.max(width, height);
  const fromIt = distanceTo(label, width, height, reach + 1).data;
  const fromRest = distanceTo(
    label.map((v) => 1 - v),
    width,
    height,
    reach + 1,
  ).data;
  let [inside, nIn, outside, nOut] = [0, 0, 0, 0];
  for (let p = 0; p < label.length; p++) {
    if (label[p] && fromRest[p] <= reach) {
      inside += guess[p];
      nIn++;
    } else if (!label[p] && fromIt[p] <= reach) {
      outside += guess[p];
      nOut++;
    }
  }
  return nIn && nOut ? inside / nIn / (outside / nOut + 1e-6) : 0;
}

/** Points of a picture in px of the full-size one, to a tenth. */
export function inFullSize(points: [number, number][], scale: number): [number, number][] {
  return points.map(([x, y]) => [Math.round((x / scale) * 10) / 10, Math.round((y / scale) * 10) / 10]);
}

/** Inside marks over the middle of each region, and an outside mark around it. */
function marksFor(label: Uint8Array, width: number, height: number, scale: number): Mark[] {
  const outwards = distanceTo(label, width, height).data;
  const inwards = distanceTo(
    label.map((v) => 1 - v),
    width,
    height,
  ).data;
  const around = 0.03 * Math.max(width, height);
  const marks: Mark[] = [];
  const hull = maskOf(outwards, (d) => d <= around);
  for (const [points] of regionOutlines(hull, width, height)) {
    const away = points.filter(([x, y]) => Math.min(x, y, width - x, height - y) > 2);
    if (away.length > 2) marks.push({ kind: 'outside', radius: Math.max(2, 2 / scale), points: inFullSize([...points, points[0]], scale) });
  }
  const deepest = inwards.reduce((most, v) => Math.max(most, v), 0);
  const core = maskOf(inwards, (d) => d > Math.min(3, deepest / 2));
  for (const [points, area] of regionOutlines(core, width, height)) {
    if (area >= 6) marks.push({ kind: 'inside', radius: 0.5 / scale, points: inFullSize(points, scale), filled: true });
  }
  return marks.some((m) => m.kind === 'inside') ? marks : [];
}

/** Outline and area of each region of a mask. */
export function regionOutlines(mask: Uint8Array, width: number, height: number): [[number, number][], number][] {
  const { label, area } = components(mask, width, height);
  const seen = new Uint8Array(area.length);
  const out: [[number, number][], number][] = [];
  for (let p = 0; p < label.length; p++) {
    const id = label[p];
    if (id === 0 || seen[id]) continue;
    seen[id] = 1;
    const belongs = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < width && y < height && label[y * width + x] === id;
    out.push([outlineOf(belongs, [p % width, Math.floor(p / width)], 0.7), area[id]]);
  }
  return out;
}

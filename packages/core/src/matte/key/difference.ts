import { encodedLight } from '../../colour/perceived';
import { pause, type Context } from '../../runtime/context';
import { sharedFloats } from '../../runtime/parallelFor';
import { components } from '../../raster/components';
import { distanceTo } from '../../raster/distance';
import { maskOf } from '../../raster/mask';
import { seenPicture, type Picture, type Plane } from '../../raster/plane';
import { guessFromPairs, type Guess } from '../opacity/colourPairs';
import { surelyIn, surelyOut, undecided } from '../band/trimap';
import { compared, evidenceOf, inItsLight, unexplainedBy, type Comparison } from './comparison';

/** How strict the comparison with the photographed plate is. */
export interface DifferenceParams {
  /** How many times the measured noise a pixel must differ before it can be subject, 1 to 20. */
  threshold: number;
}

/** What the comparison says before opacity is solved. */
export interface Difference {
  /** One of `surelyOut`, `undecided`, `surelyIn` a pixel. */
  trimap: Uint8Array;
  guess: Guess;
  /** 1 where something else than the plate is seen, holes filled. */
  body: Uint8Array;
  /** Standard deviation of what differs without a subject, in encoded light (1 = white). */
  noise: number;
}

/**
 * Subject and background from a shot and a photograph of the same scene without the subject, aligned and of the same
 * exposure. Pixels are compared in encoded light against noise measured from the pictures themselves; a cast
 * shadow, which darkens the plate's texture but keeps it, is not subject. Opacity is then guessed from the plate, in the
 * light that falls on it in the shot, and colours of the subject from around; where no such mixture comes near, the
 * subject has a colour of its own there and covers the plate.
 *
 * @param light the shot, encoded
 * @param plate the aligned plate, linear, of the same size
 * @param seen where the plate has something to show
 * @param cut the subject as the scene's contours and the user's marks have it under this evidence (positive: inside), of the shot's size
 * @throws AbortError
 */
export async function compareWithPlate(
  light: Picture,
  plate: Picture,
  seen: Plane,
  params: DifferenceParams,
  context: Context,
  cut?: (evidence: Float32Array) => Promise<Uint8Array>,
): Promise<Difference> {
  const { width, height } = light;
  const n = width * height;
  const comparison = await comparedWith(light, plate, seen, context);
  const { around, factor, noise } = comparison;
  const shaded = new Uint8Array(n);
  const differs = new Uint8Array(n);
  const strongly = new Uint8Array(n);
  const limit = 3 * (params.threshold * noise) ** 2;
  for (let p = 0; p < n; p++) {
    if (factor[p] > 0) shaded[p] = 1;
    if (!seen.data[p] || shaded[p]) continue;
    if (around[p] > limit * 0.5) differs[p] = 1;
    if (around[p] > Math.max(limit * 4, 0.012)) strongly[p] = 1;
  }
  const real = withoutCrumbs(differs, strongly, width, height, 12);
  const found = filled(real, around, shaded, 3 * noise ** 2, width, height);
  const whole = await cut?.(evidenceOf(comparison, seen, params.threshold));
  const body = whole ? withWhole(found, whole, width, height) : found;
  const trimap = openOrSure(comparison, body);
  await pause(context, 'Comparing with the plate', 0.7);
  return { trimap, body, guess: await guessBeforePlate(comparison, trimap, context), noise };
}

/**
 * A shot beside a picture of the ground alone.
 *
 * @param light the shot, encoded
 * @param plate the aligned ground, linear, of the same size
 * @param seen where it has something to show
 * @throws AbortError
 */
export async function comparedWith(light: Picture, plate: Picture, seen: Plane, context: Context): Promise<Comparison> {
  return compared(await seenPicture(light, context), await encodedLight(plate, context), seen, context);
}

/**
 * A first opacity before known ground: see `compareWithPlate`.
 *
 * @throws AbortError
 */
export async function guessBeforePlate(comparison: Comparison, trimap: Uint8Array, context: Context): Promise<Guess> {
  const { light } = comparison;
  const known = sharedFloats(trimap.length, context);
  const open = sharedFloats(trimap.length, context);
  for (let p = 0; p < trimap.length; p++) {
    if (trimap[p] === surelyOut) known[p] = 1;
    else if (trimap[p] === undecided) open[p] = 1;
  }
  const lit = await inItsLight(comparison, known, context);
  const guess = await guessFromPairs(light, trimap, context, undefined, lit);
  const bare = await unexplainedBy(lit, light, open, guess.left!, context);
  for (let p = 0; p < bare.length; p++) if (bare[p]) [guess.opacity.data[p], guess.trust.data[p]] = [1, coveredTrust];
  return guess;
}

/** How far it is believed that what no mixture explains covers the plate. */
const coveredTrust = 0.2;

/** What lies so far within the whole cut is subject whatever the comparison says, px. */
const wellWithin = 1.5;

/** What differs, and all that lies well within the subject as it was cut. */
function withWhole(body: Uint8Array, whole: Uint8Array, width: number, height: number): Uint8Array {
  const inward = distanceTo(maskOf(whole, (v) => v === 0), width, height, 4).data; // prettier-ignore
  return body.map((v, p) => (v || inward[p] > wellWithin ? 1 : 0));
}

/** How deep the subject may be wool, through which the plate is seen, px. */
const woolly = 14;
/** Of a gap: at most the picture's pixels over this. Around such a one, which may be chance, wool is not looked for. */
const small = 4000;

/**
 * What is sure and what is open of a subject that was cut before known ground: what is smooth and plainly other than the plate is sure
 * from three pixels inwards, the rest from as deep as wool goes.
 *
 * @param body 1 inside, else 0
 */
export function openOrSure({ light, plain }: Comparison, body: Uint8Array): Uint8Array {
  const { width, height } = light;
  const gaps = maskOf(body, (v) => v === 0);
  const found = components(gaps, width, height);
  const wide = found.area.map((area, region) => region > 0 && area > body.length / small);
  const fromWide = distanceTo(maskOf(found.label, (region) => wide[region]), width, height, woolly + 1).data; // prettier-ignore
  const inward = distanceTo(gaps, width, height, 3).data;
  const outward = distanceTo(body, width, height, 3).data;
  const out = new Uint8Array(body.length);
  for (let p = 0; p < out.length; p++) {
    if (!body[p]) out[p] = outward[p] <= 2 ? undecided : surelyOut;
    else out[p] = inward[p] > 2.5 && (plain[p] || fromWide[p] > woolly) ? surelyIn : undecided;
  }
  return out;
}

/** Only regions that hold enough strongly different pixels. */
function withoutCrumbs(differs: Uint8Array, strongly: Uint8Array, width: number, height: number, least: number): Uint8Array {
  const found = components(differs, width, height);
  const strength = new Int32Array(found.area.length);
  for (let p = 0; p < strongly.length; p++) if (strongly[p]) strength[found.label[p]]++;
  return differs.map((v, p) => (v && strength[found.label[p]] >= least ? 1 : 0));
}

/**
 * Fills holes where the subject happens to look like the plate: up to 1/400 of the picture, and less like the plate on the
 * whole than noise would make them. What shows the plate, lit or in shadow, is a real hole.
 */
function filled(mask: Uint8Array, away: Float32Array, shaded: Uint8Array, expected: number, width: number, height: number): Uint8Array {
  const gaps = components(
    mask.map((v) => 1 - v),
    width,
    height,
  );
  const sum = new Float64Array(gaps.area.length);
  const dark = new Int32Array(gaps.area.length);
  gaps.label.forEach((g, p) => {
    sum[g] += away[p];
    dark[g] += shaded[p];
  });
  const n = width * height;
  const coincidence = gaps.area.map(
    (area, g) => g > 0 && (area <= n / 20_000 || (area <= n / 400 && dark[g] < area / 3 && sum[g] / area > 2.5 * expected)),
  );
  return mask.map((v, p) => (v || coincidence[gaps.label[p]] ? 1 : 0));
}

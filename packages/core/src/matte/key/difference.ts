import { encodedLight } from '../../colour/perceived';
import { pause, type Context } from '../../runtime/context';
import { components } from '../../raster/components';
import { distanceTo } from '../../raster/distance';
import { boxMean, gaussian } from '../../raster/filter';
import { makePlane, type Picture, type Plane } from '../../raster/plane';
import { rankOf } from '../../raster/rank';
import { pushPull } from '../../raster/pushPull';
import { guessFromPairs, type Guess, type PairGuess } from '../opacity/colourPairs';
import { surelyIn, surelyOut, undecided } from '../band/trimap';
import { maskOf, numbersOf, weightOf } from '../../raster/mask';

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
  const behind = await encodedLight(plate, context);
  const away = apart(light, behind);
  const noise = Math.max(0.004, typicalNoise(light, behind, seen));
  await pause(context, 'Comparing with the plate', 0.3);

  // A small window, so that single noisy pixels are no subject and thin strands still are.
  const around = gaussian(away, 0.7).data;
  const { factor: dark, certain } = shadowed(light, behind, noise);
  const shaded = Uint8Array.from(dark, (f) => (f > 0 ? 1 : 0));
  const differs = new Uint8Array(n);
  const strongly = new Uint8Array(n);
  const limit = 3 * (params.threshold * noise) ** 2;
  for (let p = 0; p < n; p++) {
    if (!seen.data[p] || shaded[p]) continue;
    if (around[p] > limit * 0.5) differs[p] = 1;
    if (around[p] > Math.max(limit * 4, 0.012)) strongly[p] = 1;
  }
  const real = withoutCrumbs(differs, strongly, width, height, 12);
  const found = filled(real, around, shaded, 3 * noise ** 2, width, height);
  const whole = await cut?.(evidenceOf(around, dark, certain, seen, params.threshold, noise));
  const body = whole ? withWhole(found, whole, width, height) : found;
  const trimap = openOrSure(light, body, away.data);
  await pause(context, 'Comparing with the plate', 0.7);
  return { trimap, body, guess: await guessBeforePlate(light, plate, trimap, context), noise };
}

/**
 * What a picture of the ground alone says for inside (positive) a pixel of a shot, where nothing else is known.
 *
 * @param light the shot, encoded
 * @param plate the aligned ground, linear, of the same size
 * @param seen where it has something to show
 * @throws AbortError
 */
export async function plateEvidence(
  light: Picture,
  plate: Picture,
  seen: Plane,
  { threshold }: DifferenceParams,
  context: Context,
): Promise<Float32Array> {
  const behind = await encodedLight(plate, context);
  const noise = Math.max(0.004, typicalNoise(light, behind, seen));
  const { factor, certain } = shadowed(light, behind, noise);
  return evidenceOf(gaussian(apart(light, behind), 0.7).data, factor, certain, seen, threshold, noise);
}

/**
 * What is sure and what is open of a subject that was cut before known ground: see `compareWithPlate`.
 *
 * @param body 1 inside, else 0
 * @throws AbortError
 */
export async function stateBeforePlate(light: Picture, plate: Picture, body: Uint8Array, context: Context): Promise<Uint8Array> {
  return openOrSure(light, body, apart(light, await encodedLight(plate, context)).data);
}

/**
 * A first opacity before known ground: see `compareWithPlate`.
 *
 * @throws AbortError
 */
export async function guessBeforePlate(light: Picture, plate: Picture, trimap: Uint8Array, context: Context): Promise<Guess> {
  const lit = await inItsLight(light, await encodedLight(plate, context), trimap, context);
  return coveredWhereUnexplained(await guessFromPairs(light, trimap, context, undefined, lit), trimap, light, lit);
}

/** Evidence by standard deviation beyond the threshold, its ends, and where a shadow or a dark subject may be. */
const perDeviation = 5;
const [leastEvidence, mostEvidence] = [-16, 6];
const deepShade = 0.45;
/** What lies so far within the whole cut is subject whatever the comparison says, px. */
const wellWithin = 1.5;
const [inShade, inDeepShade] = [-1, -0.3];

/** What the comparison says for inside: much where the plate is plainly not seen, a little against where it may be. */
function evidenceOf(
  around: Float32Array,
  dark: Float32Array,
  certain: Uint8Array,
  seen: Plane,
  threshold: number,
  noise: number,
): Float32Array {
  return numbersOf(around, (v, p) => {
    if (seen.data[p] < 0.5) return 0;
    if (certain[p]) return leastEvidence;
    // Dark may be the subject or its shadow: contours tell.
    if (dark[p] > 0) return dark[p] < deepShade ? inDeepShade : inShade;
    const deviations = Math.sqrt(v / 3) / noise;
    return Math.max(leastEvidence, Math.min(mostEvidence, perDeviation * (deviations - threshold)));
  });
}

/** What differs, and all that lies well within the subject as it was cut. */
function withWhole(body: Uint8Array, whole: Uint8Array, width: number, height: number): Uint8Array {
  const inward = distanceTo(maskOf(whole, (v) => v === 0), width, height, 4).data; // prettier-ignore
  return body.map((v, p) => (v || inward[p] > wellWithin ? 1 : 0));
}

const channels = ['r', 'g', 'b'] as const;

/** Squared distance of two pictures' colours. */
function apart(p: Picture, q: Picture): Plane {
  const out = makePlane(p.width, p.height);
  for (const c of channels) for (let i = 0; i < out.data.length; i++) out.data[i] += (p[c][i] - q[c][i]) ** 2;
  return out;
}

/** How deep the subject may be wool, through which the plate is seen, px. */
const woolly = 14;
/** Of a gap: at most the picture's pixels over this. Around such a one, which may be chance, wool is not looked for. */
const small = 4000;
/** Squared light by which a pixel that shows no plate differs from it; and the share of such pixels around that makes a body. */
const plainlyOther = 0.02;
const bodyShare = 0.7;
/** Standard deviation of encoded light on what is smooth. */
const smooth = 0.06;

/** Smooth and plainly other than the plate is sure from three pixels inwards, the rest from as deep as wool goes. */
function openOrSure(light: Picture, body: Uint8Array, away: Float32Array): Uint8Array {
  const { width, height, g } = light;
  const gaps = maskOf(body, (v) => v === 0);
  const found = components(gaps, width, height);
  const wide = maskOf(found.label, (g) => g > 0 && found.area[g] > body.length / small);
  const inward = distanceTo(gaps, width, height).data;
  const fromWide = distanceTo(wide, width, height, woolly + 1).data;
  const outward = distanceTo(body, width, height, 3).data;
  const mean = (data: Float32Array, radius: number): Float32Array => boxMean({ width, height, data }, radius).data;
  const other = mean(
    weightOf(away, (v) => v > plainlyOther),
    3,
  );
  const level = mean(g, 2);
  const power = mean(
    numbersOf(g, (v) => v * v),
    2,
  );
  const plain = (p: number): boolean => other[p] > bodyShare && power[p] - level[p] ** 2 < smooth ** 2;
  const sure = (p: number): boolean => inward[p] > 2.5 && (fromWide[p] > woolly || plain(p));
  const out = new Uint8Array(body.length);
  for (let p = 0; p < out.length; p++) {
    if (!body[p]) out[p] = outward[p] <= 2 ? undecided : surelyOut;
    else out[p] = sure(p) ? surelyIn : undecided;
  }
  return out;
}

/** The plate in the light that falls on it in the shot: a shadow that the subject casts goes on behind its edge. */
async function inItsLight(light: Picture, behind: Picture, trimap: Uint8Array, context: Context): Promise<Picture> {
  const { width, height } = light;
  const known = weightOf(trimap, (s) => s === surelyOut);
  const mean = (p: Float32Array, q: Float32Array): Float32Array =>
    boxMean({ width, height, data: numbersOf(known, (k, i) => k * p[i] * q[i]) }, 2).data;
  const lit = async (c: 'r' | 'g' | 'b'): Promise<Float32Array> => {
    await pause(context, 'Comparing with the plate', 0.8);
    const own = mean(behind[c], behind[c]);
    const factor = numbersOf(mean(light[c], behind[c]), (v, i) => Math.min(1.1, Math.max(0.1, (v + 1e-4) / (own[i] + 1e-4))));
    const [spread] = pushPull([{ width, height, data: factor }], { width, height, data: known });
    const ground = behind[c];
    return numbersOf(spread.data, (v, i) => v * ground[i]);
  };
  return { width, height, r: await lit('r'), g: await lit('g'), b: await lit('b') };
}

/** Light that mixtures leave unexplained where the subject has a colour that was not found around. */
const unexplained = 0.08;
/** Least mean distance from the plate there, however bright it is: shadows are not known well behind the edge. */
const offPlate = 0.1;
const [darkest, brightest] = [0.6, 1.3];

/** The guess with opaque in place of mixtures that come nowhere near, on a pixel's own and on the mean around it. */
function coveredWhereUnexplained({ opacity, trust, left }: PairGuess, trimap: Uint8Array, light: Picture, lit: Picture): Guess {
  const { width, height } = opacity;
  const mean = (data: Float32Array): Float32Array => boxMean({ width, height, data }, 2).data;
  const off = mean(
    numbersOf(lit.r, (r, p) => {
      const [g, b] = [lit.g[p], lit.b[p]];
      const fits = (light.r[p] * r + light.g[p] * g + light.b[p] * b) / Math.max(1e-6, r * r + g * g + b * b);
      const t = Math.min(brightest, Math.max(darkest, fits));
      return Math.sqrt((light.r[p] - t * r) ** 2 + (light.g[p] - t * g) ** 2 + (light.b[p] - t * b) ** 2);
    }),
  );
  const open = mean(weightOf(trimap, (s) => s === undecided));
  const around = mean(left!);
  const out: Guess = { opacity: { ...opacity, data: opacity.data.slice() }, trust: { ...trust, data: trust.data.slice() } };
  for (let p = 0; p < trimap.length; p++) {
    if (trimap[p] !== undecided || left![p] < unexplained || around[p] < unexplained * open[p] || off[p] < offPlate) continue;
    out.opacity.data[p] = 1;
    out.trust.data[p] = 0.2;
  }
  return out;
}

/** Share of a shadow's light that its factors need not explain: bumps are lit from another side there. */
const mostLeft = 0.1;
/** The plate's texture is seen through a shadow when it has so many times the noise's energy, and correlates so well. */
const textured = 12;
const likeTexture = 0.8;

/** Robust standard deviation of the difference a channel: most of the picture shows the same thing. */
function typicalNoise(light: Picture, behind: Picture, seen: Plane): number {
  const found = new Float64Array(light.g.length);
  const step = Math.max(1, Math.floor(light.g.length / 100_000));
  let count = 0;
  for (let p = 0; p < light.g.length; p += step) if (seen.data[p]) found[count++] = Math.abs(light.g[p] - behind.g[p]);
  // The lower half, because a subject may cover up to half of the picture: its median is the quartile of |x|.
  return count === 0 ? 0 : rankOf(found.subarray(0, count), Math.floor(0.25 * count)) / 0.3186;
}

/**
 * How much light is left, and whether the plate's texture is certainly seen, where the shot is the plate only darker, 0 elsewhere: 5 × 5 windows explained by one factor a channel below 1. A shadow is lit by
 * what the lamp does not reach, the sky or the room, so blue falls no more than green and green no more than red.
 */
function shadowed(light: Picture, behind: Picture, noise: number): { factor: Float32Array; certain: Uint8Array } {
  const { width, height } = light;
  const blurred = (p: Float32Array): Float32Array => boxMean({ width, height, data: p }, 2).data;
  const mean = (p: Float32Array, q: Float32Array): Float32Array =>
    boxMean({ width, height, data: numbersOf(p, (v, i) => v * q[i]) }, 2).data;
  const sides = channels.map((c) => ({
    both: mean(light[c], behind[c]),
    own: mean(behind[c], behind[c]),
    seen: mean(light[c], light[c]),
    here: blurred(light[c]),
    there: blurred(behind[c]),
  }));
  const out = new Float32Array(width * height);
  const certain = new Uint8Array(width * height);
  for (let p = 0; p < out.length; p++) {
    let left = 0;
    let [own2, seen2, both2] = [0, 0, 0];
    let [least, before, fits] = [1, 0, true];
    for (const { both, own, seen, here, there } of sides) {
      own2 += own[p] - there[p] ** 2;
      seen2 += seen[p] - here[p] ** 2;
      both2 += both[p] - here[p] * there[p];
      const factor = both[p] / Math.max(1e-6, own[p]);
      left += (seen[p] - factor * both[p]) / Math.max(1e-6, seen[p]);
      least = Math.min(least, factor);
      fits &&= factor < 1 && factor > before - 0.06;
      before = factor;
    }
    if (fits && least > 0.2 && left < 3 * mostLeft) {
      out[p] = least;
      // The plate's own texture, only darker.
      const texture = least ** 2 * own2;
      if (texture > textured * noise ** 2 && both2 > likeTexture * Math.sqrt(Math.max(0, own2 * seen2))) certain[p] = 1;
    }
  }
  return { factor: out, certain };
}

/** Only regions that hold enough strongly different pixels. */
function withoutCrumbs(differs: Uint8Array, strongly: Uint8Array, width: number, height: number, least: number): Uint8Array {
  const found = components(differs, width, height);
  const strength = new Int32Array(found.area.length);
  strongly.forEach((s, p) => s && strength[found.label[p]]++);
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

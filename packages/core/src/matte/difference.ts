import { encodeQuickly } from '../colour/srgb';
import { pause, type Context } from '../context/context';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { boxMean, gaussian } from '../raster/filter';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import type { Guess } from './colourPairs';
import { surelyIn, surelyOut, undecided } from './undecided';
import { weightOf } from '../raster/mask';

/** How strict the comparison with the photographed plate is. */
export interface DifferenceParams {
  /** How many times the measured noise a pixel must differ before it can be subject, 1 to 20. */
  threshold: number;
}

/** What the comparison says before opacity is solved. */
export interface Difference {
  /** One of `surelyOut`, `undecided`, `surelyIn` a pixel. */
  state: Uint8Array;
  guess: Guess;
  /** Standard deviation of what differs without a subject, in encoded light (1 = white). */
  noise: number;
}

/**
 * Subject and background from a shot and a photograph of the same scene without the subject, aligned and of the same
 * exposure. Pixels are compared in encoded light against noise measured from the pictures themselves; a cast
 * shadow, which darkens the plate's texture but keeps it, is not subject.
 *
 * @param light the shot, encoded
 * @param plate the aligned plate, linear, of the same size
 * @param seen where the plate has something to show
 * @throws AbortError
 */
export async function compareWithPlate(
  light: Picture,
  plate: Picture,
  seen: Plane,
  params: DifferenceParams,
  context: Context,
): Promise<Difference> {
  const { width, height } = light;
  const n = width * height;
  const behind = { width, height, r: encodeQuickly(plate.r), g: encodeQuickly(plate.g), b: encodeQuickly(plate.b) };
  const channels = ['r', 'g', 'b'] as const;
  const away = makePlane(width, height);
  for (const c of channels) for (let p = 0; p < n; p++) away.data[p] += (light[c][p] - behind[c][p]) ** 2;
  const noise = Math.max(0.004, typicalNoise(light, behind, seen));
  await pause(context, 'Comparing with the plate', 0.3);

  // A small window, so that single noisy pixels are no subject and thin strands still are.
  const around = gaussian(away, 0.7).data;
  const shaded = shadowed(light, behind);
  const differs = new Uint8Array(n);
  const strongly = new Uint8Array(n);
  const limit = 3 * (params.threshold * noise) ** 2;
  for (let p = 0; p < n; p++) {
    if (!seen.data[p] || shaded[p]) continue;
    if (around[p] > limit * 0.5) differs[p] = 1;
    if (around[p] > Math.max(limit * 4, 0.012)) strongly[p] = 1;
  }
  const real = withoutCrumbs(differs, strongly, width, height, 12);
  const body = filled(real, around, shaded, 3 * noise ** 2, width, height);
  const inward = distanceTo(
    body.map((v) => 1 - v),
    width,
    height,
  ).data;
  const outward = distanceTo(body, width, height).data;
  const core = boxMean({ width, height, data: new Float32Array(strongly) }, 2).data;
  const state = new Uint8Array(n);
  for (let p = 0; p < n; p++) {
    if (!body[p]) state[p] = outward[p] <= 2 ? undecided : surelyOut;
    else if (inward[p] > 7 || (inward[p] > 2.5 && core[p] > 0.9)) state[p] = surelyIn;
    else state[p] = undecided;
  }
  await pause(context, 'Comparing with the plate', 0.7);
  return { state, guess: guessBefore(light, behind, state), noise };
}

/** Share of a shadow's light that its factors need not explain: bumps are lit from another side there. */
const mostLeft = 0.1;

/** Robust standard deviation of the difference a channel: most of the picture shows the same thing. */
function typicalNoise(light: Picture, behind: Picture, seen: Plane): number {
  const found: number[] = [];
  const step = Math.max(1, Math.floor(light.g.length / 100_000));
  for (let p = 0; p < light.g.length; p += step) if (seen.data[p]) found.push(Math.abs(light.g[p] - behind.g[p]));
  found.sort((a, b) => a - b);
  // The lower half, because a subject may cover up to half of the picture: its median is the quartile of |x|.
  return found.length === 0 ? 0 : found[Math.floor(0.25 * found.length)] / 0.3186;
}

/**
 * 1 where the shot is the plate only darker: 5 × 5 windows explained by one factor a channel below 1. A shadow is lit by
 * what the lamp does not reach, the sky or the room, so blue falls no more than green and green no more than red.
 */
function shadowed(light: Picture, behind: Picture): Uint8Array {
  const { width, height } = light;
  const mean = (p: Float32Array, q: Float32Array): Float32Array => boxMean({ width, height, data: p.map((v, i) => v * q[i]) }, 2).data;
  const sides = (['r', 'g', 'b'] as const).map((c) => ({
    both: mean(light[c], behind[c]),
    own: mean(behind[c], behind[c]),
    seen: mean(light[c], light[c]),
  }));
  const out = new Uint8Array(width * height);
  for (let p = 0; p < out.length; p++) {
    let left = 0;
    let [least, before, fits] = [1, 0, true];
    for (const { both, own, seen } of sides) {
      const factor = both[p] / Math.max(1e-6, own[p]);
      left += (seen[p] - factor * both[p]) / Math.max(1e-6, seen[p]);
      least = Math.min(least, factor);
      fits &&= factor < 1 && factor > before - 0.06;
      before = factor;
    }
    if (fits && least > 0.2 && left < 3 * mostLeft) out[p] = 1;
  }
  return out;
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

/** Opacity from a known background and the subject's colours spread from what is surely subject. */
function guessBefore(light: Picture, behind: Picture, state: Uint8Array): Guess {
  const { width, height } = light;
  const sure: Plane = { width, height, data: weightOf(state, (s) => s === surelyIn) };
  const [r, g, b] = pushPull(
    [light.r, light.g, light.b].map((data) => ({ width, height, data })),
    sure,
  );
  const front = { r: r.data, g: g.data, b: b.data };
  const opacity = makePlane(width, height);
  const trust = makePlane(width, height);
  for (let p = 0; p < state.length; p++) {
    if (state[p] !== undecided) continue;
    let apart = 0;
    let towards = 0;
    for (const c of ['r', 'g', 'b'] as const) {
      const d = front[c][p] - behind[c][p];
      apart += d * d;
      towards += d * (light[c][p] - behind[c][p]);
    }
    opacity.data[p] = apart > 1e-6 ? Math.min(1, Math.max(0, towards / apart)) : 0.5;
    trust.data[p] = Math.min(1, apart / 0.06);
  }
  return { opacity, trust };
}

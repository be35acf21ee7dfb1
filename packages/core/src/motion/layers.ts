import { gaussian } from '../raster/filter';
import type { Picture, Plane } from '../raster/plane';
import { rankOf } from '../raster/rank';
import { pushPull } from '../raster/pushPull';
import { allBroughtBy, broughtBy, roundTrip, type Flow } from './flow';

/** What another frame says of the subject in this one. */
export interface Carried {
  /** Chance that a pixel is subject, 0 to 1, going by where it was. */
  chance: Float32Array;
  /** How far that is believed, 0 to 1; 0 where what is seen was hidden before, or has come in from beside the picture. */
  trust: Float32Array;
  /** Evidence for inside (positive) by which of the two motions explains the pixel, −`mostEvidence` to `mostEvidence`. */
  evidence: Float32Array;
}

/** Another frame: its light, encoded, and the subject in it, 0 to 1. */
export interface OtherFrame {
  light: Picture;
  subject: Float32Array;
}

/** A pixel that misses itself by more after going there and back is not believed, px. */
const missed = 1.5;
const mostEvidence = 8;
/** Evidence by how many times better one motion explains what is seen, a factor of e. */
const perFactor = 4;
/** How badly ground is explained that was hidden before, beside what looks nothing like it. */
const unseen = 0.3;
/** Standard deviation over which residuals are averaged, px; and the least noise there is, encoded. */
const window = 1.2;
const leastNoise = 0.01;

/**
 * The subject of another frame brought here, by the motion of each side on its own: what is explained by the motion of the
 * subject around and was subject there is inside, what is explained by that of the ground and was ground is outside (layers of
 * motion: Wang & Adelson 1994). So the border is found although flow is not known right at it.
 *
 * @param light this frame, encoded
 * @param there flow from here to the other frame, and `back` the one to here
 */
export function carriedFrom(light: Picture, other: OtherFrame, there: Flow, back: Flow): Carried {
  const { width, height } = there;
  const n = width * height;
  const plane = (data: Float32Array): Plane => ({ width, height, data });
  const trip = roundTrip(there, back);
  const subject = plane(other.subject);
  const was = broughtBy(there, subject).data;
  const [trust, asSubject, asGround] = [0, 1, 2].map(() => new Float32Array(n));
  for (let p = 0; p < n; p++) {
    trust[p] = Math.exp(-((trip[p] / missed) ** 2));
    asSubject[p] = trust[p] * was[p] ** 2;
    asGround[p] = trust[p] * (1 - was[p]) ** 2;
  }
  const [inner, outer] = [motionOf(there, asSubject), motionOf(there, asGround)];
  const [left, leftOut] = [inner, outer].map((flow) => residual(light, other.light, flow));
  const [subjectIn, subjectOut] = [inner, outer].map((flow) => (flow ? broughtBy(flow, subject).data : undefined));
  const noise = noiseOf(leftOut ?? left!);
  const busy = varianceOf(light);
  const evidence = new Float32Array(n);
  for (let p = 0; p < n; p++) {
    const bad = 2 * busy[p] + 4 * noise;
    const a = left ? subjectIn![p] : 0;
    const b = leftOut ? subjectOut![p] : 1;
    const asIn = (left ? a * left[p] : 0) + (1 - a) * bad;
    const asOut = (leftOut ? (1 - b) * leftOut[p] : 0) + b * unseen * bad;
    evidence[p] = Math.max(-mostEvidence, Math.min(mostEvidence, perFactor * Math.log((asOut + noise) / (asIn + noise))));
  }
  const chance = broughtBy(mended(there, trust), subject).data;
  return { chance, trust, evidence };
}

/** A flow spread from where it counts; nothing where it counts nowhere. */
function motionOf({ width, height, u, v }: Flow, weight: Float32Array): Flow | undefined {
  if (!weight.some((w) => w > 0.5)) return undefined;
  const planes = [u, v].map((data) => ({ width, height, data }));
  const [mu, mv] = pushPull(planes, { width, height, data: weight });
  return { width, height, u: mu.data, v: mv.data };
}

/** Squared light, averaged over a small window, that a motion does not explain. */
function residual({ width, height, r, g, b }: Picture, other: Picture, flow: Flow | undefined): Float32Array | undefined {
  if (!flow) return undefined;
  const [red, green, blue] = allBroughtBy(flow, [other.r, other.g, other.b]);
  const sum = new Float32Array(width * height);
  for (let p = 0; p < sum.length; p++) sum[p] = (r[p] - red[p]) ** 2 + (g[p] - green[p]) ** 2 + (b[p] - blue[p]) ** 2;
  return gaussian({ width, height, data: sum }, window).data;
}

/** Variance of light over a small window, all channels together. */
function varianceOf({ width, height, r, g, b }: Picture): Float32Array {
  const mean = (data: Float32Array): Float32Array => gaussian({ width, height, data }, 2 * window).data;
  const power = new Float32Array(width * height);
  for (let p = 0; p < power.length; p++) power[p] = r[p] ** 2 + g[p] ** 2 + b[p] ** 2;
  const out = mean(power);
  const [red, green, blue] = [mean(r), mean(g), mean(b)];
  for (let p = 0; p < out.length; p++) out[p] = Math.max(0, out[p] - red[p] ** 2 - green[p] ** 2 - blue[p] ** 2);
  return out;
}

/** A flow whose unbelieved places go along with what is believed around them. */
function mended(flow: Flow, trust: Float32Array): Flow {
  const { u, v } = flow;
  const around = motionOf(flow, trust);
  if (!around) return flow;
  for (let p = 0; p < trust.length; p++) {
    around.u[p] += trust[p] * (u[p] - around.u[p]);
    around.v[p] += trust[p] * (v[p] - around.v[p]);
  }
  return around;
}

/** What is left of squared light where the ground is explained as well as can be, with room for resampling. */
function noiseOf(left: Float32Array): number {
  const step = Math.max(1, Math.floor(left.length / 50_000));
  const some = new Float32Array(Math.ceil(left.length / step));
  for (let i = 0; i < some.length; i++) some[i] = left[i * step];
  return Math.max(3 * leastNoise ** 2, 3 * rankOf(some, some.length >> 1));
}

import { luminance } from '../../colour/cielab';
import { oklabOf, oklabToLinear, type Triple } from '../../colour/oklab';
import { pause, type Context } from '../../runtime/context';
import { makePlane, planesOf, withOpacity, type Picture, type Plane } from '../../raster/plane';
import { weightOf } from '../../raster/mask';
import { pushPull } from '../../raster/pushPull';
import { edgeColour, type Unmixed } from './edgeColour';
import type { MatteProduct } from '../matte';
import { channelsOf } from '../key/screen';

/** Opacity above which a pixel's own colour follows from what is known to be behind it. */
const trusted = 0.25;

/** Trust in opacity that was solved from marks, and doubt where it is thin: so no known picture's edge is farther from its own colour than the shot's. */
const trustInSolved = 0.75;
const doubtInSolved = 0.5;

/**
 * The subject's own colour to the edge: before what is known to be behind it, or with both sides estimated.
 *
 * @param wanted with `subject` what is behind may have no pixels
 */
export function unmix(
  shot: Picture,
  product: MatteProduct,
  spill: number,
  context: Context,
  wanted: 'both' | 'subject' = 'both',
): Promise<Unmixed> {
  const { matte, behind, screen, band } = product;
  if (!behind)
    return band
      ? edgeColour(withOpacity(shot), matte, context, trustInSolved, doubtInSolved, wanted)
      : edgeColour(withOpacity(shot), matte, context, 1, 0, wanted);
  return unmixBefore(shot, behind, matte, screen && { colour: screen, share: spill }, context);
}

/** Beyond this share of spill a pixel does not tell the subject's own hue. */
const spilt = 0.05;
/** How far the chroma of a hardly covered pixel is drawn to that of the subject farther in. */
const inwards = 0.8;

/**
 * Draws the chroma of half-covered pixels to that of the opaque ones nearby that no spill reaches, the more the thinner they cover: what is
 * left when a screen is taken off a strand has its brightness, but hardly its hue. In place.
 */
function drawnInwards(edge: Pick<Picture, 'r' | 'g' | 'b'>, own: Picture, { width, height, data }: Plane, taken: Float32Array): void {
  const sure: Plane = {
    width,
    height,
    data: weightOf(data, (a, p) => a >= 0.99 && taken[p] < spilt * luminance(own.r[p], own.g[p], own.b[p])),
  };
  const [ir, ig, ib] = pushPull(
    [own.r, own.g, own.b].map((c) => ({ width, height, data: c })),
    sure,
  ).map((plane) => plane.data);
  for (let p = 0; p < data.length; p++) {
    const share = data[p] > 0.01 ? inwards * (1 - data[p]) : 0;
    if (share <= 0 || ir[p] + ig[p] + ib[p] <= 0) continue;
    const [l, a, b] = oklabOf(edge.r[p], edge.g[p], edge.b[p]);
    const [inner, ia, ib2] = oklabOf(ir[p], ig[p], ib[p]);
    const lit = Math.min(1.5, l / Math.max(0.05, inner));
    const [r, g, blue] = oklabToLinear(l, a + share * (lit * ia - a), b + share * (lit * ib2 - b));
    edge.r[p] = Math.max(0, r);
    edge.g[p] = Math.max(0, g);
    edge.b[p] = Math.max(0, blue);
  }
}

/** A coloured screen whose reflected light is to be taken off. */
interface Spill {
  /** The screen's colour, linear light. */
  colour: Triple;
  /** How much of it, 0 to 1. */
  share: number;
}

/**
 * The subject's own colour before a known background: what is left when the background's share is taken off, with the
 * colour of the nearest well-covered pixels where too little of the subject is seen to tell. Before a screen, the
 * screen's light that the subject reflects is then taken off at equal luminance, and half-covered pixels take their chroma from farther in.
 *
 * @param field what was behind the subject, linear light
 * @throws AbortError
 */
async function unmixBefore(shot: Picture, field: Picture, matte: Plane, spill: Spill | undefined, context: Context): Promise<Unmixed> {
  const { width, height } = shot;
  const n = width * height;
  const opacity = matte.data;
  const bare = (seen: Float32Array, behind: Float32Array): Float32Array => {
    const out = new Float32Array(n);
    for (let p = 0; p < n; p++) {
      const a = opacity[p];
      out[p] = a >= 1 ? seen[p] : Math.max(0, (seen[p] - (1 - a) * behind[p]) / Math.max(a, trusted));
    }
    return out;
  };
  const own: Picture = { width, height, r: bare(shot.r, field.r), g: bare(shot.g, field.g), b: bare(shot.b, field.b) };
  await pause(context, 'Edge colour', 0.4);
  const taken = spill && takeSpill(own, spill.colour, ownBalance(shot, matte, spill.colour), spill.share);
  const known = makePlane(width, height);
  for (let p = 0; p < n; p++) known.data[p] = Math.min(1, Math.max(0, (opacity[p] - trusted / 2) / trusted));
  const [r, g, b] = pushPull(planesOf(own), known);
  if (taken) drawnInwards({ r: r.data, g: g.data, b: b.data }, own, matte, taken);
  await pause(context, 'Edge colour', 0.9);
  return { subject: { width, height, r: r.data, g: g.data, b: b.data, a: matte.data }, behind: field, ...(taken && { spill: taken }) };
}

/**
 * How much of the screen's channel the subject's own colours have: 0 is the mean of the other two channels, 1 the larger
 * of them. Learnt from the opaque pixels that have a colour, most of which no spill reaches.
 */
export function ownBalance(shot: Picture, matte: Plane, colour: Triple): number {
  const [k, i, j] = channelsOf(colour);
  const found: number[] = [];
  const step = Math.max(1, Math.floor(matte.data.length / 200_000));
  for (let p = 0; p < matte.data.length; p += step) {
    if (matte.data[p] < 1) continue;
    const mean = (shot[i][p] + shot[j][p]) / 2;
    const room = Math.max(shot[i][p], shot[j][p]) - mean;
    if (room > 0.01) found.push((shot[k][p] - mean) / room);
  }
  if (found.length < 50) return 0.5;
  found.sort((x, y) => x - y);
  return Math.min(1, Math.max(0, found[Math.floor(0.4 * found.length)]));
}

/**
 * Takes the screen's channel down to what the subject's own colours have of it, in place, and makes each pixel as
 * bright as it was.
 *
 * @param balance see `ownBalance`
 * @param share how much of the surplus is taken, 0 to 1
 * @returns the luminance that was screen, a pixel; so much light of a new background may be put back
 */
export function takeSpill(picture: Picture, colour: Triple, balance: number, share: number): Float32Array {
  const [k, i, j] = channelsOf(colour);
  const { r, g, b } = picture;
  const taken = new Float32Array(r.length);
  if (share <= 0) return taken;
  for (let p = 0; p < r.length; p++) {
    const mean = (picture[i][p] + picture[j][p]) / 2;
    const limit = mean + balance * (Math.max(picture[i][p], picture[j][p]) - mean);
    const surplus = picture[k][p] - limit;
    if (surplus <= 0) continue;
    const before = luminance(r[p], g[p], b[p]);
    picture[k][p] -= share * surplus;
    const after = luminance(r[p], g[p], b[p]);
    taken[p] = before - after;
    const gain = after > 1e-6 ? before / after : 1;
    r[p] *= gain;
    g[p] *= gain;
    b[p] *= gain;
  }
  return taken;
}

/**
 * Light of a new background where light of the screen was taken off: brightness stays, hue moves by as much as
 * was spill.
 *
 * @param light mean colour of the new background, linear
 */
export function putLight(subject: Picture, spill: Float32Array, light: Triple): Picture {
  const brightness = Math.max(1e-6, luminance(...light));
  const out: Picture = { ...subject, r: subject.r.slice(), g: subject.g.slice(), b: subject.b.slice() };
  for (let i = 0; i < spill.length; i++) {
    if (spill[i] <= 0) continue;
    const whole = Math.max(1e-6, luminance(out.r[i], out.g[i], out.b[i]));
    const kept = Math.max(0, 1 - spill[i] / whole);
    out.r[i] = out.r[i] * kept + ((1 - kept) * whole * light[0]) / brightness;
    out.g[i] = out.g[i] * kept + ((1 - kept) * whole * light[1]) / brightness;
    out.b[i] = out.b[i] * kept + ((1 - kept) * whole * light[2]) / brightness;
  }
  return out;
}

import { luminance } from '../colour/cielab';
import type { Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { contrastOf, facings, facingShare, together, type Outline } from './outlineRings';

/** What is looked at, at the size at which it is. */
export interface Looked {
  matte: Plane;
  outline: Outline;
  /** Encoded light. */
  codes: Float32Array[];
  /** The subject's colour carried outwards, encoded. */
  own: Float32Array[];
  /** Light, linear. */
  light: Float32Array;
}

/** Opacity above which a pixel is surely subject. */
const sure = 0.95;
/** Rings beside the outline and farther out that are compared, units. */
const beside = [0, 5] as const;
const farther = [10, 20] as const;
/** Least squared difference of two encoded colours that lets them be told apart. */
export const telling = 0.006;
/** So many pieces of the outline have ground beside them at least. */
const piecesEnough = 6;
/** From so much leaning towards the subject on, and so many standard deviations of it, there is a rim. */
const rimLeans = 0.08;
const rimScore = 8;
/** From so much light lost (natural logarithm) on, and so many deviations of it, there is a shade. */
const shadeTakes = 0.065;
const shadeScore = 5.5;
/** A shade is marked as far as this, units, at pieces that lose at least this share of what all lose. */
const shadeReach = 12;
const shadeShare = 0.5;

/** What all looks have in common. */
export function lookedAt(
  shot: { r: Float32Array; g: Float32Array; b: Float32Array },
  codes: Float32Array[],
  matte: Plane,
  outline: Outline,
): Looked {
  const { width, height } = matte;
  const known = { width, height, data: matte.data.map((a) => (a > sure ? 1 : 0)) };
  const own = pushPull(codes.map((data) => ({ width, height, data })), known).map(({ data }) => data); // prettier-ignore
  return { matte, outline, codes, own, light: shot.r.map((r, p) => luminance(r, shot.g[p], shot.b[p])) };
}

/** Whether there is enough ground beside the outline to tell anything. */
export function canTell({ outline, light }: Looked): boolean {
  const { difference } = contrastOf(outline, (i) => light[outline.places[i]], beside, farther);
  return difference.filter((d) => !Number.isNaN(d)).length >= piecesEnough;
}

/** Whether the ground beside the outline leans towards the subject's colour, all along it, more than the ground a little farther out. */
export function hasRim({ outline, codes, own }: Looked): boolean {
  const { width, height, places, unit, awayAt } = outline;
  const ground = { width, height, data: awayAt.map((d) => (d > farther[0] * unit ? 1 : 0)) };
  const behind = pushPull(codes.map((data) => ({ width, height, data })), ground).map(({ data }) => data); // prettier-ignore
  const leaning = (i: number): number => {
    const p = places[i];
    let [toward, separate] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const way = own[c][p] - behind[c][p];
      toward += (codes[c][p] - behind[c][p]) * way;
      separate += way * way;
    }
    return separate < telling ? NaN : Math.max(-1, Math.min(1.5, toward / separate));
  };
  const { mean, score } = together(outline, contrastOf(outline, leaning, beside, farther));
  return mean > rimLeans && score > rimScore;
}

/**
 * Pixels in the subject's contact shadow: less light beside the outline than a little farther out, along a whole side of it. Edges of
 * things in the ground cross the outline either way; a shadow is dark towards it everywhere on its side.
 *
 * @returns a mask; nothing when there is none
 */
export function shadeBeside({ outline, light }: Looked): Uint8Array | undefined {
  const contrast = contrastOf(outline, (i) => Math.log(Math.max(0.004, light[outline.places[i]])), beside, farther);
  let [side, best] = [0, { mean: 0, score: 0 }];
  for (let o = 0; o < facings; o++) {
    const here = together(outline, contrast, o);
    if (here.score < best.score) [side, best] = [o, here];
  }
  if (best.mean > -shadeTakes || best.score > -shadeScore) return undefined;
  const mask = new Uint8Array(outline.awayAt.length);
  for (let i = 0; i < outline.places.length; i++) {
    const s = outline.piece[i];
    if (outline.away[i] < shadeReach && facingShare(outline.facing[s], side) > 0.3 && contrast.difference[s] < shadeShare * best.mean) {
      mask[outline.places[i]] = 1;
    }
  }
  return mask;
}

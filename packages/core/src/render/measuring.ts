import { signedDisc } from '../lens/thinLens';
import { findBanding, type Banding } from '../match/banding';
import { measureBlur, type MeasuredBlur } from '../match/blurMeasure';
import { measureGrain, type Grain } from '../match/grain';
import { lightOnOutline, lightOverall, type LightDirection } from '../match/lightDirection';
import type { Side } from '../match/sides';
import { measureTone, toneOf } from '../match/tone';
import { withOpacity, type Picture, type Plane } from '../raster/plane';
import type { Recipe } from '../recipe/recipe';
import { referenceMask, within } from './matching';

type References = Recipe['match']['references'];

/** Tone of nothing. */
const nothing = toneOf({ colours: new Float32Array(0), weights: new Float32Array(0) });

/**
 * Tone, blur and light of both sides.
 *
 * @param subject as it is laid, with its opacity; nothing when none stands on the bench
 * @param near where the background stands as near as the subject; a drawn reference takes its place
 */
export function measuredSides(inputs: {
  subject: Picture | undefined;
  behind: Picture;
  references: References;
  near: Float32Array | undefined;
  scale: number;
}): { subject: Side; background: Side } {
  const { subject, behind, references, scale } = inputs;
  const [here, there] = [references.subject, references.background].map((r) => referenceMask(r, behind, scale));
  const plane = (data: Float32Array): Plane => ({ width: behind.width, height: behind.height, data });
  const ours = within(subject?.a, here);
  const near = there ?? inputs.near;
  return {
    subject:
      subject && ours
        ? side(measureTone(subject, ours), measureBlur(withOpacity(subject), plane(ours)), lightOnOutline(subject, plane(ours)), scale)
        : { tone: nothing },
    background: side(
      measureTone(behind, there),
      near && measureBlur(behind, plane(near)),
      there ? lightOnOutline(behind, plane(there)) : lightOverall(behind),
      scale,
    ),
  };
}

/**
 * What of the background is seen and has about a subject's blur disc; nothing when hardly anything has.
 *
 * @param distance of the subject, m
 * @param opacity of it in the frame
 * @param distances of what is in front, m
 */
export function asNearAs(distance: number, opacity: Float32Array, distances: Float32Array, lens: Recipe['lens']): Float32Array | undefined {
  const own = signedDisc(lens, distance, lens.across);
  const out = opacity.map((a, p) => (a <= 0.02 && Math.abs(signedDisc(lens, distances[p], lens.across) - own) < 1 ? 1 : 0));
  return out.reduce((a, b) => a + b, 0) > 0.004 * out.length ? out : undefined;
}

function side(tone: Side['tone'], blur: MeasuredBlur | undefined, light: LightDirection | undefined, scale: number): Side {
  return {
    tone,
    ...(blur && { blur: { ...blur, diameter: blur.diameter / scale, sigma: blur.sigma / scale } }),
    ...(light && { light }),
  };
}

/**
 * Steps in the finished picture, px of the full size, and the grain of what is seen of the background.
 *
 * @param opacity of the subject in the frame
 */
export function measuredFinish(
  finished: Picture,
  opacity: Float32Array | undefined,
  references: References,
  scale: number,
): { banding: Banding; grain: Grain | undefined } {
  const found = findBanding(finished);
  const places = found.places.map((b) => ({ x: b.x / scale, y: b.y / scale, width: b.width / scale, height: b.height / scale }));
  const seen = opacity?.map((a) => (a > 0.02 ? 0 : 1));
  const weight = within(seen, referenceMask(references.background, finished, scale));
  return {
    banding: { ...found, places },
    grain: measureGrain(finished, weight && { width: finished.width, height: finished.height, data: weight }),
  };
}

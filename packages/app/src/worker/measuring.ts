import {
  luminanceOf,
  measureBlur,
  measureTone,
  rasterRegions,
  type Card,
  type MeasuredBlur,
  type Picture,
  type Products,
  type Recipe,
  type Region,
  type Tone,
  type Want,
} from '@ritaglio/core';
import type { Likeness, Reference } from './protocol';

/** Makes a product of a recipe, at a scale that is settled. */
export type Make = <W extends Want>(recipe: Recipe, want: W) => Promise<Products[W]>;

/** How blurred a reference is, and what stands behind before and after the lens. */
export async function likenessOf(make: Make, recipe: Recipe, reference: Reference, scale: number): Promise<Likeness> {
  const shot = await make(recipe, 'shot');
  const { matte } = await make(recipe, 'matte');
  const region = reference && rasterRegions([reference], shot.width, shot.height, scale);
  // What is pointed at counts, whatever it is; of all of the shot only what is not subject.
  const weight = region ?? { ...matte, data: matte.data.map((a) => (a > 0.02 ? 0 : 1)) };
  const full = (b: MeasuredBlur | undefined): MeasuredBlur | undefined =>
    b && { edges: b.edges, diameter: b.diameter / scale, sigma: b.sigma / scale };
  return {
    wanted: full(measureBlur(shot, weight)),
    has: full(measureBlur(await make(recipe, 'unblurred'))),
    now: full(measureBlur(await make(recipe, 'background'))),
  };
}

/**
 * Stops by which a card's middle is darker than that of the card farthest behind; within drawn strokes (px of the frame)
 * where there are any. Nothing when it is the farthest itself.
 */
export async function stopsBehind(make: Make, recipe: Recipe, id: string, strokes: Region[], scale: number): Promise<number | undefined> {
  const stops = (here: Tone, there: Tone): number | undefined =>
    here.weight > 0 ? Math.log2(luminanceOf(Math.max(1, there.middle)) / luminanceOf(Math.max(1, here.middle))) : undefined;
  const card = recipe.cards.find((c) => c.id === id);
  if (card?.kind === 'subject') {
    // As it is matched: alone it would have nothing to be matched to.
    const { subject, background } = await make(recipe, 'sides');
    return stops(subject.tone, background.tone);
  }
  const far = [...recipe.cards].sort((a, b) => b.distance - a.distance).find((c) => c.kind === 'picture' || c.kind === 'plate');
  if (!card || !far || far.id === id) return undefined;
  const alone = (c: Card): Promise<Picture> => make({ ...recipe, cards: [{ ...c, hidden: false }] }, 'farthest');
  const ground = await alone(card);
  const within = strokes.length > 0 ? rasterRegions(strokes, ground.width, ground.height, scale).data : undefined;
  const { a } = ground;
  return stops(measureTone(ground, within && a ? within.map((v, i) => v * a[i]) : (within ?? a)), measureTone(await alone(far)));
}

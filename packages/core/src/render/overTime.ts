import type { Context } from '../runtime/context';
import type { Picture } from '../raster/plane';
import { momentOf } from '../recipe/moment';
import type { Card, Recipe } from '../recipe/recipe';
import { throughCamera } from '../placement/camera';
import { placedPoint, wayTo } from '../placement/place';
import { ProductMemory } from './memory';
import type { PictureSource } from './products';
import { render } from './render';

/** Moments are so near each other that nothing moves farther between them, px of the rendering. */
const step = 1.5;
const mostMoments = 24;

/**
 * The finished picture of one frame of the job. With an open shutter it is the mean, in linear light, of moments while it is open, as
 * many as what moves farthest needs.
 *
 * @param frame of the job
 * @throws AbortError, or the source's error
 */
export async function renderFrame(
  recipe: Recipe,
  frame: number,
  pictures: PictureSource,
  context: Context,
  memory: ProductMemory = new ProductMemory(),
): Promise<Picture> {
  const open = (recipe.time?.shutter ?? 0) / 360;
  const moment = (at: number): Recipe => ({ ...momentOf(recipe, at), moment: frame });
  const moves = open > 0 && recipe.keys.length > 0 ? longestMotion(moment(frame), moment(frame + open), context.scale) : 0;
  const count = Math.min(mostMoments, Math.max(1, Math.ceil(moves / step)));
  if (count === 1) return render(moment(frame), pictures, 'composite', context, memory);
  let sum: Picture | undefined;
  for (let k = 0; k < count; k++) {
    const at = frame + ((k + 0.5) / count) * open;
    const here = await render(moment(at), pictures, 'composite', context, memory);
    sum ??= { ...here, r: new Float32Array(here.r.length), g: new Float32Array(here.g.length), b: new Float32Array(here.b.length) };
    for (const c of ['r', 'g', 'b'] as const) for (let p = 0; p < here[c].length; p++) sum[c][p] += here[c][p] / count;
  }
  return sum!;
}

/** How far anything that is seen moves between two moments, px of the rendering. */
export function longestMotion(a: Recipe, b: Recipe, scale: number): number {
  let most = 0;
  for (const card of a.cards) {
    const other = b.cards.find((c) => c.id === card.id);
    if (card.hidden || !other) continue;
    const [here, there] = [cornersOf(a, card, scale), cornersOf(b, other, scale)];
    here?.forEach((p, i) => there && (most = Math.max(most, Math.hypot(p.x - there[i].x, p.y - there[i].y))));
  }
  return most;
}

/** Where the corners of a card's scene come to lie in the frame. */
function cornersOf(recipe: Recipe, card: Card, scale: number): { x: number; y: number }[] | undefined {
  const size = recipe.subjects[0]?.size ?? recipe.frame;
  const whole = { width: size.width * scale, height: size.height * scale };
  const way = throughCamera(
    wayTo(whole, 1, card.placement, recipe.frame, scale),
    card.distance,
    recipe.camera,
    recipe.lens,
    recipe.frame,
    scale,
  );
  if (!way) return undefined;
  return [0, whole.width].flatMap((x) => [0, whole.height].map((y) => placedPoint(way, whole, x, y)));
}

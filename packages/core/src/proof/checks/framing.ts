import type { Recipe } from '../../recipe/recipe';
import { groundDistance } from '../../lens/distances';
import { cameraRests, throughCamera } from '../../placement/camera';
import { coverUnit, unplacedPoint, wayTo, type Way } from '../../placement/place';
import { judged, unknown, type Check, type CheckPlace } from './check';

interface Size {
  width: number;
  height: number;
}
type Card = Recipe['cards'][number];

/** The size of what a card shows, px, where it has one of its own. */
export type SizeOf = (card: Card) => Size | undefined;

function wayOf(recipe: Recipe, card: Card, size: Size, distance = card.distance): Way | undefined {
  const scene = recipe.subjects[0]?.size ?? recipe.frame;
  const unit = card.kind === 'picture' ? coverUnit(size, scene.width, scene.height) : 1;
  return throughCamera(wayTo(size, unit, card.placement, recipe.frame, 1), distance, recipe.camera, recipe.lens, recipe.frame, 1);
}

/** How much larger than they are sources are shown, by the one that is enlarged most. A blurred one may be. */
export function checkEnlarged(recipe: Recipe, sizeOf: SizeOf, discOf: (card: Card) => number): Check {
  let most = 0;
  const frame = { x: 0, y: 0, width: recipe.frame.width, height: recipe.frame.height, on: 'frame' as const };
  let place: CheckPlace = frame;
  for (const card of recipe.cards) {
    const size = sizeOf(card);
    const way = size && !card.hidden ? wayOf(recipe, card, size) : undefined;
    if (!size || !way) continue;
    const times = Math.sqrt((way.width / size.width) * (way.height / size.height));
    // A disc of more than a few pixels hides that there are fewer of them.
    if (discOf(card) > 3 * times || times <= most) continue;
    most = times;
    place = { x: way.x - way.width / 2, y: way.y - way.height / 2, width: way.width, height: way.height, on: 'frame' };
  }
  return most === 0 ? unknown('enlarged', 'Nothing sharp with a size of its own stands on the bench.') : judged('enlarged', most, [place]);
}

/** The point of a card that is seen at a point of the frame: on level ground it is as far as the ground is there. */
function onCard(recipe: Recipe, card: Card, size: Size, way: Way, x: number, y: number): { x: number; y: number } {
  const { ground } = card.distances;
  let at = unplacedPoint(way, size, x, y);
  if (!ground || cameraRests(recipe.camera)) return at;
  // What is seen decides how far it is, and that what is seen: a few rounds agree to a fraction of a pixel.
  for (let round = 0; round < 12; round++) {
    const there = wayOf(recipe, card, size, Math.min(card.distance, groundDistance(ground, at.y)));
    if (!there) return at;
    at = unplacedPoint(there, size, x, y);
  }
  return at;
}

/**
 * How far the farthest picture falls short of the frame, px: beyond its border its last row is drawn out. A picture with opacity is
 * meant to end.
 */
export function checkFrameOpen(recipe: Recipe, sizeOf: SizeOf): Check {
  const cards = recipe.cards.filter((c) => !c.hidden && (c.kind === 'plate' || (c.kind === 'picture' && c.matte === null)));
  if (cards.length === 0) return unknown('frame-open', 'No picture stands behind.');
  const { width, height } = recipe.frame;
  const corners = [[0, 0], [width, 0], [width, height], [0, height]] as const; // prettier-ignore
  let best: { short: number; places: CheckPlace[] } | undefined;
  for (const card of cards) {
    const size = sizeOf(card);
    const way = size && wayOf(recipe, card, size);
    if (!size || !way) continue;
    const px = size.width / way.width;
    const shorts = corners.map(([x, y]) => {
      const at = onCard(recipe, card, size, way, x, y);
      return Math.max(0, -at.x, -at.y, at.x - size.width, at.y - size.height) / px;
    });
    const short = Math.max(...shorts);
    const places = corners.filter((_, i) => shorts[i] > 1.5).map(([x, y]): CheckPlace => ({ x: x === 0 ? 0 : x - 120, y: y === 0 ? 0 : y - 120, width: 120, height: 120, on: 'frame' })); // prettier-ignore
    if (!best || short < best.short) best = { short, places };
  }
  return best ? judged('frame-open', best.short, best.places) : unknown('frame-open', 'The size of what stands behind is not known.');
}

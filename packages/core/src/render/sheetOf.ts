import type { Context } from '../runtime/context';
import { pictureOfMatte } from '../matte/edit/kept';
import { checkKinds, type CheckPlace } from '../proof/checks/index';
import { cutAt, worstPlaces, type SheetInputs, type SheetPicture } from '../proof/sheet';
import { resizePicture, scaledSize } from '../raster/resize';
import { withOpacity, type Picture } from '../raster/plane';
import { momentOf } from '../recipe/moment';
import { picturesOf, type Recipe } from '../recipe/recipe';
import { keyOf, type ProductMemory } from './memory';
import type { PictureSource } from './products';
import { render } from './render';

/** Longest side of a view on the sheet, px, and size of a place. */
const viewSide = 1340;
const [placeWidth, placeHeight, times] = [440, 206, 2];

/**
 * All that stands on a proof sheet, worked out.
 *
 * @param encode a picture as an address of data
 * @param nameOf the file's name of a picture
 * @throws AbortError, or the source's error
 */
export async function sheetInputs(
  recipe: Recipe,
  source: PictureSource,
  context: Context,
  memory: ProductMemory,
  { encode, nameOf, date }: { encode: (p: Picture) => Promise<string>; nameOf: (id: string) => string; date: string },
): Promise<SheetInputs> {
  const moment = momentOf(recipe, recipe.time?.first ?? 0);
  const make = <W extends Parameters<typeof render>[2]>(want: W) => render(moment, source, want, context, memory);
  const shown = async (p: Picture): Promise<SheetPicture> => {
    const { width, height } = scaledSize(p.width, p.height, Math.min(1, viewSide / Math.max(p.width, p.height)));
    return { href: await encode(resizePicture(p, width, height)), width, height };
  };
  const checks = await make('checks');
  const [shot, finished] = [withOpacity(await make('shot')), await make('composite')];
  const [{ matte }, { plate }] = [await make('matte'), await make('plate')];
  const places: SheetInputs['places'] = [];
  for (const { check, place } of worstPlaces(checks, recipe.accepted, 6)) {
    const { picture, x, y } = seenAt(moment, place, shot, finished, context.scale);
    const cut = cutAt(picture, x, y, placeWidth, placeHeight, times);
    places.push({ href: await encode(cut), width: cut.width, height: cut.height, says: checkKinds[check.id].what });
  }
  return {
    ...{ recipe, checks, places, date },
    before: await shown(shot),
    after: await shown(finished),
    matte: await shown(pictureOfMatte(matte)),
    plate: await shown(plate),
    recipeHash: keyOf(recipe),
    pictureHashes: picturesOf(recipe).map((id) => ({ name: nameOf(id), hash: source.key(id).slice(0, 12) })),
  };
}

/** Where a place of a check is seen: on the finished picture, unless that does not lie as the shot does. */
function seenAt(
  { frame, subjects, cards }: Recipe,
  place: CheckPlace,
  shot: Picture,
  finished: Picture,
  scale: number,
): { picture: Picture; x: number; y: number } {
  const [x, y] = [(place.x + place.width / 2) * scale, (place.y + place.height / 2) * scale];
  const card = cards.find((c) => c.kind === 'subject');
  const { size } = subjects[0];
  const lies =
    frame.turn === 0 &&
    card !== undefined &&
    card.placement.x === 0 &&
    card.placement.y === 0 &&
    card.placement.scale === 1 &&
    card.placement.turn === 0 &&
    !card.placement.flip;
  if (place.on === 'frame') return { picture: finished, x, y };
  if (!lies) return { picture: shot, x, y };
  return {
    picture: finished,
    x: x + (frame.width / 2 - size.width / 2 - frame.x) * scale,
    y: y + (frame.height / 2 - size.height / 2 - frame.y) * scale,
  };
}

import type { Context } from '../runtime/context';
import { luminance } from '../colour/cielab';
import { findLamps, isDay, proposedLift, type FoundLamps, type Lamp, type LampParams } from '../lens/lamps';
import type { Picture } from '../raster/plane';
import type { Card, Recipe } from '../recipe/recipe';
import { subjectOf, type BenchSource } from './benchSource';
import { keyOf, type ProductMemory } from './memory';

/** A card whose lamps may be lifted. */
export type LampCard = Extract<Card, { kind: 'plate' | 'picture' }>;

/** What a card with lamps shows, all at the context's scale. */
export interface LampPictures {
  /** What was photographed. */
  photo: Picture;
  /** What stands on the card: the photograph, or the plate made of it; and the same with the card's own grade. */
  plain: Picture;
  picture: Picture;
}

/** Pixels of a photograph in which lamps are looked for, at most; a larger one is reduced so far. */
const mostPixels = 50e6;
/** A lamp stands where it was photographed if so much of its light is there. */
const stillThere = 0.5;
/** So many lamps tell the hue of those that were invented. */
const several = 3;

/**
 * The lamps of a card; what is drawn by hand does not change what is found.
 *
 * @param picture what the card shows, with its own grade
 * @param key of the picture
 */
export async function cardLamps(
  card: LampCard,
  picture: Picture,
  key: unknown,
  { recipe, source, context, memory }: { recipe: Recipe; source: BenchSource; context: Context; memory: ProductMemory },
): Promise<FoundLamps> {
  const { scale } = context;
  const { from, to, least, size, colour, dropped } = card.lamps;
  const wanted = [from, to, least, size, colour, dropped];
  const id = card.kind === 'plate' ? subjectOf(recipe, card.subject).shot : card.picture;
  const photo = await source.picture(id);
  const plain = card.kind === 'plate' ? await source.plate(subjectOf(recipe, card.subject)) : photo;
  const at = lampScale(photo, card.lamps, scale);
  const found = await memory.get(keyOf('lamps photographed', at, source.pictureKey(id), wanted), async () =>
    findLamps(at === scale ? photo : await source.photograph(id, at), card.lamps, { scale: at }),
  );
  return memory.get(keyOf('lamps in', scale, at, key, wanted), () =>
    Promise.resolve(standingLamps(found, { photo, plain, picture }, card.lamps, context)),
  );
}

/**
 * The size at which lamps are looked for in a photograph, px per px of it: its own, whatever size is worked at. In a reduced one the rim,
 * which alone tells the hue, is lost in the white of what is clipped, and small lamps go under. By day none is lifted unasked, and
 * the one at hand will do; so that a photo is not read whole only to tell that it has no lamps.
 *
 * @param scale that of the picture at hand
 */
export function lampScale(photo: Picture, { lift }: Pick<LampParams, 'lift'>, scale: number): number {
  if ((lift === 'auto' || lift === 0) && isDay(photo)) return scale;
  return Math.min(1, Math.sqrt(mostPixels / ((photo.width * photo.height) / scale ** 2)));
}

/** Lamps of a photograph as they stand on a card: those that its plate has left, those that it has invented, all of them graded as it is. */
export function standingLamps(
  found: FoundLamps,
  { photo, plain, picture }: LampPictures,
  params: LampParams,
  { scale }: Pick<Context, 'scale'>,
): FoundLamps {
  const placeOf = ({ x, y }: Lamp): number => {
    const [u, v] = [Math.floor(x * scale), Math.floor(y * scale)];
    return Math.min(plain.height - 1, Math.max(0, v)) * plain.width + Math.min(plain.width - 1, Math.max(0, u));
  };
  let { lamps } = found;
  if (plain !== photo) {
    const invented = new Uint8Array(plain.r.length);
    for (let p = 0; p < invented.length; p++) invented[p] = lightAt(photo, p) < stillThere * lightAt(plain, p) ? 1 : 0;
    lamps = lamps.filter((l) => lightAt(plain, placeOf(l)) >= stillThere * lightAt(photo, placeOf(l)));
    const hue = hueOf(lamps);
    lamps = [...lamps, ...findLamps(plain, params, { scale }, invented).lamps.map((l) => (hue ? { ...l, colour: inHue(l, hue) } : l))];
  }
  const graded = picture === plain ? lamps : lamps.map((l) => ({ ...l, colour: gradedColour(l, plain, picture, placeOf(l)) }));
  return { lamps: graded, sizes: found.sizes, proposed: proposedLift(plain, lamps) };
}

function lightAt({ r, g, b }: Picture, p: number): number {
  return luminance(r[p], g[p], b[p]);
}

/** The hue that most lamps have, luminance 1; nothing when they are too few to tell. */
function hueOf(lamps: readonly Lamp[]): Lamp['colour'] | undefined {
  if (lamps.length < several) return undefined;
  return [0, 1, 2].map((c) => {
    const shares = lamps.map(({ colour }) => colour[c] / Math.max(1e-6, luminance(...colour)));
    return shares.sort((a, b) => a - b)[shares.length >> 1];
  }) as Lamp['colour'];
}

function inHue({ colour }: Lamp, hue: Lamp['colour']): Lamp['colour'] {
  const level = luminance(...colour) / Math.max(1e-6, luminance(...hue));
  return hue.map((c) => c * level) as Lamp['colour'];
}

/** A lamp's colour changed as its middle was. */
function gradedColour({ colour }: Lamp, plain: Picture, picture: Picture, p: number): Lamp['colour'] {
  const share = (before: Float32Array, after: Float32Array): number => (before[p] > 1e-3 ? Math.max(0, after[p]) / before[p] : 1);
  const shares = [share(plain.r, picture.r), share(plain.g, picture.g), share(plain.b, picture.b)];
  return colour.map((v, c) => v * shares[c]) as Lamp['colour'];
}

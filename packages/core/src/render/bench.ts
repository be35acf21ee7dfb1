import type { Context } from '../context/context';
import { blurredBy, defocus } from '../lens/defocus';
import { distanceField, isFlat } from '../lens/distances';
import { findLamps, seenLamps, type FoundLamps, type Lamp, type LampParams, type SeenLamp } from '../lens/lamps';
import { matteOfPicture } from '../matte/kept';
import { makePicture, makePlane, withOpacity, type Picture, type Plane } from '../raster/plane';
import { resizePlane, scaledSize } from '../raster/resize';
import { sampleAt } from '../raster/sample';
import type { Card, Recipe, SubjectRecipe } from '../recipe/recipe';
import { over } from '../stage/blend';
import { glow, lettering, type Outlines } from '../stage/drawn';
import { looked } from '../stage/look';
import { coverUnit, place, placedPoint, placePlane, wayTo, type Way } from '../stage/place';
import { keyOf, type ProductMemory } from './memory';

/** Where the bench gets what stands on it. */
export interface BenchSource {
  picture(id: string): Promise<Picture>;
  pictureKey(id: string): unknown;
  /** Identifier of a kept matte's picture. */
  keptMatte(id: string): string;
  plate(subject: SubjectRecipe): Promise<Picture>;
  plateKey(subject: SubjectRecipe): unknown;
  subject(subject: SubjectRecipe): Promise<Picture>;
  subjectKey(subject: SubjectRecipe): unknown;
  letters(text: string, font: string, spacing: number): Promise<Outlines>;
}

/** The lamps of a card, also by where they lie in the finished picture. */
export interface BenchLamps extends Pick<FoundLamps, 'sizes'> {
  /** The card they belong to; nothing when no card has any. */
  card?: string;
  /** In px of the card's full-size picture, and at `at` of the finished one. */
  lamps: (Lamp & { at: { x: number; y: number; radius: number } })[];
  /** Those set by hand, where they lie in the finished picture. */
  set: { x: number; y: number; radius: number }[];
}

/** A card in its place in the frame, before the lens. */
interface Standing {
  picture: Picture;
  distance: number | Plane;
  lamps: SeenLamp[];
}

/** The subject with an identifier. @throws Error when there is none */
export function subjectOf(recipe: Recipe, id: string): SubjectRecipe {
  const found = recipe.subjects.find((s) => s.id === id);
  if (!found) throw new Error(`The recipe holds no subject ${id}.`);
  return found;
}

/** What stands before the camera, card by card, and what the camera makes of it. */
export class Bench {
  private readonly size: { width: number; height: number };
  private readonly scene: { width: number; height: number };

  constructor(
    private readonly recipe: Recipe,
    private readonly context: Context,
    private readonly memory: ProductMemory,
    private readonly source: BenchSource,
  ) {
    const { frame, subjects } = recipe;
    this.size = scaledSize(frame.width, frame.height, context.scale);
    const { width, height } = subjects[0]?.size ?? frame;
    this.scene = scaledSize(width, height, context.scale);
  }

  /** Cards that are seen, from the farthest to the nearest. */
  cards(): Card[] {
    return this.recipe.cards.filter((c) => !c.hidden).sort((a, b) => b.distance - a.distance);
  }

  /** Those behind the first subject. */
  behind(): Card[] {
    const cards = this.cards();
    const first = cards.findIndex((c) => c.kind === 'subject');
    return first < 0 ? cards : cards.slice(0, first);
  }

  /** A key of all that decides how cards look. */
  key(cards = this.cards()): unknown {
    return [cards.map((c) => this.seenKey(c)), cards.map((c) => [c.opacity, c.blend])];
  }

  private sourceKey(card: Card): unknown {
    const { source } = this;
    if (card.kind === 'picture')
      return [source.pictureKey(card.picture), card.matte === null ? 0 : source.pictureKey(source.keptMatte(card.matte))];
    if (card.kind === 'plate') return source.plateKey(subjectOf(this.recipe, card.subject));
    if (card.kind === 'subject') return source.subjectKey(subjectOf(this.recipe, card.subject));
    return card.kind === 'lettering' ? [card.text, card.font, card.size, card.spacing, card.colour] : [card.size, card.colour, card.lift];
  }

  private standingKey(card: Card): unknown {
    const map = card.distances.map ? this.source.pictureKey(card.distances.map.picture) : 0;
    const lamps = 'lamps' in card ? card.lamps : 0;
    return [
      card.kind,
      this.sourceKey(card),
      card.placement,
      card.look,
      card.distance,
      card.distances,
      map,
      lamps,
      this.recipe.frame,
      this.scene,
    ];
  }

  private seenKey(card: Card): unknown {
    return [this.standingKey(card), card.blur ?? this.recipe.lens, card.blur === null ? 0 : this.recipe.lens.aperture];
  }

  /** What a card shows, as it is, and the way from it to the frame. Lettering and glows are made in the frame. */
  private async own(card: Exclude<Card, { kind: 'lettering' | 'glow' }>): Promise<{ picture: Picture; way: Way }> {
    if (card.kind !== 'picture') {
      const s = subjectOf(this.recipe, card.subject);
      const picture = card.kind === 'plate' ? await this.source.plate(s) : await this.source.subject(s);
      return { picture: looked(picture, card.look), way: wayTo(picture, 1, card.placement, this.recipe.frame, this.context.scale) };
    }
    const whole = await this.source.picture(card.picture);
    const picture = card.matte === null ? whole : withOpacity(whole, await this.matteFor(card.matte, whole));
    const unit = coverUnit(picture, this.scene.width, this.scene.height);
    return { picture: looked(picture, card.look), way: wayTo(picture, unit, card.placement, this.recipe.frame, this.context.scale) };
  }

  private async matteFor(id: string, picture: Picture): Promise<Plane> {
    const kept = matteOfPicture(await this.source.picture(this.source.keptMatte(id)));
    const matte = resizePlane(kept, picture.width, picture.height);
    const data = picture.a ? matte.data.map((v, i) => v * picture.a![i]) : matte.data;
    return { ...matte, data };
  }

  private standing(card: Card): Promise<Standing> {
    return this.memory.get(keyOf('standing', this.context.scale, this.standingKey(card)), async () => {
      const { width, height } = this.size;
      const { scale } = this.context;
      if (card.kind === 'lettering' || card.kind === 'glow') {
        const way = wayTo({ width: 1, height: 1 }, 1, card.placement, this.recipe.frame, scale);
        const picture =
          card.kind === 'glow'
            ? glow(card.size, card.colour, card.lift, width, height, way, scale)
            : lettering(await this.source.letters(card.text, card.font, card.spacing), card.size, card.colour, width, height, way, scale);
        return { picture: looked(picture, card.look), distance: card.distance, lamps: [] };
      }
      const { picture, way } = await this.own(card);
      const map = card.distances.map ? await this.source.picture(card.distances.map.picture) : undefined;
      const distance = isFlat(card.distances)
        ? card.distance
        : placePlane(distanceField(picture, card.distance, card.distances, map, this.context), width, height, way);
      const lamps = 'lamps' in card ? this.lampsOf(picture, card.lamps, way) : [];
      return { picture: place(picture, width, height, way), distance, lamps };
    });
  }

  private lampsOf(picture: Picture, params: LampParams, way: Way): SeenLamp[] {
    if (params.lift === 0 && params.set.length === 0) return [];
    const found = params.lift === 0 ? [] : findLamps(picture, params, this.context).lamps;
    return seenLamps(found, params, (x, y) => this.inFrame(way, picture, x, y));
  }

  /** A point of a card's full-size picture in the frame as rendered; `size` for lengths. */
  private inFrame(way: Way, picture: Picture, x: number, y: number): { x: number; y: number; size: number } {
    const { scale } = this.context;
    const at = placedPoint(way, picture, x * scale, y * scale);
    return { ...at, size: at.size * scale };
  }

  /** A card as the lens sees it. */
  private seen(card: Card, context: Context): Promise<Picture> {
    return this.memory.get(keyOf('seen', context.scale, this.seenKey(card)), async () => {
      const { picture, distance, lamps } = await this.standing(card);
      const { lens } = this.recipe;
      if (card.blur !== null) return blurredBy(picture, card.blur * context.scale, lens.aperture, context, lamps);
      return defocus(picture, distance, lens, context, lamps);
    });
  }

  private async laid(cards: Card[], onto: Picture, context: Context): Promise<Picture> {
    let out = onto;
    for (const card of cards) {
      const picture = await this.seen(card, context);
      const covers = !picture.a && card.opacity === 1 && card.blend === 'normal';
      out = covers ? picture : over(picture, out, card.opacity, card.blend);
    }
    return out;
  }

  /** What stands behind, in its place, before the lens. */
  async unblurred(): Promise<Picture> {
    let out = makePicture(this.size.width, this.size.height);
    for (const card of this.behind()) out = over((await this.standing(card)).picture, out, card.opacity, card.blend);
    return out;
  }

  background(context: Context): Promise<Picture> {
    const base = (): Promise<Picture> => this.laid(this.behind(), makePicture(this.size.width, this.size.height), context);
    return this.memory.get(keyOf('behind', context.scale, this.key(this.behind())), base);
  }

  async composite(context: Context): Promise<Picture> {
    return this.laid(this.cards().slice(this.behind().length), await this.background(context), context);
  }

  /** The share with which each pixel of a subject's plate enters the finished picture; nothing when it stands nowhere. */
  async seenOfPlate(s: SubjectRecipe, context: Context): Promise<Plane> {
    const { width, height } = this.size;
    const cards = this.cards();
    const at = cards.findIndex((c) => c.kind === 'plate' && c.subject === s.id);
    const plate = await this.source.plate(s);
    const out = makePlane(plate.width, plate.height);
    const card = cards[at];
    if (!card || card.kind !== 'plate') return out;
    const through = makePicture(width, height);
    through.r.fill(card.opacity);
    for (const before of cards.slice(at + 1)) {
      const opacity = (await this.seen(before, context)).a;
      for (let p = 0; p < through.r.length; p++) through.r[p] *= opacity ? 1 - before.opacity * opacity[p] : 1 - before.opacity;
    }
    const { distance } = await this.standing(card);
    const { lens } = this.recipe;
    const spread =
      card.blur === null
        ? await defocus(through, distance, lens, context)
        : await blurredBy(through, card.blur * context.scale, lens.aperture, context);
    const { way } = await this.own(card);
    const shown = { width, height, data: spread.r };
    for (let y = 0, p = 0; y < plate.height; y++) {
      for (let x = 0; x < plate.width; x++, p++) {
        const to = placedPoint(way, plate, x + 0.5, y + 0.5);
        if (to.x >= 0 && to.y >= 0 && to.x <= width && to.y <= height) out.data[p] = sampleAt(shown, to.x - 0.5, to.y - 0.5);
      }
    }
    return out;
  }

  /** Distance of what is in front at every pixel of the frame, m. */
  async distances(): Promise<Plane> {
    const out = makePlane(this.size.width, this.size.height);
    for (const card of this.cards()) {
      const { picture, distance } = await this.standing(card);
      for (let p = 0; p < out.data.length; p++) {
        if (picture.a && picture.a[p] * card.opacity < 0.5) continue;
        out.data[p] = typeof distance === 'number' ? distance : distance.data[p];
      }
    }
    return out;
  }

  /** The lamps of the farthest card that can have any. */
  async lamps(): Promise<BenchLamps> {
    const card = this.cards().find((c) => 'lamps' in c);
    if (!card || !('lamps' in card)) return { lamps: [], sizes: [], set: [] };
    const { picture, way } = await this.own(card);
    const { scale } = this.context;
    const found = findLamps(picture, card.lamps, this.context);
    const placed = (x: number, y: number, radius: number): { x: number; y: number; radius: number } => {
      const at = this.inFrame(way, picture, x, y);
      return { x: at.x / scale, y: at.y / scale, radius: (radius * at.size) / scale };
    };
    return {
      card: card.id,
      sizes: found.sizes,
      lamps: found.lamps.map((l) => ({ ...l, at: placed(l.x, l.y, l.radius) })),
      set: card.lamps.set.map((l) => placed(l.x, l.y, l.size / 2)),
    };
  }
}

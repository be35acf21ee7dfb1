import type { Context } from '../context/context';
import { defocus } from '../lens/defocus';
import { edgeColour, type Unmixed } from '../matte/edgeColour';
import { matteGround, matteOn, type MatteGround, type MatteProduct } from '../matte/matte';
import { match } from '../match/match';
import { measureTone, type Tone } from '../match/tone';
import { plate, type PlateProduct } from '../plate/plate';
import { makePicture, withOpacity, type Picture } from '../raster/plane';
import { scaledSize } from '../raster/resize';
import type { Card, Recipe, SubjectRecipe } from '../recipe/recipe';
import { over } from '../stage/blend';
import { coverUnit, isCentred, place } from '../stage/place';
import { keyOf, ProductMemory } from './memory';

/** Where the line gets its pictures. */
export interface PictureSource {
  /** Something that changes when the picture's content does. */
  key(id: string): string;
  /** The picture reduced to a scale, in linear light. @throws when it is not there */
  load(id: string, scale: number): Promise<Picture>;
}

/** Everything the line makes. */
export interface Products {
  shot: Picture;
  matte: MatteProduct;
  /** The subject with its own colour to the edge, straight opacity. */
  subject: Picture;
  plate: PlateProduct;
  /** All that stands behind the subject, as the lens sees it. */
  background: Picture;
  /** The subject with its cast and tone matched, and both sides' measures before it. */
  matched: { subject: Picture; subjectTone: Tone; backgroundTone: Tone; after: Tone };
  composite: Picture;
}

/** The name of a product. */
export type Want = keyof Products;

/** What each product is called when progress is shown. */
const making: Record<Want, string> = {
  shot: 'Reading the shot',
  matte: 'Solving the matte',
  subject: 'Recovering edge colour',
  plate: 'Filling the hole',
  background: 'Blurring the background',
  matched: 'Matching the subject',
  composite: 'Laying the picture together',
};

/**
 * Walks the line of products as far as one that is wanted. Every product is remembered under the hash of what made
 * it, so that a change re-makes only what follows from it.
 *
 * The recipe's lengths are full-size pixels; `context.scale` is applied here and in the stages, nowhere else.
 *
 * @param memory keep one for as long as products should be remembered
 * @throws AbortError, or the source's error
 */
export async function render<W extends Want>(
  recipe: Recipe,
  pictures: PictureSource,
  want: W,
  context: Context,
  memory: ProductMemory = new ProductMemory(),
): Promise<Products[W]> {
  const line = new Line(recipe, pictures, context, memory);
  return line.make(want);
}

class Line {
  private readonly size: { width: number; height: number };

  constructor(
    private readonly recipe: Recipe,
    private readonly pictures: PictureSource,
    private readonly context: Context,
    private readonly memory: ProductMemory,
  ) {
    this.size = scaledSize(recipe.frame.width, recipe.frame.height, context.scale);
  }

  make<W extends Want>(want: W): Promise<Products[W]> {
    const subject = this.recipe.subjects[0];
    const makers: { [K in Want]: () => Promise<Products[K]> } = {
      shot: () => this.picture(subject.shot),
      matte: () => this.matte(subject),
      subject: () => this.subject(subject),
      plate: () => this.plate(subject),
      background: () => this.background(),
      matched: () => this.matched(),
      composite: () => this.composite(),
    };
    return makers[want]();
  }

  private remember<T>(want: Want, key: unknown[], work: (context: Context) => Promise<T>): Promise<T> {
    const named = { ...this.context, progress: (_: string, f: number) => this.context.progress?.(making[want], f) };
    return this.memory.get(keyOf(want, this.context.scale, this.context.seed, ...key), () => work(named));
  }

  private picture(id: string): Promise<Picture> {
    return this.memory.get(keyOf('picture', this.pictures.key(id), this.context.scale), () => this.pictures.load(id, this.context.scale));
  }

  private matteKey(s: SubjectRecipe): unknown[] {
    return [this.pictures.key(s.shot), s.marks, s.trim];
  }

  /** What the shot alone decides; kept from mark to mark. */
  private ground(s: SubjectRecipe): Promise<MatteGround> {
    const key = keyOf('ground', this.pictures.key(s.shot), this.context.scale);
    return this.memory.get(key, async () => matteGround(await this.picture(s.shot)));
  }

  private matte(s: SubjectRecipe): Promise<MatteProduct> {
    return this.remember('matte', this.matteKey(s), async (context) => matteOn(await this.ground(s), s, context));
  }

  private unmixed(s: SubjectRecipe): Promise<Unmixed> {
    return this.remember('subject', this.matteKey(s), async (context) => {
      const shot = await this.picture(s.shot);
      const product = await this.matte(s);
      return edgeColour(withOpacity(shot), product.matte, context);
    });
  }

  private async subject(s: SubjectRecipe): Promise<Picture> {
    return (await this.unmixed(s)).subject;
  }

  private plate(s: SubjectRecipe): Promise<PlateProduct> {
    return this.remember('plate', [...this.matteKey(s), s.plate], async (context) => {
      const { behind } = await this.unmixed(s);
      const product = await this.matte(s);
      return plate(behind, product.matte, s.plate, context);
    });
  }

  private subjectOf(id: string): SubjectRecipe {
    const found = this.recipe.subjects.find((s) => s.id === id);
    if (!found) throw new Error(`The recipe holds no subject ${id}.`);
    return found;
  }

  /** Cards from the farthest to the nearest. */
  private cards(): Card[] {
    return [...this.recipe.cards].sort((a, b) => b.distance - a.distance);
  }

  private behind(): Card[] {
    const cards = this.cards();
    const first = cards.findIndex((c) => c.kind === 'subject');
    return first < 0 ? cards : cards.slice(0, first);
  }

  private contentKey(card: Card): unknown {
    if (card.kind === 'picture') return this.pictures.key(card.picture);
    const s = this.subjectOf(card.subject);
    return card.kind === 'plate' ? [this.matteKey(s), s.plate] : [this.matteKey(s), this.matchKey()];
  }

  private cardKey(card: Card): unknown[] {
    return [card.kind, this.contentKey(card), card.distance, card.placement, this.recipe.lens, this.recipe.frame];
  }

  /** What a card shows, in its place in the frame, before the lens. */
  private async content(card: Card): Promise<Picture> {
    const { width, height } = this.size;
    if (card.kind === 'picture') {
      const picture = await this.picture(card.picture);
      return place(picture, width, height, coverUnit(picture, width, height), card.placement, this.context.scale);
    }
    const s = this.subjectOf(card.subject);
    const picture = card.kind === 'plate' ? (await this.plate(s)).plate : await this.matchedSubject(s);
    const fits = picture.width === width && picture.height === height;
    return fits && isCentred(card.placement) ? picture : place(picture, width, height, 1, card.placement, this.context.scale);
  }

  private async seen(card: Card, context: Context): Promise<Picture> {
    return defocus(await this.content(card), card.distance, this.recipe.lens, this.recipe.frame.width, context);
  }

  private background(): Promise<Picture> {
    const cards = this.behind();
    return this.remember(
      'background',
      cards.map((c) => this.cardKey(c)),
      async (context) => {
        let out = makePicture(this.size.width, this.size.height);
        for (const card of cards) {
          const picture = await this.seen(card, context);
          out = picture.a ? over(picture, out) : picture;
        }
        return out;
      },
    );
  }

  private matchKey(): unknown {
    const { cast, tone } = this.recipe.match;
    // Without any strength the subject does not depend on what is behind it.
    return cast === 0 && tone === 0 ? 'as it is' : [cast, tone, this.behind().map((c) => this.cardKey(c))];
  }

  /** The subject as it goes into the picture; nothing is measured when nothing is to be moved. */
  private async matchedSubject(s: SubjectRecipe): Promise<Picture> {
    const { cast, tone } = this.recipe.match;
    return cast === 0 && tone === 0 ? this.subject(s) : (await this.matched()).subject;
  }

  private matched(): Promise<Products['matched']> {
    const s = this.recipe.subjects[0];
    const key = [this.matteKey(s), this.recipe.match, this.behind().map((c) => this.cardKey(c))];
    return this.remember('matched', key, async (context) => {
      const picture = await this.subject(s);
      const behind = await this.background();
      const subjectTone = measureTone(picture);
      const backgroundTone = measureTone(behind);
      const subject = await match(picture, subjectTone, backgroundTone, this.recipe.match, context);
      return { subject, subjectTone, backgroundTone, after: measureTone(subject) };
    });
  }

  private composite(): Promise<Picture> {
    const cards = this.cards();
    return this.remember(
      'composite',
      cards.map((c) => this.cardKey(c)),
      async (context) => {
        let out = await this.background();
        for (const card of cards.slice(this.behind().length)) out = over(await this.seen(card, context), out);
        return out;
      },
    );
  }
}

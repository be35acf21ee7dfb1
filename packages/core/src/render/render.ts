import type { Context } from '../context/context';
import type { Unmixed } from '../matte/edgeColour';
import { findSubject, type FoundSubject } from '../matte/findSubject';
import { matteOfPicture } from '../matte/kept';
import { cutOut, finishedCut, matteGround, type MatteGround, type MatteProduct } from '../matte/matte';
import { putLight, unmix } from '../matte/unmix';
import { match } from '../match/match';
import { measureTone, type Tone } from '../match/tone';
import { filledHole, finishedPlate, type FilledHole, type PlateProduct } from '../plate/plate';
import { findShadow } from '../plate/shadow';
import { showing, type Showing } from '../plate/showing';
import { meanColour, withOpacity, type Picture, type Plane } from '../raster/plane';
import type { Region } from '../raster/strokeCover';
import { resizePlane } from '../raster/resize';
import type { Recipe, SubjectRecipe } from '../recipe/recipe';
import type { Outlines } from '../stage/drawn';
import { Bench, subjectOf, type BenchLamps } from './bench';
import { keyOf, ProductMemory } from './memory';

/** Where the line gets its pictures. */
export interface PictureSource {
  /** Something that changes when the picture's content does. */
  key(id: string): string;
  /**
   * The picture reduced to a scale, in linear light, made straight if it was multiplied over a colour (#rrggbb).
   *
   * @throws when it is not there
   */
  load(id: string, scale: number, multiplied?: string): Promise<Picture>;
  /**
   * The outlines of a line of type, in heights of the type about its middle; only where lettering can be set.
   *
   * @throws when there is no such font
   */
  letters?(text: string, font: string, spacing: number): Promise<Outlines>;
}

/** Everything the line makes. */
export interface Products {
  shot: Picture;
  matte: MatteProduct;
  /** Subjects proposed without marks, best first. */
  found: FoundSubject[];
  /** The subject's own colour to the edge, and what is behind it. */
  unmixed: Unmixed;
  /** The subject with its own colour to the edge, straight opacity. */
  subject: Picture;
  plate: PlateProduct;
  /** What of the plate the finished picture shows. */
  showing: Showing;
  /** The subject's cast shadow, offered as regions to invent as well. */
  shadow: Region[];
  /** All that stands behind the subject, as the lens sees it. */
  background: Picture;
  /** The subject with its cast and tone matched, and both sides' measures before it. */
  matched: { subject: Picture; subjectTone: Tone; backgroundTone: Tone; after: Tone };
  composite: Picture;
  /** Distance of what is in front at every pixel, m. */
  distances: Plane;
  /** All that stands behind the subject, before the lens. */
  unblurred: Picture;
  /** The lamps of the card farthest behind. */
  lamps: BenchLamps;
  /** The same had the plate not been made: the shot with the subject in it stands behind. */
  skipped: Picture;
}

/** The name of a product. */
export type Want = keyof Products;

/** What each product is called when progress is shown. */
const making: Record<Want, string> = {
  shot: 'Reading the shot',
  matte: 'Solving the matte',
  found: 'Looking for the subject',
  unmixed: 'Recovering edge colour',
  subject: 'Recovering edge colour',
  plate: 'Filling the hole',
  showing: 'Weighing what shows',
  shadow: 'Looking for the shadow',
  skipped: 'Laying the picture together',
  background: 'Blurring the background',
  matched: 'Matching the subject',
  composite: 'Laying the picture together',
  distances: 'Working out distances',
  lamps: 'Looking for lamps',
  unblurred: 'Setting up the bench',
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
  private readonly bench: Bench;

  constructor(
    private readonly recipe: Recipe,
    private readonly pictures: PictureSource,
    private readonly context: Context,
    private readonly memory: ProductMemory,
  ) {
    this.bench = new Bench(recipe, context, memory, {
      picture: (id) => this.picture(id),
      pictureKey: (id) => this.pictureKey(id),
      keptMatte: (id) => this.keptMatte(id),
      plate: (s) => this.plate(s).then((p) => p.plate),
      plateKey: (s) => [this.matteKey(s), s.plate],
      subject: (s) => this.matchedSubject(s),
      subjectKey: (s) => [this.matteKey(s), this.matchKey(s)],
      letters: (text, font, spacing) => {
        if (!pictures.letters) throw new Error('Lettering cannot be set here: there are no fonts.');
        return pictures.letters(text, font, spacing);
      },
    });
  }

  make<W extends Want>(want: W): Promise<Products[W]> {
    const subject = this.recipe.subjects[0];
    const makers: { [K in Want]: () => Promise<Products[K]> } = {
      shot: () => this.picture(subject.shot),
      matte: () => this.matte(subject),
      found: () => this.found(subject),
      unmixed: () => this.unmixed(subject),
      subject: () => this.subject(subject),
      plate: () => this.plate(subject),
      showing: () => this.showing(subject),
      shadow: () => this.shadow(subject),
      skipped: () => this.skipped(),
      background: () => this.remember('background', [this.bench.key(this.bench.behind())], (context) => this.bench.background(context)),
      matched: () => this.matched(subject),
      composite: () => this.remember('composite', [this.bench.key()], (context) => this.bench.composite(context)),
      distances: () => this.remember('distances', [this.bench.key()], () => this.bench.distances()),
      unblurred: () => this.remember('unblurred', [this.bench.key(this.bench.behind())], () => this.bench.unblurred()),
      lamps: () => this.remember('lamps', [this.bench.key()], () => this.bench.lamps()),
    };
    return makers[want]();
  }

  private remember<T>(want: Want, key: unknown[], work: (context: Context) => Promise<T>): Promise<T> {
    const named = { ...this.context, progress: (_: string, f: number) => this.context.progress?.(making[want], f) };
    return this.memory.get(keyOf(want, this.context.scale, this.context.seed, ...key), () => work(named));
  }

  private picture(id: string): Promise<Picture> {
    const { scale } = this.context;
    return this.memory.get(keyOf('picture', this.pictureKey(id), scale), () => this.pictures.load(id, scale, this.multiplied(id)));
  }

  private multiplied(id: string): string | undefined {
    return this.recipe.multiplied.find((m) => m.picture === id)?.over;
  }

  private pictureKey(id: string): unknown {
    return [this.pictures.key(id), this.multiplied(id) ?? 0];
  }

  private cutKey(s: SubjectRecipe): unknown[] {
    const { cut, marks } = s;
    const way = { marks: 0, screen: s.screen, difference: s.difference }[cut];
    const plate = cut === 'difference' && s.difference.plate !== null ? this.pictureKey(s.difference.plate) : 0;
    return [this.pictureKey(s.shot), cut, marks, way, plate];
  }

  private matteKey(s: SubjectRecipe): unknown[] {
    const kept = s.with.map(({ matte, how }) => [this.pictureKey(this.keptMatte(matte)), how]);
    return [...this.cutKey(s), s.garbage, s.trim, s.hand, kept];
  }

  private keptMatte(id: string): string {
    const found = this.recipe.mattes.find((m) => m.id === id);
    if (!found) throw new Error(`The recipe holds no matte ${id}.`);
    return found.picture;
  }

  /** What the shot alone decides; kept from mark to mark. */
  private ground(s: SubjectRecipe): Promise<MatteGround> {
    const key = keyOf('ground', this.pictureKey(s.shot), this.context.scale);
    return this.memory.get(key, async () => matteGround(await this.picture(s.shot), this.context));
  }

  /** The opacity as it is found: a stroke by hand or a trim does not solve it again. */
  private cutOut(s: SubjectRecipe): Promise<MatteProduct> {
    const named = { ...this.context, progress: (_: string, f: number) => this.context.progress?.(making.matte, f) };
    return this.memory.get(keyOf('cut', this.context.scale, this.context.seed, ...this.cutKey(s)), async () => {
      const ground = await this.ground(s);
      const plate = s.cut === 'difference' && s.difference.plate !== null ? await this.picture(s.difference.plate) : undefined;
      return cutOut({ ground, ...(plate && { plate }) }, s, named);
    });
  }

  private matte(s: SubjectRecipe): Promise<MatteProduct> {
    return this.remember('matte', this.matteKey(s), async (context) => {
      const cut = await this.cutOut(s);
      const kept = [];
      for (const { matte, how } of s.with) {
        const picture = await this.picture(this.keptMatte(matte));
        kept.push({ matte: resizePlane(matteOfPicture(picture), cut.matte.width, cut.matte.height), how });
      }
      return finishedCut(cut, s, kept, context);
    });
  }

  private found(s: SubjectRecipe): Promise<FoundSubject[]> {
    return this.remember('found', [this.pictureKey(s.shot)], async (context) => findSubject(await this.ground(s), context));
  }

  private unmixed(s: SubjectRecipe): Promise<Unmixed> {
    return this.remember('subject', this.matteKey(s), async (context) => {
      const shot = await this.picture(s.shot);
      return unmix(shot, await this.matte(s), s.screen.spill, context);
    });
  }

  private async subject(s: SubjectRecipe): Promise<Picture> {
    return (await this.unmixed(s)).subject;
  }

  /** The hole and how it is filled; strokes on top do not fill it again. */
  private filled(s: SubjectRecipe): Promise<FilledHole> {
    const { grow, feather, regions, fill, parts } = s.plate;
    const named = { ...this.context, progress: (_: string, f: number) => this.context.progress?.(making.plate, f) };
    // Which tries were made does not matter, only which is taken.
    const wanted = (f: typeof fill): unknown =>
      'tries' in f ? { ...f, tries: 0 } : f.kind === 'photographed' && f.picture ? this.pictureKey(f.picture) : f;
    const key = [grow, feather, regions, wanted(fill), parts.map((p) => [p.region, wanted(p.fill)])];
    return this.memory.get(keyOf('filled', this.context.scale, this.context.seed, ...this.matteKey(s), ...key), async () => {
      const { behind } = await this.unmixed(s);
      const { matte } = await this.matte(s);
      const shot = withOpacity(await this.picture(s.shot));
      return filledHole({ shot, behind, matte, photographed: (id) => this.picture(id) }, s.plate, named);
    });
  }

  private plate(s: SubjectRecipe): Promise<PlateProduct> {
    return this.remember('plate', [...this.matteKey(s), s.plate], async (context) => finishedPlate(await this.filled(s), s.plate, context));
  }

  private shadow(s: SubjectRecipe): Promise<Region[]> {
    return this.remember('shadow', this.matteKey(s), async (context) =>
      findShadow(await this.picture(s.shot), (await this.matte(s)).matte, context),
    );
  }

  private showing(s: SubjectRecipe): Promise<Showing> {
    return this.remember('showing', [...this.matteKey(s), s.plate, this.bench.key()], async (context) =>
      showing((await this.plate(s)).hole, await this.bench.seenOfPlate(s, context), context.scale),
    );
  }

  /** The finished picture with the shot, subject and all, where the plate would be. */
  private skipped(): Promise<Picture> {
    const cards = this.recipe.cards.map((c) =>
      c.kind === 'plate' ? { ...c, kind: 'picture' as const, picture: subjectOf(this.recipe, c.subject).shot, matte: null } : c,
    );
    // What the subject is matched to stays what it is, so that nothing but the halo differs.
    return new Line({ ...this.recipe, cards }, this.pictures, this.context, this.memory).make('composite');
  }

  /** Whether the subject depends on what is behind it: something is moved towards it, or it sheds light where a screen did. */
  private followsBackground(s: SubjectRecipe): boolean {
    const { cast, tone } = this.recipe.match;
    return cast !== 0 || tone !== 0 || (s.cut === 'screen' && s.screen.spill > 0);
  }

  private matchKey(s: SubjectRecipe): unknown {
    const { cast, tone } = this.recipe.match;
    return !this.followsBackground(s) ? 'as it is' : [cast, tone, this.bench.key(this.bench.behind())];
  }

  /** The subject as it goes into the picture; nothing is measured when nothing is to be moved. */
  private async matchedSubject(s: SubjectRecipe): Promise<Picture> {
    return this.followsBackground(s) ? (await this.matched(s)).subject : this.subject(s);
  }

  private matched(s: SubjectRecipe): Promise<Products['matched']> {
    const key = [this.matteKey(s), this.recipe.match, this.bench.key(this.bench.behind())];
    return this.remember('matched', key, async (context) => {
      const behind = await this.bench.background(context);
      const { subject: cutOut, spill } = await this.unmixed(s);
      const picture = spill ? putLight(cutOut, spill, meanColour(behind)) : cutOut;
      const subjectTone = measureTone(picture);
      const backgroundTone = measureTone(behind);
      const subject = await match(picture, subjectTone, backgroundTone, this.recipe.match, context);
      return { subject, subjectTone, backgroundTone, after: measureTone(subject) };
    });
  }
}

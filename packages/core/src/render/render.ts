import type { Context } from '../runtime/context';
import type { Unmixed } from '../matte/foreground/edgeColour';
import { findSubject, type FoundSubject } from '../matte/cut/findSubject';
import { matteOfPicture } from '../matte/edit/kept';
import { cutOut, finishedCut, matteGround, type MatteGround, type MatteProduct } from '../matte/matte';
import { unmix } from '../matte/foreground/unmix';
import { measureGrain, type Grain } from '../match/grain';
import { filledHole, finishedPlate, hasSmoothParts, smoothParts, type FilledHole, type PlateProduct } from '../plate/plate';
import { notLookedFor, residueOf, type Residue } from '../plate/residue';
import { findShadow } from '../plate/shadow';
import { showing, type Showing } from '../plate/showing';
import { edgeWalk, type EdgePlace } from '../proof/edgeWalk';
import { seenPicture, withOpacity, type Picture } from '../raster/plane';
import type { Region } from '../raster/strokeCover';
import { resizePlane } from '../raster/resize';
import { frameMatte } from '../motion/clipMatte';
import { momentOf } from '../recipe/moment';
import { clipKey, Follower, followedBy } from './following';
import type { Check } from '../proof/checks/index';
import type { Card, Recipe, SubjectRecipe } from '../recipe/recipe';
import { Bench } from './bench';
import { finished } from './finishing';
import type { Matching } from './matching';
import { asNearAs, measuredFinish, measuredSides } from './measuring';
import { proofOf, withoutGrades } from './proofing';
import { subjectOf } from './benchSource';
import { keyOf, ProductMemory } from './memory';
import { making, type PictureSource, type Products, type Want } from './products';

/**
 * Walks the line of products as far as one that is wanted. Every product is remembered under the hash of what made
 * it, so that a change re-makes only what follows from it.
 *
 * Of a recipe with time it is the first frame that is made: others are made of their moments (`momentOf`).
 *
 * The recipe's lengths are full-size pixels; `context.scale` is applied here and in the stages, nowhere else.
 *
 * @param memory keep one for as long as products should be remembered
 * @param subject whose matte and plate are wanted; the first one when there is none of that name
 * @throws AbortError, or the source's error
 */
export async function render<W extends Want>(
  recipe: Recipe,
  pictures: PictureSource,
  want: W,
  context: Context,
  memory: ProductMemory = new ProductMemory(),
  subject?: string,
): Promise<Products[W]> {
  const line = new Line(momentOf(recipe, recipe.time?.first ?? 0), pictures, context, memory, subject);
  return line.make(want);
}

/** Longest side, px, at which patches are chosen for shots whose longest side is over `chosenFrom`: those are not shown at full size. */
const chosenAt = 900;
const chosenFrom = 2000;

/** Pixels from which a picture is not held more often than it must be. */
const largeFrom = 20e6;

/** Pairs of frames over a clip at which it is looked for flicker. */
const flickerPairs = 4;

class Line {
  private readonly bench: Bench;
  private readonly follower: Follower;

  constructor(
    private readonly recipe: Recipe,
    private readonly pictures: PictureSource,
    private readonly context: Context,
    private readonly memory: ProductMemory,
    private readonly subjectId?: string,
  ) {
    this.follower = new Follower(
      pictures,
      context,
      (key, work) => this.remember('followed', key, work),
      (s) => this.matte(s),
    );
    this.bench = new Bench(recipe, context, memory, {
      picture: (id) => this.picture(id),
      pictureKey: (id) => this.pictureKey(id),
      photograph: (id, scale) => pictures.load(id, scale, this.multiplied(id), context),
      keptMatte: (id) => this.keptMatte(id),
      plate: (s) => this.plate(s).then((p) => p.plate),
      plateKey: (s) => this.plateKey(s),
      subject: (s) => this.unmixed(s, 'subject'),
      subjectKey: (s) => [this.matteKey(s), s.screen.spill],
      smoothPlate: async (s) => (hasSmoothParts(s.plate) ? smoothParts((await this.filled(s)).hole, s.plate, context.scale) : undefined),
      letters: (text, font, spacing) => {
        if (!pictures.letters) throw new Error('Lettering cannot be set here: there are no fonts.');
        return pictures.letters(text, font, spacing);
      },
    });
  }

  make<W extends Want>(want: W): Promise<Products[W]> {
    const [first] = this.recipe.subjects;
    const subject = this.recipe.subjects.find((s) => s.id === this.subjectId) ?? first;
    const makers: { [K in Want]: () => Promise<Products[K]> } = {
      shot: () => this.picture(subject.shot),
      matte: () => this.matte(subject),
      ground: () => this.ground(subject),
      following: () => this.follower.told(subject),
      checks: () => this.checks(subject),
      found: () => this.found(subject),
      unmixed: () => this.unmixed(subject),
      subject: async () => (await this.unmixed(subject)).subject,
      edge: () => this.edge(subject),
      plate: () => this.plate(subject),
      residue: () => this.residue(subject),
      showing: () => this.showing(subject),
      shadow: () => this.shadow(subject),
      skipped: () => this.skipped(),
      background: () => this.remember('background', [this.bench.compositeKey()], (context) => this.bench.background(context)),
      matching: () => this.matching(),
      sides: () => this.sides(first),
      cover: () => this.remember('cover', [this.bench.key()], (context) => this.bench.cover(context)),
      farthest: () => this.remember('farthest', [this.bench.key()], (context) => this.bench.farthestSeen(context)),
      layers: () => this.remember('layers', [this.bench.compositeKey()], (context) => this.bench.layers(context)),
      laid: () => this.remember('laid', [this.bench.compositeKey()], (context) => this.bench.composite(context)),
      composite: () => this.finished(first),
      distances: () => this.remember('distances', [this.bench.key()], () => this.bench.distances()),
      unblurred: () => this.remember('unblurred', [this.bench.key(this.bench.behind())], () => this.bench.unblurred()),
      lamps: () => this.remember('lamps', [this.bench.key()], () => this.bench.lamps()),
    };
    return makers[want]();
  }

  private remember<T>(want: Want | 'followed', key: unknown[], work: (context: Context) => Promise<T>): Promise<T> {
    return this.memory.get(this.keyOf(want, key), () => work(want === 'followed' ? this.context : this.told(want)));
  }

  /** The context whose progress is told as a product's. */
  private told(want: Want): Context {
    return { ...this.context, progress: (_, f) => this.context.progress?.(making[want], f) };
  }

  private keyOf(name: string, key: unknown[]): string {
    return keyOf(name, this.context.scale, this.context.seed, ...key);
  }

  private picture(id: string): Promise<Picture> {
    const { scale } = this.context;
    return this.memory.get(keyOf('picture', this.pictureKey(id), scale), async () =>
      seenPicture(await this.pictures.load(id, scale, this.multiplied(id), this.context), this.context),
    );
  }

  private multiplied(id: string): string | undefined {
    return this.recipe.multiplied.find((m) => m.picture === id)?.over;
  }

  private pictureKey(id: string): unknown {
    return [this.pictures.key(id), this.multiplied(id) ?? 0];
  }

  private cutKey(s: SubjectRecipe): unknown[] {
    const { cut, marks } = s;
    const followed = followedBy(s);
    if (followed) return [clipKey(followed), followed.marks, followed.frame];
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
    return this.memory.get(this.keyOf('cut', this.cutKey(s)), async () => {
      const context = this.told('matte');
      const followed = followedBy(s);
      const clip = followed && (await this.follower.followed(followed));
      if (clip) return frameMatte(clip, followed.frame, context);
      const ground = await this.ground(s);
      const plate = s.cut === 'difference' && s.difference.plate !== null ? await this.picture(s.difference.plate) : undefined;
      return cutOut({ ground, ...(plate && { plate }) }, s, context);
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

  /** @param wanted of so large a picture that both sides would be much to hold, `subject` makes it alone where they are not at hand */
  private unmixed(s: SubjectRecipe, wanted: 'both' | 'subject' = 'both'): Promise<Unmixed> {
    const key = this.matteKey(s);
    const isLarge = s.size.width * s.size.height * this.context.scale ** 2 > largeFrom;
    const alone = wanted === 'subject' && isLarge && !this.memory.has(this.keyOf('subject', key));
    const make = async (context: Context): Promise<Unmixed> =>
      unmix(await this.picture(s.shot), await this.matte(s), s.screen.spill, context, alone ? 'subject' : 'both');
    return alone ? this.memory.get(this.keyOf('alone', key), () => make(this.told('subject'))) : this.remember('subject', key, make);
  }

  private edge(s: SubjectRecipe): Promise<EdgePlace[]> {
    return this.remember('edge', this.matteKey(s), async (context) => {
      const { subject, behind } = await this.unmixed(s);
      return edgeWalk(subject, behind, context);
    });
  }

  /** The hole and how it is filled; strokes on top do not fill it again. */
  private filled(s: SubjectRecipe): Promise<FilledHole> {
    const { grow, feather, regions, fill, parts } = s.plate;
    // Which tries were made does not matter, only which is taken.
    const wanted = (f: typeof fill): unknown =>
      'tries' in f ? { ...f, tries: 0 } : f.kind === 'photographed' && f.picture ? this.pictureKey(f.picture) : f;
    const fromFrames = [fill, ...parts.map((p) => p.fill)].some((f) => f.kind === 'frames');
    const ground = fromFrames && s.follows ? [clipKey(s.follows), s.follows.frame] : 0;
    const key = [grow, feather, regions, wanted(fill), parts.map((p) => [p.region, wanted(p.fill)]), ground];
    return this.memory.get(this.keyOf('filled', [...this.matteKey(s), ...key]), async () => {
      const { behind } = await this.unmixed(s);
      const { matte } = await this.matte(s);
      const photographed = (id: string): Promise<Picture> => this.picture(id);
      return filledHole(
        {
          shot: async () => withOpacity(await this.picture(s.shot)),
          behind,
          matte,
          photographed,
          frames: () => this.follower.groundBehind(s),
          residue: await this.residue(s),
          choices: await this.choices(s),
        },
        s.plate,
        this.told('plate'),
      );
    });
  }

  private async residue(s: SubjectRecipe): Promise<Residue> {
    // What other frames show needs no guess of what the subject left.
    if (s.plate.fill.kind === 'frames' && (await this.follower.groundBehind(s))) return notLookedFor((await this.matte(s)).matte);
    return this.remember('residue', this.matteKey(s), async (context) =>
      residueOf(await this.picture(s.shot), (await this.matte(s)).matte, context),
    );
  }

  /**
   * Where the patches of a large shot come from is decided on a small one: looked for at each size anew, they would be others,
   * and what is exported would not be what was seen.
   */
  private async choices(s: SubjectRecipe): Promise<FilledHole['choices']> {
    if (![s.plate.fill, ...s.plate.parts.map((p) => p.fill)].some((f) => 'tries' in f || f.kind === 'photographed')) return [];
    const size = await this.pictures.size?.(s.shot);
    if (!size) return [];
    const longest = Math.max(size.width, size.height);
    const scale = chosenAt / longest;
    if (longest <= chosenFrom || this.context.scale * longest <= chosenAt) return [];
    const small = new Line(this.recipe, this.pictures, { ...this.context, scale }, this.memory, this.subjectId);
    return (await small.filled(s)).choices;
  }

  private plate(s: SubjectRecipe): Promise<PlateProduct> {
    return this.remember('plate', this.plateKey(s), async (context) => finishedPlate(await this.filled(s), s.plate, context));
  }

  private plateKey(s: SubjectRecipe): unknown[] {
    const fromFrames = [s.plate.fill, ...s.plate.parts.map((p) => p.fill)].some((f) => f.kind === 'frames');
    return [...this.matteKey(s), s.plate, fromFrames && s.follows ? [clipKey(s.follows), s.follows.frame] : 0];
  }

  private shadow(s: SubjectRecipe): Promise<Region[]> {
    return this.remember('shadow', this.matteKey(s), async (context) =>
      findShadow(await this.picture(s.shot), (await this.matte(s)).matte, context),
    );
  }

  private showing(s: SubjectRecipe): Promise<Showing> {
    return this.remember('showing', [...this.plateKey(s), this.bench.key()], async (context) =>
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

  /** Every check of the finished picture. */
  private checks(s: SubjectRecipe): Promise<Check[]> {
    const key = [this.matteKey(s), this.plateKey(s), this.finishKey(), this.recipe.match.references];
    return this.remember('checks', key, async (context) => {
      const plain = withoutGrades(this.recipe);
      const sizes = new Map<string, { width: number; height: number }>();
      for (const card of this.recipe.cards) if (card.kind === 'picture') sizes.set(card.id, await this.fullSize(card.picture));
      const inputs = {
        ...{ recipe: this.recipe, matte: (await this.matte(s)).matte, edge: await this.edge(s), plate: await this.plate(s) },
        ...{ residue: await this.residue(s), showing: await this.showing(s), sides: await this.sides(s) },
        ...{ finished: await this.make('composite'), cover: await this.make('cover') },
        ungraded: plain && (await new Line(plain, this.pictures, this.context, this.memory, this.subjectId).make('composite')),
        certainty: (await this.follower.told(s))?.certainty,
        flickering: await this.follower.flickering(s, flickerPairs),
        sizeOf: (card: Card) =>
          card.kind === 'subject' || card.kind === 'plate' ? subjectOf(this.recipe, card.subject).size : sizes.get(card.id),
      };
      return proofOf(inputs, context);
    });
  }

  private async fullSize(id: string): Promise<{ width: number; height: number }> {
    const told = await this.pictures.size?.(id);
    if (told) return { width: told.width, height: told.height };
    const { width, height } = await this.picture(id);
    return { width: width / this.context.scale, height: height / this.context.scale };
  }

  private async matching(): Promise<Matching | undefined> {
    const card = this.bench.subjectCard();
    return card && this.bench.matching(card);
  }

  /** Grain of a subject's shot at the size that is rendered. */
  private grain(s: SubjectRecipe): Promise<Grain | undefined> {
    const key = keyOf('grain', this.pictureKey(s.shot), this.context.scale);
    return this.memory.get(key, async () => measureGrain(await this.picture(s.shot)));
  }

  private finishKey(): unknown {
    const { finish } = this.recipe;
    const { matte } = finish.limit;
    const { grain, dither } = finish;
    const moment = grain.back > 0 || grain.over > 0 || dither ? (this.recipe.moment ?? 0) : 0;
    return [this.bench.compositeKey(), finish, moment, matte === null ? 0 : this.pictureKey(this.keptMatte(matte))];
  }

  private finished(s: SubjectRecipe): Promise<Picture> {
    return this.remember('composite', [this.finishKey()], async (context) => {
      const laid = await this.make('laid');
      const { finish } = this.recipe;
      const shot = finish.grain.back > 0 ? await this.grain(s) : undefined;
      const kept = await this.bench.limitMatte(finish, laid);
      const grain = shot && { shot, left: await this.bench.grainLeft(shot, context) };
      return finished(laid, this.recipe, { ...(kept && { kept }), ...(grain && { grain }) }, context);
    });
  }

  /** Both sides of the cut, measured as they are seen; the references where they are drawn. */
  private async sides(s: SubjectRecipe): Promise<Products['sides']> {
    const { references } = this.recipe.match;
    const { scale } = this.context;
    const seen = await this.remember('sides', ['laid', this.bench.compositeKey(), references], async (context) => {
      const subject = await this.bench.subjectSeen(context);
      const behind = await this.bench.background(context);
      return measuredSides({ subject, behind, references, near: await this.asNear(subject?.a), scale });
    });
    return this.remember('sides', [this.finishKey(), references], async () => {
      const { a } = (await this.bench.subjectSeen(this.context)) ?? {};
      const found = measuredFinish(await this.make('composite'), a, references, scale);
      const grain = await this.grain(s);
      return {
        banding: found.banding,
        ownPlate: this.bench.onOwnPlate(),
        subject: { ...seen.subject, ...(grain && { grain }) },
        background: { ...seen.background, ...(found.grain && { grain: found.grain }) },
      };
    });
  }

  private async asNear(opacity: Float32Array | undefined): Promise<Float32Array | undefined> {
    const card = this.bench.subjectCard();
    if (!card || !opacity) return undefined;
    const { data } = await this.make('distances');
    return asNearAs(card.distance, opacity, data, this.recipe.lens);
  }
}

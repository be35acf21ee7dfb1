import { pause, type Context } from '../runtime/context';
import { graded } from '../grade/grade';
import { blurredBy, defocus } from '../lens/defocus';
import { distanceField, isFlat } from '../lens/distances';
import { blurBy, type Blur } from '../lens/band';
import { strewnLamps } from '../lens/strewn';
import { limitPlane } from '../grade/limit';
import { seenLamps, type FoundLamps, type SeenLamp } from '../lens/lamps';
import { matteOfPicture } from '../matte/edit/kept';
import { makePicture, meanColour, withOpacity, type Picture, type Plane } from '../raster/plane';
import { resizePlane, scaledSize } from '../raster/resize';
import { throughAir } from '../match/air';
import { carryPalette } from '../match/palette';
import { surrounded } from '../match/wrap';
import { linearOfHex } from '../colour/srgb';
import { putLight } from '../matte/foreground/unmix';
import type { Card, Recipe, SubjectRecipe } from '../recipe/recipe';
import { over } from '../placement/blend';
import { glow, lettering } from '../placement/drawn';
import { cameraRests, cameraView, fromCamera, throughCamera } from '../placement/camera';
import { coverUnit, place, placePlane, wayTo, type Way } from '../placement/place';
import { flatLaying, reliefLaying, type Laying } from '../placement/relief';
import { subjectOf, type BenchSource, type PictureCard, type SubjectCard } from './benchSource';
import { cardLamps, type LampCard } from './cardLamps';
import { adjustedCard } from './finishing';
import { matchingOf, type Matching } from './matching';
import { keyOf, type ProductMemory } from './memory';

type Adjustments = Pick<Card, 'grade' | 'detail' | 'limit' | 'wash'>;

/** What a card shows, and its way while the camera rests and as it is. */
interface Own {
  picture: Picture;
  resting: Way;
  way: Way;
}

/** A card in its place in the frame, before the lens. */
interface Standing {
  picture: Picture;
  distance: number | Plane;
  lamps: SeenLamp[];
}

const noWay: Way = { width: 1, height: 1, x: 0, y: 0, turn: 0, flip: false };

/** What stands before the camera, card by card, each as the lens sees it. */
export class Stand {
  protected readonly size: { width: number; height: number };
  protected readonly scene: { width: number; height: number };

  constructor(
    protected readonly recipe: Recipe,
    protected readonly context: Context,
    protected readonly memory: ProductMemory,
    protected readonly source: BenchSource,
  ) {
    const { frame, subjects } = recipe;
    this.size = scaledSize(frame.width, frame.height, context.scale);
    const { width, height } = subjects[0]?.size ?? frame;
    this.scene = scaledSize(width, height, context.scale);
  }

  /** Cards that are seen, from the farthest to the nearest: not those that the camera has come up to. */
  cards(): Card[] {
    return this.recipe.cards.filter((c) => !c.hidden && this.throughCamera(noWay, c)).sort((a, b) => b.distance - a.distance);
  }

  /** A card's way as the camera sees it from where it is. */
  private throughCamera(way: Way, { distance }: Pick<Card, 'distance'>): Way | undefined {
    const { camera, lens, frame } = this.recipe;
    return throughCamera(way, distance, camera, lens, frame, this.context.scale);
  }

  /** A card's way while the camera rests, and as it sees it from where it is. */
  private waysOf(picture: { width: number; height: number }, unit: number, card: Card): { resting: Way; way: Way } {
    const resting = wayTo(picture, unit, card.placement, this.recipe.frame, this.context.scale);
    return { resting, way: this.throughCamera(resting, card) ?? resting };
  }

  /** What of the camera's place and of the lens moves cards; nothing while it rests. */
  private cameraKey(): unknown {
    const { camera, lens } = this.recipe;
    return cameraRests(camera) ? 0 : [camera, lens.focalLength, lens.sensorWidth, lens.across];
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
    if (card.kind === 'subject') return this.subjectKey(subjectOf(this.recipe, card.subject));
    return card.kind === 'lettering' ? [card.text, card.font, card.size, card.spacing, card.colour] : [card.size, card.colour, card.lift];
  }

  private standingKey(card: Card): unknown {
    const map = card.distances.map ? this.source.pictureKey(card.distances.map.picture) : 0;
    const lamps = 'lamps' in card ? card.lamps : 0;
    return [
      card.kind,
      this.sourceKey(card),
      card.placement,
      this.adjustmentsKey(card),
      this.airKey(),
      card.distance,
      card.distances,
      card.distances.standing.length > 0 ? this.subjectCard()?.distance : 0,
      map,
      lamps,
      this.recipe.frame,
      this.scene,
      this.cameraKey(),
    ];
  }

  private seenKey(card: Card): unknown {
    const { lens } = this.recipe;
    const blurred = card.band ? [card.band, lens.aperture, lens.across] : card.blur === null ? lens : [card.blur, lens.aperture];
    return [this.standingKey(card), blurred, this.limitKey(card.blurLimit)];
  }

  private adjustmentsKey({ grade, detail, limit, wash }: Adjustments): unknown {
    return [grade, detail, this.limitKey(limit), wash];
  }

  private limitKey(limit: Card['limit']): unknown {
    return [limit, limit.matte === null ? 0 : this.source.pictureKey(this.source.keptMatte(limit.matte))];
  }

  /** Whether a subject depends on what is behind it: something is moved towards it, or it sheds light where a screen did. */
  private followsBackground(s: SubjectRecipe): boolean {
    return this.matches() || (s.cut === 'screen' && s.screen.spill > 0);
  }

  protected matches(): boolean {
    const { strengths, palette } = this.recipe.match;
    return palette > 0 || Object.values(strengths).some((v) => v > 0);
  }

  protected matchKey(): unknown {
    const { moves, strengths, palette, references, protect, glow } = this.recipe.match;
    return this.matches() ? [moves, strengths, palette, references, protect, glow] : 0;
  }

  private subjectKey(s: SubjectRecipe): unknown {
    if (!this.followsBackground(s)) return this.source.subjectKey(s);
    return [this.source.subjectKey(s), this.matchKey(), this.key(this.behind())];
  }

  /** A subject cut out, lit by what is behind it where a screen's light was taken off; neither matched nor graded. */
  private async cut(s: SubjectRecipe): Promise<Picture> {
    const { subject, spill } = await this.source.subject(s);
    return spill ? putLight(subject, spill, meanColour(await this.rawBackground())) : subject;
  }

  /** What of cast and tone a subject and its background are moved by. */
  matching(card: SubjectCard): Promise<Matching> {
    const s = subjectOf(this.recipe, card.subject);
    const key = [
      this.source.subjectKey(s),
      this.matchKey(),
      this.recipe.match.references,
      card.placement,
      this.cameraKey(),
      this.key(this.behind()),
    ];
    return this.memory.get(keyOf('matching', this.context.scale, key), async () => {
      const picture = await this.cut(s);
      const { width, height } = this.size;
      const { way } = this.waysOf(picture, 1, card);
      return matchingOf(place(picture, width, height, way), await this.rawBackground(), this.recipe.match, this.context.scale);
    });
  }

  /** A subject moved towards its background as far as it is asked to. */
  private async matched(card: SubjectCard): Promise<Picture> {
    const picture = await this.cut(subjectOf(this.recipe, card.subject));
    if (!this.matches()) return picture;
    const { before, goal, subject } = await this.matching(card);
    const { palette, protect, glow } = this.recipe.match;
    return graded(await carryPalette(picture, before.subject, goal, palette, this.context), subject, this.context, { protect, glow });
  }

  /** What a card shows, with its own grade, and the way from it to the frame. Lettering and glows are made in the frame. */
  protected async own(card: PictureCard): Promise<Own> {
    if (card.kind !== 'picture') {
      const picture = card.kind === 'plate' ? await this.source.plate(subjectOf(this.recipe, card.subject)) : await this.matched(card);
      return { picture: await this.adjusted(picture, card), ...this.waysOf(picture, 1, card) };
    }
    const whole = await this.source.picture(card.picture);
    const picture = card.matte === null ? whole : withOpacity(whole, await this.matteFor(card.matte, whole));
    const unit = coverUnit(picture, this.scene.width, this.scene.height);
    return { picture: await this.adjusted(picture, card), ...this.waysOf(picture, unit, card) };
  }

  private async adjusted(p: Picture, adjustments: Adjustments): Promise<Picture> {
    return adjustedCard(p, adjustments, await this.limitMatte(adjustments, p), this.context);
  }

  /** The kept matte that limits a grade, in a picture's size. */
  async limitMatte({ limit }: Pick<Card, 'limit'>, { width, height }: { width: number; height: number }): Promise<Plane | undefined> {
    if (limit.matte === null) return undefined;
    return resizePlane(matteOfPicture(await this.source.picture(this.source.keptMatte(limit.matte))), width, height);
  }

  private async matteFor(id: string, picture: Picture): Promise<Plane> {
    const kept = matteOfPicture(await this.source.picture(this.source.keptMatte(id)));
    const matte = resizePlane(kept, picture.width, picture.height);
    const data = picture.a ? matte.data.map((v, i) => v * picture.a![i]) : matte.data;
    return { ...matte, data };
  }

  protected standing(card: Card): Promise<Standing> {
    return this.memory.get(keyOf('standing', this.context.scale, this.standingKey(card)), async () => {
      const { width, height } = this.size;
      const { scale } = this.context;
      if (card.kind === 'lettering' || card.kind === 'glow') {
        const { way } = this.waysOf({ width: 1, height: 1 }, 1, card);
        const picture =
          card.kind === 'glow'
            ? glow(card.size, card.colour, card.lift, width, height, way, scale)
            : lettering(await this.source.letters(card.text, card.font, card.spacing), card.size, card.colour, width, height, way, scale);
        const distance = this.distanceOfFlat(card);
        return { picture: await this.hazed(await this.adjusted(picture, card), distance), distance, lamps: [] };
      }
      const own = await this.own(card);
      const { picture } = own;
      const { laying } = await this.layingOf(card, own);
      const { distance } = laying;
      const lamps = 'lamps' in card ? await this.lampsOf(card, picture, laying) : [];
      return { picture: await this.hazed(laying.picture(picture), distance), distance, lamps };
    });
  }

  /** How a card comes into the frame: as a whole, or, when it has distances of its own and the camera has moved, point by point. */
  protected async layingOf(card: PictureCard, own?: Own): Promise<{ laying: Laying; size: { width: number; height: number } }> {
    const map = card.distances.map ? this.source.pictureKey(card.distances.map.picture) : 0;
    const standing = card.distances.standing.length > 0 ? this.subjectCard()?.distance : 0;
    const { kind, placement, distance, distances } = card;
    const key = [kind, this.sourceKey(card), placement, distance, distances, map, standing, this.adjustmentsKey(card), this.recipe.frame, this.scene, this.cameraKey()]; // prettier-ignore
    return this.memory.get(keyOf('laying', this.context.scale, key), async () => {
      const { picture, way, resting } = own ?? (await this.own(card));
      const size = { width: picture.width, height: picture.height };
      if (isFlat(distances)) return { laying: flatLaying(way, size, this.size, this.distanceOfFlat(card)), size };
      const depths = distances.map ? await this.source.picture(distances.map.picture) : undefined;
      const field = distanceField(picture, distance, distances, depths, this.context, this.subjectCard()?.distance);
      const { camera, lens, frame } = this.recipe;
      if (cameraRests(camera))
        return { laying: flatLaying(way, size, this.size, placePlane(field, this.size.width, this.size.height, way)), size };
      return { laying: reliefLaying(field, resting, cameraView(camera, lens, frame, this.context.scale), this.size), size };
    });
  }

  private distanceOfFlat({ distance }: Pick<Card, 'distance'>): number | Plane {
    const { camera, lens, frame } = this.recipe;
    return fromCamera(distance, camera, lens, frame, this.context.scale, this.size);
  }

  private airKey(): unknown {
    const { air } = this.recipe.match;
    const far = this.farthest();
    return air.haze === 0 ? 0 : [air, air.colour === 'auto' && far ? this.sourceKey(far) : 0];
  }

  /** The card from which the air has its colour. */
  private farthest(): Card | undefined {
    return this.cards().find((c) => c.kind === 'plate' || c.kind === 'picture');
  }

  private async hazed(p: Picture, distance: number | Plane): Promise<Picture> {
    const { air } = this.recipe.match;
    return air.haze === 0 ? p : throughAir(p, distance, air.haze, await this.airColour());
  }

  private async airColour(): Promise<readonly number[]> {
    const { air } = this.recipe.match;
    const far = this.farthest();
    if (air.colour !== 'auto') return linearOfHex(air.colour);
    if (!far || (far.kind !== 'plate' && far.kind !== 'picture')) return [0.6, 0.65, 0.7];
    const picture =
      far.kind === 'plate' ? await this.source.plate(subjectOf(this.recipe, far.subject)) : await this.source.picture(far.picture);
    return meanColour(picture);
  }

  /** The lamps of a card's picture. @param picture with the card's grade */
  protected lampsIn(card: LampCard, picture: Picture): Promise<FoundLamps> {
    const { recipe, context, memory, source } = this;
    return cardLamps(card, picture, [this.sourceKey(card), this.adjustmentsKey(card)], { recipe, context, memory, source });
  }

  private async lampsOf(card: LampCard, picture: Picture, laying: Laying): Promise<SeenLamp[]> {
    const params = card.lamps;
    if (params.lift === 0 && params.set.length === 0 && params.areas.length === 0) return [];
    const found = params.lift === 0 ? { lamps: [], proposed: 0 } : await this.lampsIn(card, picture);
    const strewn = strewnLamps(picture, params.areas, this.recipe.seed, this.context.scale);
    return seenLamps(found, params, (x, y) => this.inFrame(laying, x, y), strewn);
  }

  /** A point of a card's full-size picture in the frame as rendered; `size` for lengths. */
  protected inFrame(laying: Laying, x: number, y: number): { x: number; y: number; size: number } {
    const { scale } = this.context;
    const at = laying.point(x * scale, y * scale);
    return { ...at, size: at.size * scale };
  }

  /** A card as the lens sees it. */
  protected seen(card: Card, context: Context): Promise<Picture> {
    return this.memory.get(keyOf('seen', context.scale, this.seenKey(card)), async () => {
      const { picture, distance, lamps } = await this.standing(card);
      return this.throughLens(card, picture, distance, context, lamps);
    });
  }

  /** What stands on a card as the lens sees it: by its band of sharpness, by its own blur, or by its distance. */
  protected async throughLens(
    card: Card,
    picture: Picture,
    distance: number | Plane,
    context: Context,
    lamps: SeenLamp[] = [],
  ): Promise<Picture> {
    const blur = await this.blurOf(card, distance);
    if ('disc' in blur) return blurredBy(picture, blur.disc * context.scale, this.recipe.lens.aperture, context, lamps);
    return defocus(picture, blur.distance, blur.lens, context, lamps);
  }

  /** What blurs a card. */
  protected async blurOf(card: Card, distance: number | Plane): Promise<Blur> {
    return blurBy(card, distance, await this.blurShare(card), this.recipe.lens, this.size, this.context.scale);
  }

  /** What share of its blur a card has at every pixel of the frame; nothing: all of it everywhere. */
  private async blurShare(card: Card): Promise<Plane | undefined> {
    const { blurLimit: limit } = card;
    const { width, height } = this.size;
    const { scale } = this.context;
    if (limit.matte === null && !limit.graduated && limit.painted.length === 0) return undefined;
    if (card.kind === 'lettering' || card.kind === 'glow')
      return limitPlane(limit, width, height, scale, await this.limitMatte({ limit }, this.size));
    const { laying, size } = await this.layingOf(card);
    const share = limitPlane(limit, size.width, size.height, scale, await this.limitMatte({ limit }, size));
    return share && laying.plane(share);
  }

  /** @param onto black when it is left out: mostly the first card covers it, so it is made only where it is seen */
  protected async laid(cards: Card[], context: Context, onto?: Picture): Promise<Picture> {
    let out = onto;
    for (const card of cards) {
      const picture = await this.seen(card, context);
      if (!picture.a && card.opacity === 1 && card.blend === 'normal') {
        out = picture;
        continue;
      }
      await pause(context, 'Laying the picture together');
      const below = out ?? this.black();
      out = over(card.kind === 'subject' ? await this.inItsLight(picture, below) : picture, below, card.opacity, card.blend);
    }
    return out ?? this.black();
  }

  private black(): Picture {
    return makePicture(this.size.width, this.size.height);
  }

  /** A subject as it stands in the light of what is behind it. */
  protected async inItsLight(subject: Picture, behind: Picture): Promise<Picture> {
    const { ambient, wrap } = this.recipe.match;
    const colour = ambient.colour === 'auto' ? meanColour(behind) : linearOfHex(ambient.colour);
    return surrounded(subject, behind, { ambient, wrap }, colour, this.context.scale);
  }

  /** What stands behind as the lens sees it, before anything of it is moved towards the subject. */
  protected rawBackground(context: Context = this.context): Promise<Picture> {
    const base = (): Promise<Picture> => this.laid(this.behind(), context);
    return this.memory.get(keyOf('behind', context.scale, this.key(this.behind())), base);
  }

  /** The first subject's card. */
  subjectCard(): SubjectCard | undefined {
    return this.cards().find((c): c is SubjectCard => c.kind === 'subject');
  }
}

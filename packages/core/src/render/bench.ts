import type { Context } from '../runtime/context';
import { graded } from '../grade/grade';
import { type FoundLamps, type Lamp } from '../lens/lamps';
import { blurDiscAt } from '../lens/thinLens';
import { contactShadow, shaded } from '../match/contact';
import { grainBehind, measureGrain, type Grain } from '../match/grain';
import { shineColour, shone } from '../match/shine';
import { makePicture, makePlane, withOpacity, type Picture, type Plane } from '../raster/plane';
import { sampleAt } from '../raster/sample';
import type { Card, SubjectRecipe } from '../recipe/recipe';
import { over } from '../placement/blend';
import { subjectOf } from './benchSource';
import { Stand } from './stand';

/** The lamps of a card, also by where they lie in the finished picture. */
export interface BenchLamps extends Pick<FoundLamps, 'sizes' | 'proposed'> {
  /** The card they belong to; nothing when no card has any. */
  card?: string;
  /** In px of the card's full-size picture, and at `at` of the finished one. */
  lamps: (Lamp & { at: { x: number; y: number; radius: number } })[];
  /** Those set by hand, where they lie in the finished picture. */
  set: { x: number; y: number; radius: number }[];
}

/** One card as it is laid into the picture. */
export interface BenchLayer {
  id: string;
  name: string;
  /** Of the frame's size, with straight opacity where it is not everywhere. */
  picture: Picture;
  opacity: number;
  blend: Card['blend'];
}

/** What the camera makes of all that stands before it. */
export class Bench extends Stand {
  /** What stands behind, in its place, before the lens. */
  async unblurred(): Promise<Picture> {
    let out = makePicture(this.size.width, this.size.height);
    for (const card of this.behind()) out = over((await this.standing(card)).picture, out, card.opacity, card.blend);
    return out;
  }

  /** The farthest card by itself; nothing but black when the bench is empty. */
  async farthestSeen(context: Context): Promise<Picture> {
    const [card] = this.cards();
    return card ? this.seen(card, context) : makePicture(this.size.width, this.size.height);
  }

  /** Whether all that stands behind the first subject is of its own photograph. */
  onOwnPlate(): boolean {
    const subject = this.subjectCard()?.subject;
    return this.behind().length > 0 && this.behind().every((c) => c.kind === 'plate' && c.subject === subject);
  }

  async background(context: Context): Promise<Picture> {
    const raw = await this.rawBackground(context);
    const card = this.subjectCard();
    if (!card || !this.matches() || this.recipe.match.moves === 'subject') return raw;
    const { protect, glow } = this.recipe.match;
    return graded(raw, (await this.matching(card)).background, context, { protect, glow });
  }

  /** The first subject as it is laid into the picture, with its opacity. */
  async subjectSeen(context: Context): Promise<Picture | undefined> {
    const card = this.subjectCard();
    return card && this.inItsLight(await this.seen(card, context), await this.background(context));
  }

  /** A key of all that the composite adds to its cards. */
  compositeKey(): unknown {
    const { wrap, ambient, contact, shine } = this.recipe.match;
    return [this.key(), this.matchKey(), wrap, ambient, contact, shine];
  }

  /** All cards over each other, with the shadow and the glow between them; not yet finished. */
  async composite(context: Context): Promise<Picture> {
    let behind = await this.background(context);
    const { contact, shine } = this.recipe.match;
    const card = this.subjectCard();
    const { scale } = context;
    if (card && contact.strength > 0) {
      const { picture } = await this.standing(card);
      if (picture.a)
        behind = shaded(behind, contactShadow({ ...this.size, data: picture.a }, contact, scale), contact.strength * card.opacity);
    }
    const at = shine.at && ([shine.at[0] * scale, shine.at[1] * scale] as const);
    const colour = at ? shineColour(behind, at, 0.08 * shine.radius * scale) : [0, 0, 0];
    if (at) behind = shone(behind, at, shine.radius * scale, colour, shine.strength);
    const whole = await this.laid(this.cards().slice(this.behind().length), context, behind);
    if (!at || shine.over === 0 || !card) return whole;
    // What shines through from behind lies there already; only the subject gets it on top.
    const cover = (await this.seen(card, context)).a;
    const lit = shone(whole, at, shine.radius * scale, colour, shine.strength * shine.over);
    return cover ? over(withOpacity(lit, { ...this.size, data: cover }), whole) : whole;
  }

  /** Each card as it is laid into the picture, the farthest first: after its grade and the lens, before what is done to the whole. */
  async layers(context: Context): Promise<BenchLayer[]> {
    const out: BenchLayer[] = [];
    const behind = this.behind();
    const ground = await this.background(context);
    for (const card of this.cards()) {
      const seen = await this.seen(card, context);
      const moved = behind.length === 1 && card === behind[0] && !seen.a ? ground : seen;
      const picture = card.kind === 'subject' ? await this.inItsLight(moved, ground) : moved;
      out.push({ id: card.id, name: card.name || card.kind, picture, opacity: card.opacity, blend: card.blend });
    }
    return out;
  }

  /** Opacity of the first subject in the frame. */
  async cover(context: Context): Promise<Plane> {
    const card = this.subjectCard();
    const picture = card && (await this.seen(card, context));
    return picture?.a ? { ...this.size, data: picture.a } : makePlane(this.size.width, this.size.height);
  }

  /** How much of the shot's grain is left at each pixel: 0 none, 1 all (standard deviations). */
  async grainLeft(shot: Grain, context: Context): Promise<Plane> {
    const out = makePlane(this.size.width, this.size.height);
    for (const card of this.cards()) {
      const { picture, distance: stands } = await this.standing(card);
      const blur = await this.blurOf(card, stands);
      const distance = 'disc' in blur ? stands : blur.distance;
      const own = await this.ownGrain(card, picture, shot);
      const opacity = (await this.seen(card, context)).a;
      const through = card.kind === 'picture' && card.blend !== 'normal' ? 0 : card.opacity;
      const disc = (metres: number): number =>
        ('disc' in blur ? blur.disc : blurDiscAt(blur.lens, metres, this.recipe.lens.across)) * context.scale;
      const even = typeof distance === 'number' ? grainBehind(shot.size, disc(distance)) ** 2 : 0;
      for (let p = 0; p < out.data.length; p++) {
        const cover = through * (opacity ? opacity[p] : 1);
        if (cover === 0) continue;
        const blurred = typeof distance === 'number' ? even : grainBehind(shot.size, disc(distance.data[p])) ** 2;
        const there = blurred * (typeof own === 'number' ? own : own.data[p]);
        out.data[p] += cover * (there - out.data[p]);
      }
    }
    for (let p = 0; p < out.data.length; p++) out.data[p] = Math.sqrt(out.data[p]);
    return out;
  }

  /** Variance of a card's own grain before the lens, of the shot's. */
  private async ownGrain(card: Card, picture: Picture, shot: Grain): Promise<number | Plane> {
    if (card.kind === 'subject') return 1;
    if (card.kind === 'picture') return Math.min(1, ((measureGrain(picture)?.level ?? shot.level) / Math.max(1e-6, shot.level)) ** 2);
    if (card.kind !== 'plate') return 0;
    const smooth = await this.source.smoothPlate(subjectOf(this.recipe, card.subject));
    if (!smooth) return 1;
    const { laying } = await this.layingOf(card);
    const placed = laying.plane(smooth);
    return { ...placed, data: placed.data.map((v) => 1 - Math.min(1, Math.max(0, v))) };
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
    const spread = await this.throughLens(card, through, distance, context);
    const { laying } = await this.layingOf(card);
    const shown = { width, height, data: spread.r };
    for (let y = 0, p = 0; y < plate.height; y++) {
      for (let x = 0; x < plate.width; x++, p++) {
        const to = laying.point(x + 0.5, y + 0.5);
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
    if (!card || !('lamps' in card)) return { lamps: [], sizes: [], proposed: 0, set: [] };
    const { picture } = await this.own(card);
    const { laying } = await this.layingOf(card);
    const { scale } = this.context;
    const found = await this.lampsIn(card, picture);
    const placed = (x: number, y: number, radius: number): { x: number; y: number; radius: number } => {
      const at = this.inFrame(laying, x, y);
      return { x: at.x / scale, y: at.y / scale, radius: (radius * at.size) / scale };
    };
    return {
      card: card.id,
      sizes: found.sizes,
      proposed: found.proposed,
      lamps: found.lamps.map((l) => ({ ...l, at: placed(l.x, l.y, l.radius) })),
      set: card.lamps.set.map((l) => placed(l.x, l.y, l.size / 2)),
    };
  }
}

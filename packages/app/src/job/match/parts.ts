import { defaultCard, defaultAdjustments, defaultFinish, defaultMatch, type Card, type Recipe, type Wash } from '@ritaglio/core';
import { editCard } from '../edit';
import { within, type PartOf } from '../useEdit';

type Match = Recipe['match'];
type Finish = Recipe['finish'];
/** Light and colour of a card or of the whole. */
export type Adjustments = Pick<Finish, 'grade' | 'detail' | 'limit'>;

/** One part of the match. */
export function ofMatch<K extends keyof Match>(key: K): PartOf<Match[K]> {
  return { of: `match.${key}`, read: (r) => r.match[key], write: (r, part) => ({ ...r, match: { ...r.match, [key]: part } }) };
}

/** One part of the finish. */
export function ofFinish<K extends keyof Finish>(key: K): PartOf<Finish[K]> {
  return { of: `finish.${key}`, read: (r) => r.finish[key], write: (r, part) => ({ ...r, finish: { ...r.finish, [key]: part } }) };
}

/** What is graded: a card by its identifier, or the whole picture. */
export function ofAdjustments(target: string): PartOf<Adjustments> {
  return {
    of: target === 'whole' ? 'finish' : `cards.${target}`,
    read: (r) => r.cards.find((c) => c.id === target) ?? r.finish,
    write: (r, { grade, detail, limit }) =>
      r.cards.some((c) => c.id === target)
        ? editCard(r, target, (c) => ({ ...c, grade, detail, limit }))
        : { ...r, finish: { ...r.finish, grade, detail, limit } },
  };
}

/** Where a card has its whole blur. */
export function ofBlurLimit(card: string): PartOf<Adjustments['limit']> {
  return {
    of: `cards.${card}.blurLimit`,
    read: (r) => r.cards.find((c) => c.id === card)?.blurLimit ?? defaultCard.blurLimit,
    write: (r, blurLimit) => editCard(r, card, (c) => ({ ...c, blurLimit })),
  };
}

/** What a limit drawn on the picture is of: a grade, or a card's blur. */
export function ofLimit(limiting: 'grade' | 'blur', target: string): PartOf<Adjustments['limit']> {
  return limiting === 'blur' ? ofBlurLimit(target) : within(ofAdjustments(target), 'limit');
}

/** A card's own tint. */
export function ofWash(card: string): PartOf<Wash> {
  return {
    of: `cards.${card}.wash`,
    read: (r) => r.cards.find((c) => c.id === card)?.wash ?? defaultCard.wash,
    write: (r, wash) => editCard(r, card, (c) => ({ ...c, wash })),
  };
}

/** The groups that can be looked at without, each with the recipe as it would be. */
export const without = {
  match: (r: Recipe): Recipe => ({ ...r, match: { ...r.match, strengths: defaultMatch.strengths, palette: 0 } }),
  surround: (r: Recipe): Recipe => {
    const { wrap, ambient, air, contact, shine } = defaultMatch;
    return { ...r, match: { ...r.match, wrap, ambient, air, contact, shine } };
  },
  grain: (r: Recipe): Recipe => ({ ...r, finish: { ...r.finish, grain: defaultFinish.grain, dither: false } }),
  vignette: (r: Recipe): Recipe => ({ ...r, finish: { ...r.finish, vignette: defaultFinish.vignette, wash: defaultFinish.wash } }),
  grade:
    (target: string) =>
    (r: Recipe): Recipe =>
      ofAdjustments(target).write(r, defaultAdjustments),
  all: (r: Recipe): Recipe => ({
    ...r,
    match: { ...defaultMatch, references: r.match.references },
    finish: defaultFinish,
    cards: r.cards.map((c): Card => ({ ...c, ...defaultAdjustments })),
  }),
};

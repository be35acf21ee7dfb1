import {
  blurToAdd,
  daylight,
  gapsOf,
  isWide,
  defaultMatch,
  restrained,
  toneProperties,
  type Gap,
  type GapName,
  type Grade,
  type Recipe,
  type ToneProperty,
} from '@ritaglio/core';
import type { Figures } from '../../worker/protocol';
import { backgroundCard, editCard, subjectCard } from '../edit';
import { figured, say, word } from '../../words/say';

const words: Record<GapName, [string, string]> = {
  blur: [word('Blur'), 'px'],
  grain: [word('Grain'), 'L*'],
  cast: [word('Cast'), 'mired'],
  tint: [word('Tint'), 'Δu′v′'],
  black: [word('Black'), 'L*'],
  middle: [word('Middle'), 'L*'],
  white: [word('White'), 'L*'],
  contrast: [word('Contrast'), 'L*'],
  saturation: [word('Colour'), '%'],
  light: [word('Light'), '°'],
};
const digits: Partial<Record<GapName, number>> = { blur: 1, grain: 2, tint: 1, contrast: 1, saturation: 1 };

function signed(v: number, places: number): string {
  const text = figured(Math.abs(v), places);
  return (Number(text) === 0 ? '' : v > 0 ? '+' : '−') + text;
}

/** One row of the table, as it is read. */
export interface GapRow {
  name: GapName;
  title: string;
  unit: string;
  subject: string;
  background: string;
  gap: string;
  tolerance: string;
  wide: boolean;
  /** Not judged: both sides are of one photograph. */
  natural: boolean;
  known: boolean;
}

/** Subject against background as rows of words. */
export function gapRows(sides: NonNullable<Figures['sides']>): GapRow[] {
  // Both sides of one photograph are lit alike: what differs is the subject's own.
  const natural = (name: GapName): boolean => sides.ownPlate && name !== 'blur' && name !== 'grain';
  return gapsOf(sides.subject, sides.background).map((g: Gap) => {
    const places = digits[g.name] ?? 0;
    const told = (v: number | undefined): string => {
      if (v === undefined) return '–';
      if (g.name === 'cast') return signed(v - daylight, places);
      return g.name === 'tint' ? signed(v, places) : figured(v, places);
    };
    return {
      name: g.name,
      title: words[g.name][0],
      unit: words[g.name][1],
      subject: told(g.subject),
      background: told(g.background),
      gap: g.gap === undefined ? '–' : figured(Math.abs(g.gap), places),
      tolerance: figured(g.tolerance, places),
      wide: isWide(g) && !natural(g.name),
      natural: natural(g.name),
      known: g.gap !== undefined,
    };
  });
}

function isTone(name: GapName): name is ToneProperty {
  return (toneProperties as readonly GapName[]).includes(name);
}

/** Whether a property is being matched. */
export function isMatched(recipe: Recipe, name: GapName): boolean {
  if (isTone(name)) return recipe.match.strengths[name] > 0;
  if (name === 'grain') return recipe.finish.grain.back > 0;
  return name === 'blur' ? (subjectCard(recipe)?.blur ?? null) !== null : (backgroundCard(recipe)?.placement.flip ?? false);
}

/** Why a property cannot be matched by a press, if it cannot. */
export function hindrance(sides: NonNullable<Figures['sides']>, name: GapName): string | undefined {
  const { subject, background } = sides;
  const [ours, theirs] = [subject.blur?.diameter, background.blur?.diameter];
  if (name === 'blur') {
    if (ours === undefined || theirs === undefined)
      return say('There are no edges to compare: point at a part of the background that stands as near.');
    if (ours >= theirs) return say('The subject is the softer side already; blur what stands behind instead, on the lens.');
  }
  if (name === 'grain' && (subject.grain === undefined || background.grain === undefined))
    return say('No part of one side is flat enough to tell.');
  if (name === 'light' && (subject.light === undefined || background.light === undefined))
    return say('One side does not say where its light comes from.');
  return subject.tone.weight > 0 && background.tone.weight > 0 ? undefined : say('There is nothing to measure on one side.');
}

/** The recipe with one property matched, or no longer. Blur is given to the subject, light by turning the background round. */
export function toggled(recipe: Recipe, name: GapName, sides: NonNullable<Figures['sides']>): Recipe {
  const on = !isMatched(recipe, name);
  if (isTone(name)) return { ...recipe, match: { ...recipe.match, strengths: { ...recipe.match.strengths, [name]: on ? 1 : 0 } } };
  if (name === 'grain') return { ...recipe, finish: { ...recipe.finish, grain: { ...recipe.finish.grain, back: on ? 1 : 0 } } };
  if (name === 'blur') {
    const card = subjectCard(recipe);
    const [ours, theirs] = [sides.subject.blur?.diameter ?? 0, sides.background.blur?.diameter ?? 0];
    const blur = on ? Math.round(10 * blurToAdd(ours, theirs)) / 10 : null;
    return card ? editCard(recipe, card.id, (c) => ({ ...c, blur })) : recipe;
  }
  const behind = backgroundCard(recipe);
  return behind ? editCard(recipe, behind.id, (c) => ({ ...c, placement: { ...c.placement, flip: !c.placement.flip } })) : recipe;
}

/**
 * The recipe with all matched that a press can match without taste: cast, tint, black and grain all the way, what belongs to the scene a
 * third of it. Between two sides of one photograph only grain.
 */
export function matchedAll(recipe: Recipe, ownPlate: boolean): Recipe {
  const strengths = ownPlate ? defaultMatch.strengths : restrained;
  return {
    ...recipe,
    match: { ...recipe.match, strengths: { ...strengths } },
    finish: { ...recipe.finish, grain: { ...recipe.finish.grain, back: 1 } },
  };
}

/** The recipe with nothing matched; drawn references and protected hues stay. */
export function unmatched(recipe: Recipe): Recipe {
  return {
    ...recipe,
    match: { ...recipe.match, strengths: { ...defaultMatch.strengths }, palette: 0 },
    finish: { ...recipe.finish, grain: { ...recipe.finish.grain, back: 0 } },
  };
}

/** What a solved grade does, as a sentence in plain words. */
export function gradeSentence(side: string, g: Grade): string {
  const parts: string[] = [];
  const much = (v: number, little: number, far: number): string => (v < little ? say('a little ') : v < far ? '' : say('much '));
  const tell = (v: number, least: number, little: number, far: number, up: string, down: string): void => {
    if (Math.abs(v) >= least) parts.push(much(Math.abs(v), little, far) + (v > 0 ? up : down));
  };
  tell(g.temperature, 3, 25, 90, say('warmer'), say('cooler'));
  tell(g.tint, 1, 4, 15, say('greener'), say('pinker'));
  tell(g.exposure, 0.05, 0.3, 1.2, say('brighter'), say('darker'));
  tell(g.black, 0.5, 2, 8, say('paler in the blacks'), say('deeper in the blacks'));
  tell(g.middle, 0.5, 4, 12, say('lighter in the middle'), say('darker in the middle'));
  tell(100 * g.contrast, 2, 10, 40, say('harder'), say('flatter'));
  tell(100 * (g.saturation - 1), 2, 10, 40, say('more colourful'), say('less colourful'));
  if (parts.length === 0) return say('{side} stays as it is.', { side });
  const all = parts.length === 1 ? parts[0] : say('{parts} and {at}', { parts: parts.slice(0, -1).join(', '), at: parts.at(-1)! });
  return say('{side} becomes {all}.', { side, all });
}

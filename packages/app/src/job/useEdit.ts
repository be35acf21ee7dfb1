import type { Card, ParameterKey, Recipe } from '@ritaglio/core';
import { editCard } from './edit';
import { useChange, useRecipe } from './jobContext';
import type { ParameterProps } from './ParameterControl';

/** One part of the recipe: how it is read, and the recipe with another in its place. */
export interface PartOf<T> {
  /** Its place in the recipe, with dots between names. */
  of: string;
  read: (recipe: Recipe) => T;
  write: (recipe: Recipe, part: T) => Recipe;
}

/** A part within a part. */
export function within<T extends object, K extends keyof T>(outer: PartOf<T>, key: K): PartOf<T[K]> {
  return {
    of: `${outer.of}.${String(key)}`,
    read: (r) => outer.read(r)[key],
    write: (r, part) => outer.write(r, { ...outer.read(r), [key]: part }),
  };
}

/** The lens. */
export const theLens: PartOf<Recipe['lens']> = { of: 'lens', read: (r) => r.lens, write: (r, lens) => ({ ...r, lens }) };

/** A card, of a kind that is known. */
export function theCard<C extends Card>(card: C): PartOf<C> {
  return {
    of: `cards.${card.id}`,
    read: (r) => (r.cards.find((c) => c.id === card.id) as C | undefined) ?? card,
    write: (r, to) => editCard(r, card.id, () => to),
  };
}

type NumberKey<T> = { [K in keyof T]: T[K] extends number ? K : never }[keyof T];

/** A part of the recipe, and what changes it: a few of its values, or a number that is dragged. */
export function useEdit<T extends object>({ of, read, write }: PartOf<T>) {
  const value = read(useRecipe());
  const change = useChange();
  const put = (part: Partial<T>) => (r: Recipe) => write(r, { ...read(r), ...part });
  const preview = (part: Partial<T>): void => change.preview(put(part));
  const commit = (part: Partial<T>): void => change.commit(put(part));
  /** What the control of a parameter needs. */
  const number = (key: NumberKey<T>, param: ParameterKey): ParameterProps => ({
    param,
    value: value[key] as number,
    of: `${of}.${String(key)}`,
    onPreview: (v: number) => preview({ [key]: v } as unknown as Partial<T>),
    onCommit: (v: number) => commit({ [key]: v } as unknown as Partial<T>),
  });
  return { value, preview, commit, number };
}

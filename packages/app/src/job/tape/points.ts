import { canBeKeyed, keyedAt, valueAt, withPoint, type Recipe } from '@ritaglio/core';
import { curveOf, xOf, type TapeSize } from './scale';

/** Height of the tape, px; and below its numbers, where curves, certainty and sound are drawn. */
export const height = 64;
export const [top, bottom] = [18, 60];

/** Where a share from 0 to 1 lies. */
export const yOf = (share: number): number => bottom - 4 - share * (bottom - top - 12);

/** What of the tape is taken hold of. */
export type Grip = { kind: 'now' } | { kind: 'first' } | { kind: 'last' } | { kind: 'point'; of: string; frame: number };

/** What lies under a place of the tape: a corner of the range, a point, or just a frame. */
export function gripAt(recipe: Recipe, size: TapeSize, x: number, y: number): Grip {
  const near = (frame: number, by = 7): boolean => Math.abs(xOf(frame, size) - x) < by;
  const { first, last } = recipe.time!;
  if (y < 14 && near(last + 0.5, 9)) return { kind: 'last' };
  if (y < 14 && near(first - 0.5, 9)) return { kind: 'first' };
  for (const key of recipe.keys) {
    const { heightAt } = curveOf(key, size.length, 1);
    const point = key.points.find((p) => near(p.frame) && Math.abs(yOf(heightAt(p.frame)) - y) < 7);
    if (point) return { kind: 'point', of: key.of, frame: point.frame };
  }
  return { kind: 'now' };
}

/** The recipe with that moved to another frame. A point that is put on another takes its place. */
export function gripMoved(recipe: Recipe, grip: Grip, to: number): Recipe {
  const time = recipe.time!;
  if (grip.kind === 'first') return { ...recipe, time: { ...time, first: Math.min(to, time.last) } };
  if (grip.kind === 'last') return { ...recipe, time: { ...time, last: Math.max(to, time.first) } };
  if (grip.kind === 'now') return recipe;
  const point = recipe.keys.find((k) => k.of === grip.of)?.points.find((p) => p.frame === grip.frame);
  if (!point || to === grip.frame) return recipe;
  return withPoint(withPoint(recipe, grip.of, grip.frame, undefined), grip.of, to, { value: point.value, ease: point.ease });
}

/** A point at a frame with the value that is seen there; the point away when there is one already. */
export function pointToggled(recipe: Recipe, of: string, frame: number): Recipe {
  if (!canBeKeyed(recipe, of)) return recipe;
  const is = recipe.keys.find((k) => k.of === of)?.points.some((p) => p.frame === frame);
  const value = valueAt(keyedAt(recipe, frame), of) as number | string;
  return withPoint(recipe, of, frame, is ? undefined : { value, ease: 'smooth' });
}

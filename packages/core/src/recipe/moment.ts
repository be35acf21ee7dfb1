import { hexOf, linearOfHex } from '../colour/srgb';
import type { Recipe, SubjectRecipe } from './recipe';
import type { ClipRecipe, Keyed, KeyPoint } from './time';

/** A subject of a clip: the clip, which of its frames is seen, and what is drawn on all its frames. */
export interface Follows extends Pick<SubjectRecipe, 'marks' | 'hand' | 'garbage'> {
  clip: ClipRecipe;
  frame: number;
}

type Value = number | string;

/** The frame of a clip that is seen at a frame of the job. */
export function clipFrame(clip: ClipRecipe, frame: number): number {
  const i = Math.floor((frame - clip.offset) * clip.speed + 1e-9);
  return clip.beyond === 'loop' ? ((i % clip.count) + clip.count) % clip.count : Math.min(clip.count - 1, Math.max(0, i));
}

/** The first frame of the job at which a frame of a clip is seen, wherever it is seen again. */
export function jobFrame(clip: ClipRecipe, frame: number): number {
  return Math.ceil(frame / clip.speed + clip.offset - 1e-9);
}

/** Identifier of the picture that a frame of a clip is; of a video file it is the file's with the frame's number behind it. */
export function framePicture({ from }: ClipRecipe, frame: number): string {
  return from.kind === 'pictures' ? from.pictures[Math.min(frame, from.pictures.length - 1)] : `${from.file}#${frame}`;
}

/** A frame's picture taken apart; nothing when it is no frame of a video file. */
export function videoFrame(id: string): { file: string; frame: number } | undefined {
  const found = /^(.+)#(\d+)$/.exec(id);
  return found ? { file: found[1], frame: Number(found[2]) } : undefined;
}

/** The value of a keyed number or colour at a frame. */
export function keyedValue({ points }: Pick<Keyed, 'points'>, frame: number): Value {
  const after = points.findIndex((p) => p.frame > frame);
  if (after < 0) return points[points.length - 1].value;
  if (after === 0) return points[0].value;
  return between(points[after - 1], points[after], frame);
}

function between(a: KeyPoint, b: KeyPoint, frame: number): Value {
  if (a.ease === 'hold') return a.value;
  const t = (frame - a.frame) / (b.frame - a.frame);
  const along = a.ease === 'smooth' ? t * t * (3 - 2 * t) : t;
  if (typeof a.value === 'number' && typeof b.value === 'number') return a.value + along * (b.value - a.value);
  if (typeof a.value === 'string' && typeof b.value === 'string') {
    const [from, to] = [linearOfHex(a.value), linearOfHex(b.value)];
    const [r, g, bl] = from.map((v, c) => v + along * (to[c] - v));
    return hexOf(r, g, bl);
  }
  return a.value;
}

/** The member of a list by its identifier, or by its place in the list. */
function placeIn(list: readonly unknown[], name: string): number {
  const byId = list.findIndex((one) => typeof one === 'object' && one !== null && (one as { id?: unknown }).id === name);
  return byId >= 0 ? byId : /^\d+$/.test(name) && Number(name) < list.length ? Number(name) : -1;
}

/** What stands at a place of the recipe, such as `lens.focus` or `cards.card-subject.placement.x`; nothing when there is no such place. */
export function valueAt(recipe: Recipe, of: string): unknown {
  let at: unknown = recipe;
  for (const name of of.split('.')) {
    if (Array.isArray(at)) at = at[placeIn(at, name)];
    else if (typeof at === 'object' && at !== null && Object.hasOwn(at, name)) at = (at as Record<string, unknown>)[name];
    else return undefined;
  }
  return at;
}

/** The recipe with another value at a place; the recipe itself when there is no such place. */
export function withValue(recipe: Recipe, of: string, value: Value): Recipe {
  const change = (at: unknown, [name, ...rest]: string[]): unknown => {
    if (name === undefined) return value;
    if (Array.isArray(at)) {
      const i = placeIn(at, name);
      return i < 0 ? at : at.map((one, k) => (k === i ? change(one, rest) : one));
    }
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, name)) return at;
    const held = at as Record<string, unknown>;
    return { ...held, [name]: change(held[name], rest) };
  };
  return change(recipe, of.split('.')) as Recipe;
}

/** Whether something can be keyed there: a number, or a colour as #rrggbb. */
export function canBeKeyed(recipe: Recipe, of: string): boolean {
  const [first] = of.split('.');
  if (!['lens', 'camera', 'frame', 'cards', 'match', 'finish'].includes(first)) return false;
  if (/^frame\.(width|height)$/.test(of)) return false;
  const value = valueAt(recipe, of);
  return typeof value === 'number' || (typeof value === 'string' && /^#[0-9a-f]{6}$/i.test(value));
}

/** Sets a point of a keyed value, or takes it away; what has no point left is not keyed any more. */
export function withPoint(recipe: Recipe, of: string, frame: number, point: Omit<KeyPoint, 'frame'> | undefined): Recipe {
  const old = recipe.keys.find((k) => k.of === of);
  const others = (old?.points ?? []).filter((p) => p.frame !== frame);
  const points = point ? [...others, { frame, ...point }].sort((a, b) => a.frame - b.frame) : others;
  const keys = recipe.keys.filter((k) => k !== old);
  return { ...recipe, keys: points.length > 0 ? [...keys, { of, points }].sort((a, b) => (a.of < b.of ? -1 : 1)) : keys };
}

/** The recipe with its keyed values as they are at a frame, and all else as it is: what is edited while that frame is looked at. */
export function keyedAt(recipe: Recipe, frame: number): Recipe {
  return recipe.keys.reduce((r, key) => withValue(r, key.of, keyedValue(key, frame)), recipe);
}

/**
 * The recipe after a change to what it is at a frame: a keyed value that was changed gets a point there, everything else changes for all
 * frames. What is keyed on something that is gone is keyed no more. A change of the keys themselves stands as it is.
 */
export function changedAt(recipe: Recipe, frame: number, change: (recipe: Recipe) => Recipe): Recipe {
  if (recipe.keys.length === 0) return change(recipe);
  const seen = keyedAt(recipe, frame);
  const next = change(seen);
  if (next.keys !== seen.keys) return next;
  return recipe.keys.reduce((out, { of, points }) => {
    const [was, is, base] = [valueAt(seen, of), valueAt(next, of), valueAt(recipe, of)];
    if (is === undefined) return { ...out, keys: out.keys.filter((k) => k.of !== of) };
    const restored = typeof base === typeof is ? withValue(out, of, base as Value) : out;
    if (is === was || typeof is !== typeof points[0].value) return restored;
    const ease = points.find((p) => p.frame === frame)?.ease ?? points.findLast((p) => p.frame < frame)?.ease ?? points[0].ease;
    return withPoint(restored, of, frame, { value: is as Value, ease });
  }, next);
}

/** How a moment is wanted. */
export interface MomentOptions {
  /** Subjects are cut in each frame by itself, by the marks on it, and not followed through their clips. */
  alone?: boolean;
}

/**
 * The plain recipe of one frame of the job: keyed values as they are then, clips as the pictures that are seen then, and of marks and
 * strokes those that belong to it. A recipe without time is its own at any frame. What does not change from frame to frame is the same in
 * each of them, so that the line makes it once.
 */
export function momentOf(recipe: Recipe, frame: number, { alone = false }: MomentOptions = {}): Recipe {
  if (recipe.time === null && recipe.clips.length === 0) return recipe;
  const keyed = keyedAt(recipe, frame);
  const clips = new Map(recipe.clips.map((c) => [c.id, c]));
  const shown = (id: string): string => {
    const clip = clips.get(id);
    return clip ? framePicture(clip, clipFrame(clip, frame)) : id;
  };
  return {
    ...keyed,
    ...{ time: null, clips: [], keys: [], moment: frame },
    subjects: keyed.subjects.map((s) => {
      const clip = clips.get(s.shot);
      if (!clip) return s;
      const { follows, ...seen } = onFrame(s, { clip, frame: clipFrame(clip, frame), marks: s.marks, hand: s.hand, garbage: s.garbage });
      return alone ? seen : { ...seen, follows };
    }),
    cards: keyed.cards.map((c) => (c.kind === 'picture' ? { ...c, picture: shown(c.picture) } : c)),
  };
}

/** A subject as it is on one frame of its clip: the frame's picture, and of what is drawn that which belongs to it. */
export function onFrame(s: SubjectRecipe, follows: Follows): SubjectRecipe & { follows: Follows } {
  const { clip, frame, marks, hand, garbage } = follows;
  const on = (m: { frame?: number | undefined }): boolean => (m.frame ?? 0) === frame;
  return {
    ...s,
    shot: framePicture(clip, frame),
    marks: marks.filter(on),
    hand: hand.filter(on),
    garbage: garbage.filter((g) => !g.frames || (frame >= g.frames[0] && frame <= g.frames[1])),
    follows,
  };
}

/** A clip of as many pictures, or of a video file, as it is brought in. */
export function newClip(id: string, name: string, given: Pick<ClipRecipe, 'size' | 'rate' | 'count' | 'from' | 'sound'>): ClipRecipe {
  return { id, name, ...given, offset: 0, speed: 1, beyond: 'hold' };
}

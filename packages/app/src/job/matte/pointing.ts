import type { Mark, Recipe } from '@ritaglio/core';
import { toast } from 'sonner';
import { renderer } from '../../worker/renderer';
import type { JobStore } from '../jobStore';
import { momentNow } from '../moments';
import { useView } from '../viewStore';
import { propose, proposeGaps } from './proposals';
import type { Drawing } from './tools';
import { workingScale } from '../workingSide';
import { say } from '../../words/say';

type Point = [number, number];

/** Scale at which subjects and gaps are looked for, and contours followed. */
export function lookingScale(recipe: Recipe): number {
  const { width, height } = recipe.subjects[0].size;
  return Math.min(workingScale(recipe), 900 / Math.max(width, height));
}

/** A press on the thing itself: what it may mean is proposed. @returns whether anything was */
export async function pressThis(store: JobStore, at: Point): Promise<boolean> {
  const { recipe } = store.getState();
  const list = await renderer().pointed(momentNow(recipe), lookingScale(recipe), at, useView.getState().subject);
  if (list.length === 0) toast(say('Nothing stands apart from its surroundings there: draw an inside mark, or a loop around the subject.'));
  else propose(store, list, 0);
  return list.length > 0;
}

/** A press into a gap: it and others like it are proposed as outside. @returns whether anything was */
export async function pressGap(store: JobStore, at: Point): Promise<boolean> {
  const { recipe } = store.getState();
  const gaps = await renderer().gaps(momentNow(recipe), lookingScale(recipe), at, useView.getState().subject);
  if (gaps.length === 0) toast(say('That place goes on too far to be a gap: press into a small one that the subject surrounds.'));
  else proposeGaps(store, gaps);
  return gaps.length > 0;
}

const way = (recipe: Recipe, from: Point, to: Point): Promise<Point[]> =>
  renderer().trace(momentNow(recipe), lookingScale(recipe), from, to, useView.getState().subject);

/** A trace that goes on to a pressed point along contours; both ends are moved to the nearest contour. */
export async function traceTo(recipe: Recipe, drawing: Drawing, to: Point): Promise<Drawing> {
  const last = drawing.points[drawing.points.length - 1];
  const path = await way(recipe, last ? [last[0], last[1]] : to, to);
  const points = last ? [...drawing.points, ...path.slice(1)] : path.slice(-1);
  return { ...drawing, points, anchors: [...(drawing.anchors ?? []), points.length - 1] };
}

/** A trace with one of its pressed points elsewhere: both ways to it are found anew. */
export async function movedAnchor(recipe: Recipe, mark: Mark, index: number, to: Point): Promise<Mark> {
  const { anchors = [], points, filled } = mark;
  const at = (k: number): Point => [points[anchors[k]][0], points[anchors[k]][1]];
  const closed = filled === true;
  const last = anchors.length - 1;
  // Of a closed trace the first point is the last as well.
  const places = anchors.map((_, k) => (k === index || (closed && index % last === 0 && k % last === 0) ? to : at(k)));
  let out: Point[] = [];
  const kept: number[] = [];
  for (let k = 0; k <= last; k++) {
    if (k === 0) out = (await way(recipe, places[0], places[0])).slice(-1);
    else {
      const same = places[k] !== to && places[k - 1] !== to;
      const piece = same
        ? points.slice(anchors[k - 1], anchors[k] + 1).map(([x, y]): Point => [x, y])
        : await way(recipe, out[out.length - 1], places[k]);
      out = [...out, ...piece.slice(1)];
    }
    kept.push(out.length - 1);
  }
  if (closed) out[out.length - 1] = out[0];
  return { ...mark, points: out, anchors: kept };
}

import type { HandStroke, Mark, MarkKind, Recipe, Shape } from '@ritaglio/core';
import { editSubject } from '../edit';
import { onFrameNow } from '../moments';
import type { ViewState } from '../viewStore';

/** A point of a stroke, px of the full-size shot, with the pen's pressure if there is a pen. */
export type TipPoint = [number, number] | [number, number, number];

/** What is being drawn and not yet kept: a stroke under the pointer, or corners set one by one. */
export interface Drawing {
  points: TipPoint[];
  kind: MarkKind;
  /** Corners: each press sets one, the first or the Enter key closes. */
  corners: boolean;
  /** Of a trace: which of the points were pressed. */
  anchors?: number[];
}

export type Settings = Pick<ViewState, 'tool' | 'way' | 'mark' | 'tip' | 'hand' | 'hardness' | 'strength' | 'shape' | 'clears'>;

/** Whether presses set corners rather than drawing. */
export function setsCorners(s: Settings): boolean {
  return (s.tool === 'mark' && (s.way === 'polygon' || s.mark === 'trace')) || (s.tool === 'garbage' && s.shape === 'polygon');
}

/** Kind of mark a press begins: the chosen one, or what the held key says. */
export function kindOf(s: Settings, keys: { shiftKey: boolean; altKey: boolean }): MarkKind {
  return keys.shiftKey ? 'outside' : keys.altKey ? 'edge' : s.mark;
}

/** What a drawing is as a mark. A stroke that comes back to where it began marks all that it closes. */
export function markOf(s: Settings, drawing: Drawing): Mark {
  const { kind, points, anchors } = drawing;
  if (kind === 'loop') return { kind, radius: 2, points };
  if (kind === 'trace') {
    const closed = points.length > 3 && samePlace(points[0], points[points.length - 1]);
    return { kind, radius: 1, points, ...(anchors && { anchors }), ...(closed && { filled: true }) };
  }
  const closed = points.length > 2 && (s.way !== 'stroke' || (kind !== 'edge' && closesOn(points, s.tip)));
  return { kind, radius: closed && s.way !== 'stroke' ? 1 : s.tip / 2, points, ...(closed && { filled: true }) };
}

const samePlace = (p: TipPoint, q: TipPoint): boolean => Math.hypot(p[0] - q[0], p[1] - q[1]) < 1;

/** Whether a stroke goes once around something: it ends where it began, and is round rather than a scribble. */
export function closesOn(points: readonly TipPoint[], tip: number): boolean {
  let [length, area] = [0, 0];
  points.forEach(([x, y], i) => {
    const [u, v] = points[(i + 1) % points.length];
    length += Math.hypot(u - x, v - y);
    area += (x * v - u * y) / 2;
  });
  const [first, last] = [points[0], points[points.length - 1]];
  const open = Math.hypot(first[0] - last[0], first[1] - last[1]);
  return length > 8 * tip && open < Math.max(tip, 0.06 * length) && (4 * Math.PI * Math.abs(area)) / length ** 2 > 0.25;
}

/** What a drawing is as a stroke by hand. */
export function handStrokeOf(s: Settings, drawing: Drawing): HandStroke {
  return { tip: s.hand, radius: s.tip / 2, hardness: s.hardness, opacity: s.strength, points: drawing.points };
}

/** What a drawing is as a garbage shape, or nothing when it is too small to be meant. */
export function shapeOf(s: Settings, drawing: Drawing): Shape | undefined {
  const xs = drawing.points.map((p) => p[0]);
  const ys = drawing.points.map((p) => p[1]);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  const [width, height] = [Math.max(...xs) - x, Math.max(...ys) - y];
  if (width < 4 || height < 4) return undefined;
  if (s.shape !== 'polygon') {
    const [first, last] = [drawing.points[0], drawing.points[drawing.points.length - 1]];
    const box = { width: Math.abs(last[0] - first[0]), height: Math.abs(last[1] - first[1]) };
    if (box.width < 4 || box.height < 4) return undefined;
    return { kind: s.shape, x: Math.min(first[0], last[0]), y: Math.min(first[1], last[1]), ...box };
  }
  return drawing.points.length < 3 ? undefined : { kind: 'polygon', points: drawing.points.map((p) => [p[0], p[1]]) };
}

/** The recipe with a finished drawing in it. */
export function withDrawing(recipe: Recipe, s: Settings, drawing: Drawing): Recipe {
  return editSubject(recipe, (subject) => {
    const frame = onFrameNow(recipe, subject.shot);
    if (s.tool === 'hand') {
      return { ...subject, hand: [...subject.hand, { ...handStrokeOf(s, drawing), ...frame } as (typeof subject.hand)[number]] };
    }
    if (s.tool === 'garbage') {
      const drawn = shapeOf(s, drawing);
      const shape = drawn && s.clears ? { ...drawn, clears: true } : drawn;
      return shape ? { ...subject, garbage: [...subject.garbage, shape as (typeof subject.garbage)[number]] } : subject;
    }
    return { ...subject, marks: [...subject.marks, { ...markOf(s, drawing), ...frame } as (typeof subject.marks)[number]] };
  });
}

/** A mark moved by a length. */
export function movedMark(mark: Mark, dx: number, dy: number): Mark {
  const round = (v: number): number => Math.round(v * 10) / 10;
  return { ...mark, points: mark.points.map((p) => [round(p[0] + dx), round(p[1] + dy), ...p.slice(2)] as unknown as TipPoint) };
}

/** The kind a mark turns into when it is toggled. */
export function turned(kind: MarkKind): MarkKind {
  if (kind === 'loop' || kind === 'trace') return kind;
  return kind === 'inside' ? 'outside' : kind === 'outside' ? 'edge' : 'inside';
}

/** A garbage shape with one corner, or the whole, moved. */
export function movedShape(shape: Shape, corner: number | 'whole', dx: number, dy: number): Shape {
  if (shape.kind === 'polygon') {
    return { ...shape, points: shape.points.map(([x, y], i) => (corner === 'whole' || corner === i ? [x + dx, y + dy] : [x, y])) };
  }
  if (corner === 'whole') return { ...shape, x: shape.x + dx, y: shape.y + dy };
  const right = corner === 1 || corner === 2;
  const low = corner >= 2;
  const width = Math.max(4, shape.width + (right ? dx : -dx));
  const height = Math.max(4, shape.height + (low ? dy : -dy));
  return {
    ...shape,
    width,
    height,
    x: right ? shape.x : shape.x + shape.width - width,
    y: low ? shape.y : shape.y + shape.height - height,
  };
}

/** The corners of a shape that can be taken hold of. */
export function handlesOf(shape: Shape): (readonly [number, number])[] {
  if (shape.kind === 'polygon') return [...shape.points];
  const { x, y, width, height } = shape;
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}

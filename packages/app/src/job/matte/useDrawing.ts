import { hexOf, decodeSrgb, type Recipe } from '@ritaglio/core';
import { useEffect, useState } from 'react';
import { editSubject } from '../edit';
import { refuse } from '../../ui/refuse';
import { useChange, useOpenJob, useProductsOfJob } from '../jobContext';
import { useView } from '../viewStore';
import { plateSetsCorners, sourceOf, withPlateDrawing } from '../plate/plateTools';
import type { Step } from '../steps';
import { pressGap, pressThis, traceTo } from './pointing';
import { kindOf, setsCorners, withDrawing, type Drawing, type TipPoint } from './tools';

interface Point {
  x: number;
  y: number;
}

/** Drawing on the picture while the matte or the plate is open: strokes, regions, shapes, and picking a colour. */
export function useDrawing(
  active: boolean,
  step: Step,
): {
  drawing?: Drawing;
  down: (at: Point, e: PointerEvent, zoom: number) => void;
  move: (at: Point, e: PointerEvent, zoom: number) => void;
  up: () => void;
  /** Drops what is being drawn, but not corners that were set. */
  drop: () => void;
} {
  const { commit } = useChange();
  const { store } = useOpenJob();
  const { shown, resume } = useProductsOfJob();
  const [begun, setBegun] = useState<{ with: string; drawing: Drawing }>();
  const [last, setLast] = useState<TipPoint>();
  const tool = useView((s) => s.tool);
  const way = useView((s) => s.way);
  const shape = useView((s) => s.shape);
  // Another tool, or leaving the step, drops corners that were not closed.
  const plateTool = useView((s) => s.plateTool);
  const using = [step, tool, plateTool, way, shape, active].join();
  const onPlate = step === 'plate';
  const drawing = begun?.with === using ? begun.drawing : undefined;
  const setDrawing = (next: Drawing | undefined): void => setBegun(next && { with: using, drawing: next });

  const keep = (done: Drawing): void => {
    setDrawing(undefined);
    setLast(done.points[done.points.length - 1]);
    const view = useView.getState();
    if (onPlate) {
      commit((recipe: Recipe) => withPlateDrawing(recipe, view, done));
      if (view.plateTool === 'retouch' && view.retouch !== 'paint') view.set({ sourceFor: sourceOf(view, done.points[0])?.sourceFor });
    } else commit((recipe: Recipe) => withDrawing(recipe, view, done));
  };

  const down = (at: Point, e: PointerEvent, zoom: number): void => {
    const view = useView.getState();
    if (onPlate && view.plateTool === 'retouch' && (e.altKey || view.settingSource || (view.retouch !== 'paint' && !view.source))) {
      const seen = shown.plate;
      if (view.retouch !== 'paint') view.set({ source: [at.x, at.y], sourceFor: undefined, settingSource: false });
      else if (seen) view.set({ paint: colourAt(seen.bitmap, at.x * seen.scale, at.y * seen.scale) });
      return;
    }
    if (!onPlate && view.tool === 'pick') {
      const bitmap = shown.shot;
      if (!bitmap) return;
      const colour = colourAt(bitmap.bitmap, at.x * bitmap.scale, at.y * bitmap.scale);
      view.set({ tool: 'mark' });
      commit((r: Recipe) => editSubject(r, (s) => ({ ...s, cut: 'screen', screen: { ...s.screen, colour } })));
      return;
    }
    if (!onPlate && (view.tool === 'this' || view.tool === 'gap')) {
      const press = view.tool === 'this' ? pressThis : pressGap;
      view.set({ tool: 'mark' });
      press(store, [at.x, at.y]).then((proposed) => !proposed && resume(), refuse);
      return;
    }
    const point = pointOf(at, e);
    if (!onPlate && setsCorners(view) && (drawing?.kind ?? kindOf(view, e)) === 'trace') {
      traceOn(point, zoom);
      return;
    }
    if (onPlate ? plateSetsCorners(view) : setsCorners(view)) {
      const corners = drawing?.points ?? [];
      const first = corners[0];
      if (first && corners.length > 2 && Math.hypot(first[0] - point[0], first[1] - point[1]) * zoom < 10) keep(drawing!);
      else setDrawing({ points: [...corners, point], kind: drawing?.kind ?? kindOf(view, e), corners: true });
      return;
    }
    // Held, Ctrl goes straight on from where the last stroke ended.
    const straight = (e.ctrlKey || e.metaKey) && last && view.way === 'stroke' ? [last] : [];
    setDrawing({ points: [...straight, point], kind: kindOf(view, e), corners: false });
  };

  /** The next point of a trace: the way along contours to it, or back to the first, which closes. */
  const traceOn = (point: TipPoint, zoom: number): void => {
    const begun = drawing ?? { points: [], kind: 'trace' as const, corners: true, anchors: [] };
    const first = begun.points[0];
    const closes = (begun.anchors?.length ?? 0) > 2 && Math.hypot(first[0] - point[0], first[1] - point[1]) * zoom < 10;
    traceTo(store.getState().recipe, begun, closes ? [first[0], first[1]] : [point[0], point[1]]).then((next) => {
      if (closes) keep({ ...next, points: [...next.points.slice(0, -1), first] });
      else setDrawing(next);
    }, refuse);
  };

  const move = (at: Point, e: PointerEvent, zoom: number): void => {
    if (!drawing || drawing.corners) return;
    const next = pointOf(at, e);
    const end = drawing.points[drawing.points.length - 1];
    if (Math.hypot(next[0] - end[0], next[1] - end[1]) * zoom >= 2) setDrawing({ ...drawing, points: [...drawing.points, next] });
  };

  const up = (): void => {
    if (drawing && !drawing.corners) keep(drawing);
  };

  useEffect(() => {
    if (!drawing?.corners) return;
    const key = (e: KeyboardEvent): void => {
      if (e.key === 'Enter' && drawing.points.length > (drawing.kind === 'trace' ? 1 : 2)) keep(drawing);
      else if (e.key === 'Escape') setDrawing(undefined);
    };
    addEventListener('keydown', key);
    return () => removeEventListener('keydown', key);
  });

  const drop = (): void => {
    if (drawing && !drawing.corners) setDrawing(undefined);
  };

  return { drawing, down, move, up, drop };
}

/** To a tenth of a pixel, with the pen's pressure if there is a pen. */
function pointOf(p: Point, e: PointerEvent): TipPoint {
  const x = Math.round(p.x * 10) / 10;
  const y = Math.round(p.y * 10) / 10;
  return e.pointerType === 'pen' && e.pressure > 0 ? [x, y, Math.round(e.pressure * 100) / 100] : [x, y];
}

/** Mean colour of 5 × 5 pixels, averaged as light. */
function colourAt(bitmap: ImageBitmap, x: number, y: number): string {
  const canvas = new OffscreenCanvas(5, 5);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, Math.round(x) - 2, Math.round(y) - 2, 5, 5, 0, 0, 5, 5);
  const { data } = context.getImageData(0, 0, 5, 5);
  const sum = [0, 0, 0];
  for (let k = 0; k < data.length; k += 4) for (let c = 0; c < 3; c++) sum[c] += decodeSrgb(data[k + c] / 255) / 25;
  return hexOf(sum[0], sum[1], sum[2]);
}

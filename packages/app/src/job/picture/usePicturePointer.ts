import type Konva from 'konva';
import { useEffect, useRef, useState } from 'react';
import type { useDrawing } from '../matte/useDrawing';
import type { Step } from '../steps';
import { useView, type Look } from '../viewStore';
import { notTaken } from './notTaken';
import type { useBenchPointer } from './useBenchPointer';

interface Place {
  x: number;
  y: number;
}

type Drawing = ReturnType<typeof useDrawing>;

/** How far an arrow key moves the tip, px of the screen. */
const coarseStep = 16;
const fineStep = 1;
const mostZoom = 16;

/** What the pointer, fingers, a pen, the wheel and the keys do on the picture: draw, move it, zoom it. Places are px of the pane. */
export function usePicturePointer(props: {
  step: Step;
  size: { width: number; height: number };
  /** Zoom at which the frame fits. */
  fit: number;
  look: Look;
  /** Two panes side by side are half as wide. */
  paneWidth: number;
  /** Whether a press draws. */
  marking: boolean;
  draw: Omit<Drawing, 'drawing'>;
  drawing: Drawing['drawing'];
  bench: ReturnType<typeof useBenchPointer>;
}) {
  const { step, size, fit, look, paneWidth, marking, draw, drawing, bench } = props;
  const { width, height } = size;
  const { set } = useView.getState();
  const [pointer, setPointer] = useState<Place>();
  const [panning, setPanning] = useState<Place & { look: Look }>();
  const fingers = useRef(new Map<number, Place>());
  const [pinch, setPinch] = useState<Place & { apart: number; look: Look }>();
  const [finger, setFinger] = useState(false);
  const pen = useRef(false);
  const space = useHeldSpace();
  /** Where the keyboard's tip is, and whether it draws. */
  const [byKeys, setByKeys] = useState<Place & { draws: boolean }>();

  const paneAt = (p: Place): number => (paneWidth < width && p.x >= paneWidth ? paneWidth : 0);
  /** Full-size point under a point of the screen. */
  const under = (p: Place): Place => ({
    x: (p.x - paneAt(p) - paneWidth / 2) / look.zoom + look.x,
    y: (p.y - height / 2) / look.zoom + look.y,
  });
  const at = (e: Konva.KonvaEventObject<PointerEvent | WheelEvent>): Place => e.target.getStage()?.getPointerPosition() ?? { x: 0, y: 0 };
  const zoomed = (zoom: number): number => Math.min(mostZoom, Math.max(fit / 2, zoom));

  const down = (e: Konva.KonvaEventObject<PointerEvent>): void => {
    const p = at(e);
    const { pointerType, pointerId } = e.evt;
    set({ notTaken: undefined });
    setFinger(pointerType === 'touch');
    if (pointerType === 'pen') pen.current = true;
    if (pointerType === 'touch') {
      fingers.current.set(pointerId, p);
      if (fingers.current.size > 1) {
        // A second finger moves and zooms; what the first had begun is dropped.
        draw.drop();
        bench.drop();
        setPanning(undefined);
        setPinch({ ...between([...fingers.current.values()]), look });
        return;
      }
      // Where a pen draws, fingers move the picture.
      if (pen.current) {
        setPanning({ ...p, look });
        return;
      }
    }
    if (e.target.name() === 'handle') return;
    if (!space && e.evt.button === 0 && bench.active) {
      (e.evt.target as Element).setPointerCapture?.(e.evt.pointerId);
      bench.down(under(p));
      return;
    }
    if (space || e.evt.button === 1 || !marking) {
      setPanning({ ...p, look });
      // What was meant as a stroke only moved the picture: that is said.
      if (!space && e.evt.button === 0) set({ notTaken: notTaken(step, useView.getState()) });
      return;
    }
    if (e.evt.button !== 0) return;
    (e.evt.target as Element).setPointerCapture?.(e.evt.pointerId);
    draw.down(under(p), e.evt, look.zoom);
  };

  const move = (e: Konva.KonvaEventObject<PointerEvent>): void => {
    const p = at(e);
    setPointer(p);
    if (e.evt.pointerType === 'touch' && fingers.current.has(e.evt.pointerId)) fingers.current.set(e.evt.pointerId, p);
    if (pinch && fingers.current.size > 1) {
      const now = between([...fingers.current.values()]);
      const zoom = zoomed((pinch.look.zoom * now.apart) / Math.max(1, pinch.apart));
      // The place between both fingers stays between them.
      const [mx, my] = [width / 2, height / 2];
      const held = { x: (pinch.x - mx) / pinch.look.zoom + pinch.look.x, y: (pinch.y - my) / pinch.look.zoom + pinch.look.y };
      set({ look: { zoom, x: held.x - (now.x - mx) / zoom, y: held.y - (now.y - my) / zoom } });
    } else if (panning) {
      const { zoom, x, y } = panning.look;
      set({ look: { zoom, x: x - (p.x - panning.x) / zoom, y: y - (p.y - panning.y) / zoom } });
    } else if (bench.active) bench.move(under(p), look.zoom);
    else draw.move(under(p), e.evt, look.zoom);
  };

  const up = (e?: Konva.KonvaEventObject<PointerEvent>): void => {
    if (e) fingers.current.delete(e.evt.pointerId);
    if (pinch) {
      if (fingers.current.size === 0) setPinch(undefined);
      return;
    }
    setPanning(undefined);
    bench.up();
    draw.up();
  };

  const wheel = (e: Konva.KonvaEventObject<WheelEvent>): void => {
    e.evt.preventDefault();
    const p = at(e);
    const fixed = under(p);
    const zoom = zoomed(look.zoom * Math.exp(-e.evt.deltaY * 0.0015));
    set({ look: { zoom, x: fixed.x - (p.x - paneAt(p) - paneWidth / 2) / zoom, y: fixed.y - (p.y - height / 2) / zoom } });
  };

  const onKeys = (e: React.KeyboardEvent<HTMLDivElement>): void => {
    if (!byKeys) return;
    const along = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const event = (): PointerEvent => new PointerEvent('pointerdown', { pointerType: 'mouse', shiftKey: e.shiftKey, altKey: e.altKey, ctrlKey: e.ctrlKey }); // prettier-ignore
    if (along) {
      const by = e.shiftKey ? fineStep : coarseStep;
      const p = { x: Math.min(width, Math.max(0, byKeys.x + along[0] * by)), y: Math.min(height, Math.max(0, byKeys.y + along[1] * by)) };
      setByKeys({ ...p, draws: byKeys.draws });
      setPointer(p);
      if (byKeys.draws && bench.active) bench.move(under(p), look.zoom);
      else if (byKeys.draws) draw.move(under(p), event(), look.zoom);
    } else if (e.key === ' ' && (bench.active || marking)) {
      // What is pressed, and each corner, is done at once; a stroke ends with the next.
      const ends = byKeys.draws && !drawing?.corners && (bench.draws || !bench.active);
      if (ends) {
        bench.up();
        draw.up();
      } else if (bench.active) bench.down(under(byKeys));
      else draw.down(under(byKeys), event(), look.zoom);
      setByKeys({ ...byKeys, draws: !ends });
    } else if (e.key === ' ') set({ notTaken: notTaken(step, useView.getState()) });
    else if (e.key === 'Escape' && byKeys.draws) {
      bench.drop();
      draw.drop();
      setByKeys({ ...byKeys, draws: false });
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };

  return {
    pointer,
    panning: panning !== undefined,
    pinch: pinch !== undefined,
    finger,
    space,
    byKeys,
    /** For the stage that is drawn on. */
    onStage: {
      onPointerDown: down,
      onPointerMove: move,
      onPointerUp: up,
      onPointerCancel: up,
      onPointerLeave: () => setPointer(undefined),
      onWheel: wheel,
    },
    /** For the element around it, which has the focus. */
    onPane: {
      onFocus: (e: React.FocusEvent<HTMLDivElement>) => {
        if (e.target !== e.currentTarget || !e.target.matches(':focus-visible')) return;
        const p = { x: paneWidth / 2, y: height / 2 };
        setByKeys({ ...p, draws: false });
        setPointer(p);
      },
      onBlur: () => {
        if (byKeys?.draws) up();
        setByKeys(undefined);
      },
      onPointerDown: () => setByKeys(undefined),
      onKeyDown: onKeys,
    },
  };
}

/** The middle between fingers, and how far apart the first two are. */
function between(places: Place[]): Place & { apart: number } {
  const [a, b] = places;
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.hypot(a.x - b.x, a.y - b.y) };
}

/** Whether the space bar is held. */
function useHeldSpace(): boolean {
  const [held, setHeld] = useState(false);
  const ref = useRef(false);
  useEffect(() => {
    const change = (e: KeyboardEvent): void => {
      if (e.code !== 'Space' || (e.target as Element).closest?.('input,textarea,button,[role=slider],a,[data-by-keys]')) return;
      e.preventDefault();
      const now = e.type === 'keydown';
      if (now !== ref.current) {
        ref.current = now;
        setHeld(now);
      }
    };
    addEventListener('keydown', change);
    addEventListener('keyup', change);
    return () => {
      removeEventListener('keydown', change);
      removeEventListener('keyup', change);
    };
  }, []);
  return held;
}

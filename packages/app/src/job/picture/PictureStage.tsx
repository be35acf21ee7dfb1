import type { Mark } from '@ritaglio/core';
import type Konva from 'konva';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Circle, Group, Image as KonvaImage, Label, Layer, Line, Rect, Stage, Tag, Text } from 'react-konva';
import { editSubject } from '../edit';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { about, type Step } from '../steps';
import { useView, type Look, type PictureChoice } from '../viewStore';
import { MarkShapes } from './MarkShapes';

const words: Record<PictureChoice, string> = { shot: 'Shot', matte: 'Matte', plate: 'Plate', background: 'Behind', finished: 'Finished' };

/** The picture itself: products, comparison, marks, pan and zoom. Coordinates inside the frame are full-size pixels. */
export function PictureStage({ step, width, height }: { step: Step; width: number; height: number }) {
  const { frame, subjects } = useRecipe();
  const { commit } = useChange();
  const view = useView();
  const [stroke, setStroke] = useState<Mark>();
  const [pointer, setPointer] = useState<{ x: number; y: number }>();
  const [panning, setPanning] = useState<{ x: number; y: number; look: Look }>();
  const space = useHeldSpace();

  const beside = view.compare === 'beside';
  const paneWidth = beside ? width / 2 : width;
  const fit = 0.965 * Math.min(paneWidth / frame.width, height / frame.height);
  const { set, fitZoom } = view;
  useEffect(() => {
    if (fit !== fitZoom) set({ fitZoom: fit });
  }, [fit, fitZoom, set]);
  const look: Look = view.look ?? { zoom: fit, x: frame.width / 2, y: frame.height / 2 };
  const marking = step === 'matte' && view.picture === 'shot' && view.compare === 'whole';

  /** Full-size point under a point of the screen. */
  const under = (p: { x: number; y: number }): { x: number; y: number } => {
    const pane = beside && p.x >= paneWidth ? paneWidth : 0;
    return { x: (p.x - pane - paneWidth / 2) / look.zoom + look.x, y: (p.y - height / 2) / look.zoom + look.y };
  };
  const at = (e: Konva.KonvaEventObject<PointerEvent | WheelEvent>): { x: number; y: number } =>
    e.target.getStage()?.getPointerPosition() ?? { x: 0, y: 0 };

  const down = (e: Konva.KonvaEventObject<PointerEvent>): void => {
    if (e.target.name() === 'handle') return;
    const p = at(e);
    if (space || e.evt.button === 1 || !marking) {
      setPanning({ ...p, look });
      return;
    }
    if (e.evt.button !== 0) return;
    (e.evt.target as Element).setPointerCapture?.(e.evt.pointerId);
    const kind = e.evt.shiftKey ? 'outside' : e.evt.altKey ? 'edge' : view.mark;
    setStroke({ kind, radius: view.tip / 2, points: [pointOf(under(p), e.evt)] });
  };

  const move = (e: Konva.KonvaEventObject<PointerEvent>): void => {
    const p = at(e);
    setPointer(p);
    if (panning) {
      const { zoom, x, y } = panning.look;
      set({ look: { zoom, x: x - (p.x - panning.x) / zoom, y: y - (p.y - panning.y) / zoom } });
    } else if (stroke) {
      const next = pointOf(under(p), e.evt);
      const last = stroke.points[stroke.points.length - 1];
      if (Math.hypot(next[0] - last[0], next[1] - last[1]) * look.zoom >= 2) setStroke({ ...stroke, points: [...stroke.points, next] });
    }
  };

  const up = (): void => {
    setPanning(undefined);
    if (!stroke) return;
    setStroke(undefined);
    commit((recipe) => editSubject(recipe, (s) => ({ ...s, marks: [...s.marks, stroke as (typeof s.marks)[number]] })));
  };

  const wheel = (e: Konva.KonvaEventObject<WheelEvent>): void => {
    e.evt.preventDefault();
    const p = at(e);
    const fixed = under(p);
    const zoom = Math.min(16, Math.max(fit / 2, look.zoom * Math.exp(-e.evt.deltaY * 0.0015)));
    const pane = beside && p.x >= paneWidth ? paneWidth : 0;
    set({ look: { zoom, x: fixed.x - (p.x - pane - paneWidth / 2) / zoom, y: fixed.y - (p.y - height / 2) / zoom } });
  };

  const inFrame = { x: paneWidth / 2 - look.x * look.zoom, y: height / 2 - look.y * look.zoom, scaleX: look.zoom, scaleY: look.zoom };
  const shown: PictureChoice = view.before ? 'shot' : view.picture;
  const plain = view.before || step !== 'matte';
  const wipeAt = view.wipe * frame.width;
  const cursor = panning ? 'grabbing' : space || !marking ? 'grab' : 'none';

  return (
    <div style={{ cursor }} data-testid="picture" aria-label={`${words[shown]}, ${about[step].name}`} role="img">
      <Stage
        width={width}
        height={height}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onPointerLeave={() => setPointer(undefined)}
        onWheel={wheel}
      >
        <Layer listening={false}>
          <Group clipX={0} clipY={0} clipWidth={paneWidth} clipHeight={height}>
            <Group {...inFrame}>
              {view.compare === 'whole' || view.before ? (
                <ProductImage picture={shown} plain={plain} zoom={look.zoom} />
              ) : view.compare === 'wipe' ? (
                <>
                  <Group clipX={0} clipY={0} clipWidth={wipeAt} clipHeight={frame.height}>
                    <ProductImage picture="shot" plain zoom={look.zoom} />
                  </Group>
                  <Group clipX={wipeAt} clipY={0} clipWidth={frame.width - wipeAt} clipHeight={frame.height}>
                    <ProductImage picture={shown} plain={plain} zoom={look.zoom} />
                  </Group>
                </>
              ) : (
                <ProductImage picture="shot" plain zoom={look.zoom} />
              )}
            </Group>
          </Group>
          {beside && !view.before && (
            <Group x={paneWidth} clipX={0} clipY={0} clipWidth={paneWidth} clipHeight={height}>
              <Group {...inFrame}>
                <ProductImage picture={shown} plain={plain} zoom={look.zoom} />
              </Group>
            </Group>
          )}
          {marking && !view.before && (
            <Group {...inFrame}>
              <MarkShapes marks={stroke ? [...subjects[0].marks, stroke] : subjects[0].marks} zoom={look.zoom} />
            </Group>
          )}
          {marking && pointer && !space && !panning && (
            <>
              <Circle x={pointer.x} y={pointer.y} radius={(view.tip / 2) * look.zoom} stroke="#20211f" strokeWidth={3} />
              <Circle x={pointer.x} y={pointer.y} radius={(view.tip / 2) * look.zoom} stroke="#ffffff" strokeWidth={1} />
            </>
          )}
        </Layer>
        {view.compare === 'wipe' && !view.before && (
          <Layer>
            <WipeHandle
              x={inFrame.x + wipeAt * look.zoom}
              height={height}
              label={words[shown]}
              onMove={(x) => set({ wipe: Math.min(1, Math.max(0, (x - inFrame.x) / look.zoom / frame.width)) })}
            />
          </Layer>
        )}
      </Stage>
    </div>
  );
}

/** A point of a mark, to a tenth of a pixel, with the pen's pressure if there is a pen. */
function pointOf(p: { x: number; y: number }, e: PointerEvent): [number, number] | [number, number, number] {
  const x = Math.round(p.x * 10) / 10;
  const y = Math.round(p.y * 10) / 10;
  return e.pointerType === 'pen' && e.pressure > 0 ? [x, y, Math.round(e.pressure * 100) / 100] : [x, y];
}

/** One product drawn over the frame. The shot is drawn with what is removed from it, unless plain. */
function ProductImage({ picture, plain, zoom }: { picture: PictureChoice; plain: boolean; zoom: number }) {
  const { frame } = useRecipe();
  const { shown, figures } = useProductsOfJob();
  const removed = useView((s) => s.removed);
  const hatch = useMemo(() => hatchTile(), []);
  const product = shown[picture];
  const whole = { x: 0, y: 0, width: frame.width, height: frame.height };
  if (!product) return <Rect {...whole} fill="#8d8d8b" />;
  const smooth = zoom < 2 * product.scale;
  const image = <KonvaImage {...whole} image={product.bitmap} imageSmoothingEnabled={smooth} />;
  const cut = shown.subject;
  if (picture !== 'shot' || plain || !cut || !figures.matte || figures.matte.subject === 0) return image;
  return (
    <>
      {removed === 'hatch' ? (
        <>
          {image}
          <Rect {...whole} fill="#e4e3df" opacity={0.62} />
          <Rect
            {...whole}
            fillPatternImage={hatch as unknown as HTMLImageElement}
            fillPatternScale={{ x: 1 / zoom, y: 1 / zoom }}
            opacity={0.42}
          />
        </>
      ) : (
        <Rect {...whole} fill={removed} />
      )}
      <KonvaImage {...whole} image={cut.bitmap} imageSmoothingEnabled={smooth} />
    </>
  );
}

/** One tile of diagonal hatch. */
function hatchTile(): HTMLCanvasElement {
  const tile = document.createElement('canvas');
  tile.width = tile.height = 12;
  const c = tile.getContext('2d')!;
  c.strokeStyle = '#20211f';
  c.lineWidth = 3;
  c.beginPath();
  for (const o of [-12, 0, 12]) {
    c.moveTo(o, 12);
    c.lineTo(o + 12, 0);
  }
  c.stroke();
  return tile;
}

function WipeHandle({ x, height, label, onMove }: { x: number; height: number; label: string; onMove: (x: number) => void }) {
  return (
    <Group x={x} draggable dragBoundFunc={(p) => ({ x: p.x, y: 0 })} onDragMove={(e) => onMove(e.target.x())}>
      <Line name="handle" points={[0, 0, 0, height]} stroke="#20211f" strokeWidth={3} hitStrokeWidth={18} />
      <Line name="handle" points={[0, 0, 0, height]} stroke="#ffffff" strokeWidth={1} listening={false} />
      <Rect name="handle" x={-5} y={height / 2 - 16} width={10} height={32} fill="#f3f2ee" stroke="#20211f" />
      <Label x={-62} y={12} listening={false}>
        <Tag fill="#f3f2ee" />
        <Text
          text="Shot"
          fontFamily="Schibsted Grotesk Variable"
          fontStyle="600"
          fontSize={13}
          padding={4}
          width={54}
          align="right"
          fill="#20211f"
        />
      </Label>
      <Label x={8} y={12} listening={false}>
        <Tag fill="#f3f2ee" />
        <Text text={label} fontFamily="Schibsted Grotesk Variable" fontStyle="600" fontSize={13} padding={4} fill="#20211f" />
      </Label>
    </Group>
  );
}

/** Whether the space bar is held. */
function useHeldSpace(): boolean {
  const [held, setHeld] = useState(false);
  const ref = useRef(false);
  useEffect(() => {
    const change = (e: KeyboardEvent): void => {
      if (e.code !== 'Space' || (e.target as Element).closest?.('input,textarea,button,[role=slider],a')) return;
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

import type { Card, Recipe } from '@ritaglio/core';
import type Konva from 'konva';
import { useState } from 'react';
import { Circle, Group, Line, Rect } from 'react-konva';
import { nameOf } from '../bench/cards';
import { useCard } from '../bench/useBench';
import { useChange, useRecipe } from '../jobContext';
import { Both, Name } from './Lines';

type Dragged = Konva.KonvaEventObject<DragEvent>;

/** How near, in px of the screen, an edge or a middle draws a moved card to itself. */
const snap = 7;

/** The chosen card's outline: dragged it moves, by a corner it grows, by the stalk it turns. */
export function CardHandles({ zoom }: { zoom: number }) {
  const recipe = useRecipe();
  const { card, way, preview, commit } = useCard();
  const [began, setBegan] = useState<{ corners: { x: number; y: number }[]; middle: { x: number; y: number } }>();
  if (!card || !way || card.locked) return null;
  const { width, height } = way.size;
  const corners = [[0, 0], [width, 0], [width, height], [0, height]].map(([x, y]) => way.in(x, y)); // prettier-ignore
  const middle = way.in(width / 2, height / 2);
  const top = way.in(width / 2, 0);
  const { frame } = recipe;
  // While it is dragged all is measured from where it began.
  const from = began ?? { corners, middle };
  const begin = (): void => setBegan({ corners, middle });
  /** A shift that brings the middle or an edge onto the frame's, if one is near. */
  const snapped = (dx: number, dy: number): [number, number] => {
    const near = snap / zoom;
    const pull = (at: number[], to: number[], d: number): number => {
      const gaps = at.flatMap((v) => to.map((t) => t - v - d)).filter((g) => Math.abs(g) < near);
      return gaps.length > 0 ? d + gaps.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a)) : d;
    };
    const [xs, ys] = [from.corners.map((c) => c.x), from.corners.map((c) => c.y)];
    return [
      pull([from.middle.x, Math.min(...xs), Math.max(...xs)], [frame.width / 2, 0, frame.width], dx),
      pull([from.middle.y, Math.min(...ys), Math.max(...ys)], [frame.height / 2, 0, frame.height], dy),
    ];
  };
  const moved = (dx: number, dy: number) => (c: Card) => {
    const [sx, sy] = snapped(dx, dy);
    const angle = (-frame.turn * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const { x, y } = c.placement;
    return { ...c, placement: { ...c.placement, x: Math.round(x + sx * cos - sy * sin), y: Math.round(y + sx * sin + sy * cos) } };
  };
  const scaled = (to: { x: number; y: number }, i: number) => (c: Card) => {
    const away = (p: { x: number; y: number }): number => Math.hypot(p.x - from.middle.x, p.y - from.middle.y);
    const scale = (c.placement.scale * away(to)) / Math.max(1, away(from.corners[i]));
    return { ...c, placement: { ...c.placement, scale: Math.min(20, Math.max(0.02, Math.round(1000 * scale) / 1000)) } };
  };
  const turned = (to: { x: number; y: number }) => (c: Card) => {
    const raw = (Math.atan2(-(to.y - middle.y), to.x - middle.x) * 180) / Math.PI - 90 + frame.turn;
    const turn = ((((raw + 180) % 360) + 360) % 360) - 180;
    const near = Math.round(turn / 15) * 15;
    return { ...c, placement: { ...c.placement, turn: Math.round(10 * (Math.abs(near - turn) < 2 ? near : turn)) / 10 } };
  };
  const at = (e: Dragged): { x: number; y: number } => ({ x: e.target.x(), y: e.target.y() });
  const stalk = {
    x: top.x + ((top.x - middle.x) * 24) / zoom / Math.max(1, Math.hypot(top.x - middle.x, top.y - middle.y)),
    y: top.y + ((top.y - middle.y) * 24) / zoom / Math.max(1, Math.hypot(top.x - middle.x, top.y - middle.y)),
  };
  const flat = corners.flatMap((c) => [c.x, c.y]);
  return (
    <>
      <Group
        draggable
        onDragStart={begin}
        onDragMove={(e) => {
          const { x, y } = at(e);
          preview(moved(x, y));
        }}
        onDragEnd={(e) => {
          const { x, y } = at(e);
          e.target.position({ x: 0, y: 0 });
          commit(moved(x, y));
          setBegan(undefined);
        }}
      >
        <Line name="handle" points={flat} closed fill="#00000001" />
      </Group>
      <Both points={flat} closed zoom={zoom} />
      <Both points={[top.x, top.y, stalk.x, stalk.y]} zoom={zoom} />
      {corners.map((c, i) => (
        <Rect
          key={i}
          name="handle"
          x={c.x}
          y={c.y}
          offsetX={5 / zoom}
          offsetY={5 / zoom}
          width={10 / zoom}
          height={10 / zoom}
          fill="#f3f2ee"
          stroke="#20211f"
          strokeWidth={1.5 / zoom}
          draggable
          onDragStart={begin}
          onDragMove={(e) => preview(scaled(at(e), i))}
          onDragEnd={(e) => {
            commit(scaled(at(e), i));
            setBegan(undefined);
          }}
        />
      ))}
      <Circle
        name="handle"
        x={stalk.x}
        y={stalk.y}
        radius={6 / zoom}
        fill="#f3f2ee"
        stroke="#20211f"
        strokeWidth={1.5 / zoom}
        draggable
        onDragMove={(e) => preview(turned(at(e)))}
        onDragEnd={(e) => commit(turned(at(e)))}
      />
      <Name x={corners[0].x + 8 / zoom} y={corners[0].y + 8 / zoom} zoom={zoom} text={nameOf(card)} />
    </>
  );
}

/** The frame's edges; each is dragged in to cut or out to extend. */
export function FrameHandles({ zoom }: { zoom: number }) {
  const { frame } = useRecipe();
  const { commit } = useChange();
  const { width, height } = frame;
  const cut = (side: 'left' | 'right' | 'top' | 'bottom', d: number) => (r: Recipe) => {
    const by = Math.round(d);
    const across = side === 'left' || side === 'right';
    const grows = side === 'right' || side === 'bottom' ? by : -by;
    const size = Math.max(16, (across ? r.frame.width : r.frame.height) + grows);
    const shift = ((size - (across ? r.frame.width : r.frame.height)) / 2) * (side === 'right' || side === 'bottom' ? 1 : -1);
    const angle = (-r.frame.turn * Math.PI) / 180;
    const [dx, dy] = across ? [shift, 0] : [0, shift];
    const x = r.frame.x + dx * Math.cos(angle) - dy * Math.sin(angle);
    const y = r.frame.y + dx * Math.sin(angle) + dy * Math.cos(angle);
    return { ...r, frame: { ...r.frame, x, y, [across ? 'width' : 'height']: size } };
  };
  const sides = [
    ['left', [0, 0, 0, height]],
    ['right', [width, 0, width, height]],
    ['top', [0, 0, width, 0]],
    ['bottom', [0, height, width, height]],
  ] as const;
  return (
    <>
      {sides.map(([side, points]) => (
        <Group
          key={`${side} ${width} ${height}`}
          draggable
          dragBoundFunc={function (this: Konva.Node, p) {
            const now = this.absolutePosition();
            return side === 'left' || side === 'right' ? { x: p.x, y: now.y } : { x: now.x, y: p.y };
          }}
          onDragEnd={(e) => {
            const d = side === 'left' || side === 'right' ? e.target.x() : e.target.y();
            e.target.position({ x: 0, y: 0 });
            commit(cut(side, d));
          }}
        >
          <Both points={[...points]} zoom={zoom} width={3} />
          <Line name="handle" points={[...points]} stroke="#00000001" strokeWidth={1 / zoom} hitStrokeWidth={18 / zoom} />
        </Group>
      ))}
    </>
  );
}

import type { Card, Recipe, Region } from '@ritaglio/core';
import type Konva from 'konva';
import { useState } from 'react';
import { Circle, Group, Label, Line, Rect, Tag, Text } from 'react-konva';
import { editCard } from '../edit';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { useCard, useSizes } from '../bench/useBench';
import { nameOf, wayOf, wayOfShot, type Sizes } from '../bench/cards';
import { groundWith } from '../lens/DistancesPart';
import { lampCard } from '../lens/LampsPart';
import type { Step } from '../steps';
import { useViewOf, type BenchTool } from '../viewStore';
import { Graduation } from './MatchShapes';
import { say } from '../../words/say';

/** Tools that draw as wide as the tip, and those that go around something. */
const wide: readonly BenchTool[] = ['paint', 'limit'];
const looped: readonly BenchTool[] = ['like', 'strew', 'stands'];

type Dragged = Konva.KonvaEventObject<DragEvent>;

/** What of the bench lies on the picture: ground line, pegs, lamps, the chosen card's handles, the frame. Ink with a light rim. */
export function BenchShapes({ zoom, step, drawing }: { zoom: number; step: Step; drawing?: [number, number][] }) {
  const { benchTool, lamps, tip, picture } = useViewOf('benchTool', 'lamps', 'tip', 'picture');
  const { card } = useCard();
  const onDistances =
    benchTool === 'ground' || benchTool === 'peg' || benchTool === 'paint' || benchTool === 'stands' || picture === 'distances';
  return (
    <>
      {step === 'lens' && onDistances && <Ground zoom={zoom} />}
      {step === 'lens' && onDistances && <Pegs zoom={zoom} />}
      {step === 'lens' && onDistances && <Standing zoom={zoom} />}
      {step === 'lens' && lamps && <Lamps zoom={zoom} />}
      {step === 'lens' && (benchTool === 'graduate' || benchTool === 'limit') && <Graduation zoom={zoom} />}
      {step === 'stage' && benchTool === 'cards' && card && <CardHandles zoom={zoom} />}
      {step === 'stage' && benchTool === 'frame' && <FrameHandles zoom={zoom} />}
      {step === 'lens' && <LikeRegion zoom={zoom} />}
      {drawing && (
        <Both
          points={drawing.flat()}
          zoom={zoom}
          width={wide.includes(benchTool) ? 2 * tip * zoom : 2}
          closed={looped.includes(benchTool)}
        />
      )}
    </>
  );
}

/** A line in ink with a light rim. */
export function Both(props: { points: number[]; zoom: number; width?: number; closed?: boolean; dash?: number[] }) {
  const { points, zoom, width = 1.5, closed = false, dash } = props;
  const common = {
    points,
    closed,
    lineCap: 'round' as const,
    lineJoin: 'round' as const,
    listening: false,
    ...(dash && { dash: dash.map((d) => d / zoom) }),
  };
  const wide = width > 6;
  return (
    <>
      <Line {...common} stroke="#f3f2ee" strokeWidth={(width + 2.5) / zoom} opacity={wide ? 0.5 : 1} />
      <Line {...common} stroke="#20211f" strokeWidth={width / zoom} opacity={wide ? 0.25 : 1} />
    </>
  );
}

export function Name({ x, y, zoom, text }: { x: number; y: number; zoom: number; text: string }) {
  const size = 12 / zoom;
  return (
    <Group x={x} y={y} listening={false}>
      <Rect width={(7 * text.length + 8) / zoom} height={1.4 * size} fill="#f3f2ee" />
      <Text x={4 / zoom} y={0.2 * size} text={text} fontFamily="Spline Sans Mono" fontSize={size} fill="#20211f" />
    </Group>
  );
}

/** The ground line and the horizon of the card that is picked out; both are dragged up and down. */
function Ground({ zoom }: { zoom: number }) {
  const { card, way, preview, commit } = useCard();
  const ground = card?.distances.ground;
  if (!card || !way || !ground) return null;
  const change = (key: 'line' | 'horizon', value: number) => (c: Card) =>
    c.distances.ground ? { ...c, distances: { ...c.distances, ground: groundWith(c.distances.ground, key, Math.round(value)) } } : c;
  const { width } = way.size;
  return (
    <>
      {(['horizon', 'line'] as const).map((key) => {
        const [a, b] = [way.in(0, ground[key]), way.in(width, ground[key])];
        const [dx, dy] = [b.x - a.x, b.y - a.y];
        const value = (e: Dragged): number => way.on(e.target.x() + dx / 2, e.target.y() + dy / 2).y;
        return (
          <Group
            key={key}
            x={a.x}
            y={a.y}
            draggable
            dragBoundFunc={function (this: Konva.Node, p) {
              return { x: this.absolutePosition().x, y: p.y };
            }}
            onDragMove={(e) => preview(change(key, value(e)))}
            onDragEnd={(e) => commit(change(key, value(e)))}
          >
            <Both points={[0, 0, dx, dy]} zoom={zoom} {...(key === 'horizon' && { dash: [2, 6] })} />
            <Line name="handle" points={[0, 0, dx, dy]} stroke="#00000001" strokeWidth={1 / zoom} hitStrokeWidth={18 / zoom} />
            <Name
              x={8 / zoom}
              y={-22 / zoom}
              zoom={zoom}
              text={key === 'line' ? say('ground line {distance} m', { distance: ground.distance.toFixed(2) }) : say('horizon')}
            />
          </Group>
        );
      })}
    </>
  );
}

function Pegs({ zoom }: { zoom: number }) {
  const { card, way, preview, commit } = useCard();
  if (!card || !way) return null;
  const moved = (i: number, x: number, y: number) => (c: Card) => ({
    ...c,
    distances: { ...c.distances, pegs: c.distances.pegs.map((p, k) => (k === i ? { ...p, ...on(x, y) } : p)) },
  });
  const on = (x: number, y: number): { x: number; y: number } => {
    const p = way.on(x, y);
    return { x: Math.round(p.x), y: Math.round(p.y) };
  };
  return (
    <>
      {card.distances.pegs.map((peg, i) => {
        const at = way.in(peg.x, peg.y);
        return (
          <Group
            key={i}
            x={at.x}
            y={at.y}
            draggable
            onDragMove={(e) => preview(moved(i, e.target.x(), e.target.y()))}
            onDragEnd={(e) => commit(moved(i, e.target.x(), e.target.y()))}
          >
            <Line
              name="handle"
              points={[0, 0, -7 / zoom, -18 / zoom, 7 / zoom, -18 / zoom]}
              closed
              fill="#20211f"
              stroke="#f3f2ee"
              strokeWidth={2 / zoom}
              hitStrokeWidth={10 / zoom}
            />
            <Name x={10 / zoom} y={-24 / zoom} zoom={zoom} text={`${peg.distance.toFixed(2)} m`} />
          </Group>
        );
      })}
    </>
  );
}

/** What stands with the subject, of all cards. */
function Standing({ zoom }: { zoom: number }) {
  const recipe = useRecipe();
  const sizes = useSizes();
  return recipe.cards.map((card) => <Outlines key={card.id} card={card} sizes={sizes} regions={card.distances.standing} zoom={zoom} />);
}

/** Regions of a card's own picture, where they lie in the frame. */
function Outlines({ card, sizes, regions, zoom }: { card: Card; sizes: Sizes; regions: readonly Region[]; zoom: number }) {
  const way = wayOf(useRecipe(), card, sizes);
  return regions.map((region, i) => {
    const points = region.points.flatMap(([x, y]) => {
      const p = way.in(x, y);
      return [p.x, p.y];
    });
    return <Both key={i} points={points} closed={region.filled === true} zoom={zoom} dash={[5, 4]} />;
  });
}

/** Found lamps as rings of their size, dropped ones crossed out, those set by hand with a dot. */
function Lamps({ zoom }: { zoom: number }) {
  const { figures } = useProductsOfJob();
  const { cards } = useRecipe();
  const { commit } = useChange();
  const sizes = useSizes();
  const card = lampCard(cards);
  const found = figures.lamps;
  if (!card || !found || found.card !== card.id) return null;
  const turn = (x: number, y: number, dropped: boolean) => (r: Recipe) =>
    editCard(r, card.id, (c) => {
      if (!('lamps' in c)) return c;
      const others = c.lamps.dropped.filter(([u, v]) => Math.hypot(u - x, v - y) > 2);
      return { ...c, lamps: { ...c.lamps, dropped: dropped ? others : [...others, [Math.round(x), Math.round(y)] as [number, number]] } };
    });
  return (
    <>
      <Outlines card={card} sizes={sizes} regions={card.lamps.areas.map((a) => a.region)} zoom={zoom} />
      {found.lamps.map((l, i) => {
        const ring = l.at.radius + 3 / zoom;
        return (
          <Group key={i} x={l.at.x} y={l.at.y} onPointerDown={() => commit(turn(l.x, l.y, l.dropped))}>
            <Circle radius={ring} stroke="#f3f2ee" strokeWidth={3 / zoom} />
            <Circle
              name="handle"
              radius={ring}
              stroke="#20211f"
              strokeWidth={1.2 / zoom}
              fill="#00000001"
              {...(l.dropped && { dash: [1 / zoom, 3 / zoom] })}
            />
            {l.dropped && <Both points={[-ring, ring, ring, -ring]} zoom={zoom} />}
          </Group>
        );
      })}
      {found.set.map((l, i) => (
        <Group key={`set ${i}`} x={l.x} y={l.y} listening={false}>
          <Circle radius={l.radius + 3 / zoom} stroke="#f3f2ee" strokeWidth={3 / zoom} />
          <Circle radius={l.radius + 3 / zoom} stroke="#20211f" strokeWidth={1.2 / zoom} />
          <Circle radius={2 / zoom} fill="#20211f" stroke="#f3f2ee" strokeWidth={1 / zoom} />
        </Group>
      ))}
    </>
  );
}

/** The region whose blur is to be shared. */
function LikeRegion({ zoom }: { zoom: number }) {
  const { like, likeness, benchTool, picture } = useViewOf('like', 'likeness', 'benchTool', 'picture');
  const recipe = useRecipe();
  if (!like || (picture !== 'shot' && benchTool !== 'like')) return null;
  const way = wayOfShot(recipe);
  const points = like.points.flatMap(([x, y]) => {
    const p = way.in(x, y);
    return [p.x, p.y];
  });
  const found = likeness?.wanted?.diameter;
  const says = !likeness ? '' : found === undefined ? say('no edges here') : `${found.toFixed(1)} px`;
  return (
    <>
      <Both points={points} closed zoom={zoom} />
      {says && (
        <Label x={Math.min(...points.filter((_, i) => i % 2 === 0))} y={Math.max(...points.filter((_, i) => i % 2 === 1)) + 6 / zoom}>
          <Tag fill="#20211f" />
          <Text text={says} fontSize={12 / zoom} padding={3 / zoom} fill="#f3f2ee" fontFamily="Spline Sans Mono" />
        </Label>
      )}
    </>
  );
}

/** How near, in px of the screen, an edge or a middle draws a moved card to itself. */
const snap = 7;

/** The chosen card's outline: dragged it moves, by a corner it grows, by the stalk it turns. */
function CardHandles({ zoom }: { zoom: number }) {
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
function FrameHandles({ zoom }: { zoom: number }) {
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

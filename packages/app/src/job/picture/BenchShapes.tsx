import type { Card, Recipe, Region } from '@ritaglio/core';
import type Konva from 'konva';
import { Circle, Group, Label, Line, Tag, Text } from 'react-konva';
import { editCard } from '../edit';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { useCard, useSizes } from '../bench/useBench';
import { wayOf, wayOfShot, type Sizes } from '../bench/cards';
import { groundWith } from '../lens/DistancesPart';
import { lampCard } from '../lens/LampsPart';
import type { Step } from '../steps';
import { useViewOf, type BenchTool } from '../viewStore';
import { CardHandles, FrameHandles } from './Handles';
import { Both, Name } from './Lines';
import { Graduation } from './MatchShapes';
import { figured, say } from '../../words/say';

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
              text={key === 'line' ? say('ground line {distance} m', { distance: figured(ground.distance, 2) }) : say('horizon')}
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
            <Name x={10 / zoom} y={-24 / zoom} zoom={zoom} text={`${figured(peg.distance, 2)} m`} />
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
  const says = !likeness ? '' : found === undefined ? say('no edges here') : `${figured(found, 1)} px`;
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

import type { Mark } from '@ritaglio/core';
import { Circle, Group, Line } from 'react-konva';

/** What a mark does when the pointer may change marks. */
export interface MarkHold {
  chosen?: number;
  choose: (index: number) => void;
  move: (index: number, dx: number, dy: number) => void;
}

/** Inside marks white with a black rim, outside marks black with a white rim, edge marks dotted: they read on any picture. */
export function MarkShapes({ marks, zoom, hold }: { marks: readonly Mark[]; zoom: number; hold?: MarkHold }) {
  return marks.map((mark, i) =>
    hold ? (
      <Group
        key={i}
        draggable
        onPointerDown={(e) => {
          e.cancelBubble = true;
          hold.choose(i);
        }}
        onDragEnd={(e) => {
          const { x, y } = e.target.position();
          e.target.position({ x: 0, y: 0 });
          hold.move(i, x, y);
        }}
      >
        <Reach mark={mark} zoom={zoom} chosen={hold.chosen === i} />
        <MarkShape mark={mark} zoom={zoom} />
      </Group>
    ) : (
      <MarkShape key={i} mark={mark} zoom={zoom} />
    ),
  );
}

/** The part of a mark that can be taken hold of, broad enough for a pointer; drawn only when it is chosen. */
function Reach({ mark, zoom, chosen }: { mark: Mark; zoom: number; chosen: boolean }) {
  const points = mark.points.flatMap((p) => [p[0], p[1]]);
  const broad = Math.max(16 / zoom, Math.min(2 * mark.radius, 26 / zoom));
  const colour = chosen ? '#d6461f' : '#00000001';
  if (mark.points.length === 1) return <Circle x={points[0]} y={points[1]} radius={broad / 2} fill={colour} />;
  return (
    <Line
      points={points}
      stroke={colour}
      strokeWidth={chosen ? 13 / zoom : broad}
      hitStrokeWidth={broad}
      lineCap="round"
      lineJoin="round"
      closed={mark.filled}
    />
  );
}

function MarkShape({ mark, zoom }: { mark: Mark; zoom: number }) {
  const points = mark.points.flatMap((p) => [p[0], p[1]]);
  const width = 2 * mark.radius;
  const rim = 2.5 / zoom;
  // The stroke is drawn slim, so that the picture under it can still be judged.
  const core = mark.filled ? 3 / zoom : Math.max(3 / zoom, Math.min(width, 9 / zoom));
  const round = { lineCap: 'round', lineJoin: 'round', listening: false, closed: mark.filled } as const;
  if (mark.points.length === 1) {
    const [x, y] = mark.points[0];
    const [fill, stroke] = mark.kind === 'outside' ? ['#111111', '#ffffff'] : ['#ffffff', '#111111'];
    return <Circle x={x} y={y} radius={core / 2} fill={fill} stroke={stroke} strokeWidth={rim / 2} listening={false} />;
  }
  if (mark.kind === 'edge') {
    return (
      <Group listening={false}>
        {!mark.filled && <Line points={points} stroke="#20211f" opacity={0.22} strokeWidth={width} {...round} />}
        <Line points={points} stroke="#111111" strokeWidth={6 / zoom} dash={[0.01, 9 / zoom]} {...round} />
        <Line points={points} stroke="#ffffff" strokeWidth={3.5 / zoom} dash={[0.01, 9 / zoom]} {...round} />
      </Group>
    );
  }
  const [fill, edge] = mark.kind === 'inside' ? ['#ffffff', '#111111'] : ['#111111', '#ffffff'];
  return (
    <Group listening={false}>
      <Line points={points} stroke={edge} strokeWidth={core + rim} {...round} />
      <Line points={points} stroke={fill} strokeWidth={core} {...round} />
    </Group>
  );
}

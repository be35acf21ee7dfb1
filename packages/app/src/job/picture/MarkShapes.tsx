import type { Mark } from '@ritaglio/core';
import { Circle, Group, Line, Rect, Shape } from 'react-konva';

/** What a mark does when the pointer may change marks. */
export interface MarkHold {
  chosen?: number;
  choose: (index: number) => void;
  move: (index: number, dx: number, dy: number) => void;
  /** One pressed point of a trace is moved. */
  moveAnchor: (index: number, anchor: number, to: [number, number]) => void;
}

interface MarkShapesProps {
  marks: readonly Mark[];
  zoom: number;
  hold?: MarkHold;
  /** Those of other frames are not. */
  shown: (mark: Mark & { frame?: number | undefined }) => boolean;
}

/** Inside marks white with a black rim, outside marks black with a white rim, edge marks dotted: they read on any picture. */
export function MarkShapes({ marks, zoom, hold, shown }: MarkShapesProps) {
  return marks.map((mark, i) =>
    !shown(mark) ? null : hold ? (
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
        {hold.chosen === i &&
          mark.anchors?.map((at, k) => (
            <Rect
              key={`${at} ${mark.points[at].join()}`}
              name="handle"
              x={mark.points[at][0] - 5 / zoom}
              y={mark.points[at][1] - 5 / zoom}
              width={10 / zoom}
              height={10 / zoom}
              fill="#f3f2ee"
              stroke="#20211f"
              strokeWidth={1.5 / zoom}
              draggable
              onPointerDown={(e) => (e.cancelBubble = true)}
              onDragMove={(e) => (e.cancelBubble = true)}
              onDragEnd={(e) => {
                e.cancelBubble = true;
                const { x, y } = e.target.position();
                hold.moveAnchor(i, k, [x + 5 / zoom, y + 5 / zoom]);
              }}
            />
          ))}
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

/** The one of several proposed marks that is asked about. */
export function PickedOut({ mark, zoom }: { mark: Mark; zoom: number }) {
  return (
    <Line
      points={mark.points.flatMap((p) => [p[0], p[1]])}
      stroke="#d6461f"
      strokeWidth={6 / zoom}
      lineJoin="round"
      closed
      listening={false}
    />
  );
}

function MarkShape({ mark, zoom }: { mark: Mark; zoom: number }) {
  const points = mark.points.flatMap((p) => [p[0], p[1]]);
  const width = 2 * mark.radius;
  const rim = 2.5 / zoom;
  // The stroke is drawn slim, so that the picture under it can still be judged.
  const core = mark.filled ? 3 / zoom : Math.max(3 / zoom, Math.min(width, 9 / zoom));
  const closed = mark.filled || mark.kind === 'loop';
  const round = { lineCap: 'round', lineJoin: 'round', listening: false, closed } as const;
  if (mark.points.length === 1) {
    const [x, y] = mark.points[0];
    const [fill, stroke] = mark.kind === 'outside' ? ['#111111', '#ffffff'] : ['#ffffff', '#111111'];
    return <Circle x={x} y={y} radius={core / 2} fill={fill} stroke={stroke} strokeWidth={rim / 2} listening={false} />;
  }
  if (mark.kind === 'loop' || mark.kind === 'trace') {
    // A loop is a wide seam, a border a fine line: neither covers what it follows.
    const seam = mark.kind === 'loop' ? [5, 2.5, 14 / zoom, 6 / zoom] : [3.5, 1.5];
    return (
      <Group listening={false}>
        <Line points={points} stroke="#111111" strokeWidth={seam[0] / zoom} {...round} />
        <Line points={points} stroke="#ffffff" strokeWidth={seam[1] / zoom} dash={seam.slice(2)} {...round} />
      </Group>
    );
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
  if (mark.points.some((p) => p[2] !== undefined && p[2] !== 1)) return <PressedStroke mark={mark} zoom={zoom} fill={fill} edge={edge} />;
  return (
    <Group listening={false}>
      <Line points={points} stroke={edge} strokeWidth={core + rim} {...round} />
      <Line points={points} stroke={fill} strokeWidth={core} {...round} />
    </Group>
  );
}

/** A stroke of a pen, as wide at each place as the pen was pressed. */
function PressedStroke({ mark, zoom, fill, edge }: { mark: Mark; zoom: number; fill: string; edge: string }) {
  return (
    <Shape
      listening={false}
      sceneFunc={(context) => {
        context.setAttr('lineCap', 'round');
        for (const [colour, wider] of [[edge, 2.5 / zoom], [fill, 0]] as const) {
          context.setAttr('strokeStyle', colour);
          mark.points.forEach((to, i) => {
            const from = mark.points[Math.max(0, i - 1)];
            const width = mark.radius * ((from[2] ?? 1) + (to[2] ?? 1));
            context.setAttr('lineWidth', Math.max(1 / zoom, Math.min(width, 9 / zoom)) + wider);
            context.beginPath();
            context.moveTo(from[0], from[1]);
            context.lineTo(to[0], to[1]);
            context.stroke();
          });
        }
      }}
    /> 
  ); // prettier-ignore
}

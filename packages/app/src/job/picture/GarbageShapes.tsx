import { cornersOf, type Shape } from '@ritaglio/core';
import { Fragment, useState } from 'react';
import { Line, Rect } from 'react-konva';
import { editSubject } from '../edit';
import { useChange, useOpenSubject } from '../jobContext';
import { handlesOf, movedShape } from '../matte/tools';
import { useView } from '../viewStore';

/** The shapes' outlines, ink with a light rim, broken where they clear, each with handles when it can be changed. */
export function GarbageShapes({ zoom, held }: { zoom: number; held: boolean }) {
  const shapes = useOpenSubject().garbage;
  return shapes.map((shape, i) => <GarbageOutline key={i} shape={shape} index={i} zoom={zoom} held={held} />);
}

function GarbageOutline({ shape: kept, index, zoom, held }: { shape: Shape; index: number; zoom: number; held: boolean }) {
  const { commit } = useChange();
  const chosen = useView((s) => s.chosen);
  const set = useView((s) => s.set);
  const [moving, setMoving] = useState<Shape>();
  const shape = moving ?? kept;
  const points = cornersOf(shape).flat();
  const settle = (next: Shape): void => {
    setMoving(undefined);
    commit((r) => editSubject(r, (s) => ({ ...s, garbage: s.garbage.map((g, i) => (i === index ? (next as typeof g) : g)) })));
  };
  const side = 9 / zoom;
  return (
    <>
      <Line points={points} closed stroke="#f3f2ee" strokeWidth={4 / zoom} listening={false} />
      <Line
        points={points}
        closed
        stroke={chosen === index && held ? '#d6461f' : '#20211f'}
        strokeWidth={1.5 / zoom}
        {...(kept.clears && { dash: [7 / zoom, 5 / zoom] })}
        hitStrokeWidth={14 / zoom}
        name="handle"
        listening={held}
        draggable={held}
        onPointerDown={() => set({ chosen: index })}
        onDragEnd={(e) => {
          const { x, y } = e.target.position();
          e.target.position({ x: 0, y: 0 });
          settle(movedShape(kept, 'whole', x, y));
        }}
      />
      {held &&
        handlesOf(shape).map(([x, y], corner) => (
          <Fragment key={corner}>
            <Rect
              name="handle"
              x={x}
              y={y}
              offsetX={side / 2}
              offsetY={side / 2}
              width={side}
              height={side}
              hitStrokeWidth={12 / zoom}
              fill="#f3f2ee"
              stroke="#20211f"
              strokeWidth={1.5 / zoom}
              draggable
              onPointerDown={() => set({ chosen: index })}
              onDragMove={(e) => {
                const [hx, hy] = handlesOf(kept)[corner];
                setMoving(movedShape(kept, corner, e.target.x() - hx, e.target.y() - hy));
              }}
              onDragEnd={(e) => {
                const [hx, hy] = handlesOf(kept)[corner];
                settle(movedShape(kept, corner, e.target.x() - hx, e.target.y() - hy));
              }}
            />
          </Fragment>
        ))}
    </>
  );
}

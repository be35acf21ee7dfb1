import { Circle, Group, Line } from 'react-konva';
import type { Drawing } from '../matte/tools';
import { handStrokeOf, markOf, shapeOf } from '../matte/tools';
import { cornersOf, type HandStroke } from '@ritaglio/core';
import type { Step } from '../steps';
import { useView, useViewOf } from '../viewStore';
import { MarkShapes } from './MarkShapes';

/** What is being drawn and not kept yet. */
export function DrawingShape({ drawing, zoom, step }: { drawing: Drawing; zoom: number; step: Step }) {
  const view = useView();
  const onPlate = step === 'plate';
  const around = onPlate ? view.plateTool !== 'retouch' && view.way === 'outline' : view.tool === 'mark' && view.way === 'outline';
  const points = drawing.points.flatMap((p) => [p[0], p[1]]);
  if (drawing.corners || around) {
    return (
      <Group listening={false}>
        <Line points={points} stroke="#20211f" strokeWidth={4 / zoom} lineJoin="round" />
        <Line points={points} stroke="#ffffff" strokeWidth={1.5 / zoom} lineJoin="round" />
        {drawing.corners &&
          drawing.points.map(([x, y], i) =>
            drawing.anchors && !drawing.anchors.includes(i) ? null : (
              <Circle key={i} x={x} y={y} radius={(i === 0 ? 6 : 3) / zoom} fill="#f3f2ee" stroke="#20211f" strokeWidth={1.5 / zoom} />
            ),
          )}
      </Group>
    );
  }
  if (onPlate) return <HandShape stroke={{ ...handStrokeOf(view, drawing), tip: view.plateTool === 'take' ? 'clear' : 'opaque' }} />;
  if (view.tool === 'garbage') {
    const shape = shapeOf(view, drawing);
    return shape ? <Line points={cornersOf(shape).flat()} closed stroke="#20211f" strokeWidth={1.5 / zoom} listening={false} /> : null;
  }
  if (view.tool === 'hand') return <HandShape stroke={handStrokeOf(view, drawing)} />;
  return <MarkShapes marks={[markOf(view, drawing)]} zoom={zoom} shown={() => true} />;
}

/** A stroke by hand while it is drawn: light for opaque, ink for clear, grey for soften. */
function HandShape({ stroke }: { stroke: HandStroke }) {
  const colour = { opaque: '#ffffff', clear: '#20211f', soften: '#8d8d8b' }[stroke.tip];
  const points = stroke.points.flatMap((p) => [p[0], p[1]]);
  if (stroke.points.length === 1) return <Circle x={points[0]} y={points[1]} radius={stroke.radius} fill={colour} opacity={0.55} />;
  return (
    <Line
      points={points}
      stroke={colour}
      opacity={0.55}
      strokeWidth={2 * stroke.radius}
      lineCap="round"
      lineJoin="round"
      listening={false}
    />
  );
}

/** The tip at its real size on the screen; a hand's tip also shows where its full strength ends. */
export function TipShape({ x, y, zoom, step }: { x: number; y: number; zoom: number; step: Step }) {
  const { tool, plateTool, way, tip, hardness, shape, mark } = useViewOf('tool', 'plateTool', 'way', 'tip', 'hardness', 'shape', 'mark');
  const around = mark === 'loop' || mark === 'trace';
  const cross =
    step === 'plate'
      ? plateTool !== 'retouch' && way !== 'stroke'
      : tool === 'pick' || tool === 'this' || tool === 'gap' || tool === 'garbage' || (tool === 'mark' && (way !== 'stroke' || around));
  if (cross || shape === undefined) {
    return (
      <>
        {[
          ['#20211f', 3],
          ['#ffffff', 1],
        ].map(([colour, width]) => (
          <Group key={colour} listening={false}>
            <Line points={[x - 9, y, x + 9, y]} stroke={colour as string} strokeWidth={width as number} />
            <Line points={[x, y - 9, x, y + 9]} stroke={colour as string} strokeWidth={width as number} />
          </Group>
        ))}
      </>
    );
  }
  const radius = (tip / 2) * zoom;
  return (
    <>
      <Circle x={x} y={y} radius={radius} stroke="#20211f" strokeWidth={3} listening={false} />
      <Circle x={x} y={y} radius={radius} stroke="#ffffff" strokeWidth={1} listening={false} />
      {(step === 'plate' ? plateTool === 'retouch' : tool === 'hand') && hardness > 0 && hardness < 1 && (
        <Circle x={x} y={y} radius={radius * hardness} stroke="#ffffff" strokeWidth={1} opacity={0.6} listening={false} />
      )}
    </>
  );
}

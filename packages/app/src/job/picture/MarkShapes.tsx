import type { Mark } from '@ritaglio/core';
import { Circle, Group, Line } from 'react-konva';

/** Inside marks white with a black rim, outside marks black with a white rim, edge marks dotted: they read on any picture. */
export function MarkShapes({ marks, zoom }: { marks: readonly Mark[]; zoom: number }) {
  return marks.map((mark, i) => <MarkShape key={i} mark={mark} zoom={zoom} />);
}

function MarkShape({ mark, zoom }: { mark: Mark; zoom: number }) {
  const points = mark.points.flatMap((p) => [p[0], p[1]]);
  const width = 2 * mark.radius;
  const rim = 2.5 / zoom;
  // The stroke is drawn slim, so that the picture under it can still be judged.
  const core = Math.max(3 / zoom, Math.min(width, 9 / zoom));
  const round = { lineCap: 'round', lineJoin: 'round', listening: false } as const;
  if (mark.points.length === 1) {
    const [x, y] = mark.points[0];
    const [fill, stroke] = mark.kind === 'outside' ? ['#111111', '#ffffff'] : ['#ffffff', '#111111'];
    return <Circle x={x} y={y} radius={core / 2} fill={fill} stroke={stroke} strokeWidth={rim / 2} listening={false} />;
  }
  if (mark.kind === 'edge') {
    return (
      <Group listening={false}>
        <Line points={points} stroke="#20211f" opacity={0.22} strokeWidth={width} {...round} />
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

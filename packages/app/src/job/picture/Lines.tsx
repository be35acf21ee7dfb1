import { Group, Line, Rect, Text } from 'react-konva';

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

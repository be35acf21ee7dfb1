import type { Region } from '@ritaglio/core';
import { Circle, Group, Line, Rect, Text } from 'react-konva';
import { useChange, useProductsOfJob, useOpenSubject } from '../jobContext';
import { editPlate } from '../plate/plateTools';
import { useViewOf } from '../viewStore';
import { say } from '../../words/say';

/** Regions, repeats and the source on the plate, ink with a light rim; what can be moved can be dragged. */
export function PlateShapes({ zoom }: { zoom: number }) {
  const { plate } = useOpenSubject();
  const { commit } = useChange();
  const { repeats, plateTool, source, retouch, set } = useViewOf('repeats', 'plateTool', 'source', 'retouch', 'set');
  const { figures } = useProductsOfJob();
  const { fill } = plate;
  return (
    <>
      {(plateTool === 'add' || plateTool === 'take') &&
        plate.regions.map(({ region }, i) => <RegionShape key={i} region={region} zoom={zoom} />)}
      {plateTool === 'part' &&
        plate.parts.map(({ region }, i) => <RegionShape key={i} region={region} zoom={zoom} label={say('part {i}', { i: i + 1 })} />)}
      {fill.kind === 'borrowed' &&
        fill.from.map((region, i) => (
          <Group key={i}>
            <RegionShape region={region} zoom={zoom} label={say('from here')} />
            <Dragged
              x={fill.x}
              y={fill.y}
              onDrop={(x, y) => commit((r) => editPlate(r, (p) => (p.fill.kind === 'borrowed' ? { ...p, fill: { ...p.fill, x, y } } : p)))}
            >
              <RegionShape
                region={region}
                zoom={zoom}
                handle
                dotted={fill.x === 0 && fill.y === 0}
                label={fill.x || fill.y ? say('to here') : ''}
              />
            </Dragged>
          </Group>
        ))}
      {plateTool === 'move' &&
        plate.moves.map((move, i) => (
          <Group key={i}>
            <RegionShape region={move.region} zoom={zoom} dotted />
            <Dragged
              x={move.x}
              y={move.y}
              onDown={() => set({ chosen: i })}
              onDrop={(x, y) =>
                commit((r) => editPlate(r, (p) => ({ ...p, moves: p.moves.map((m, k) => (k === i ? { ...m, x, y } : m)) })))
              }
            >
              <RegionShape region={move.region} zoom={zoom} size={move.size} handle />
            </Dragged>
          </Group>
        ))}
      {repeats &&
        figures.plate?.repeats.slice(0, 6).map((r, i) => (
          <Group key={i} listening={false}>
            <Rect {...r} stroke="#f3f2ee" strokeWidth={4 / zoom} />
            <Rect {...r} stroke="#20211f" strokeWidth={1.5 / zoom} />
            <Name x={r.x} y={r.y} zoom={zoom} text={`${i + 1}`} />
          </Group>
        ))}
      {plateTool === 'retouch' && retouch !== 'paint' && source && (
        <Group x={source[0]} y={source[1]} listening={false}>
          <Circle radius={7 / zoom} stroke="#20211f" strokeWidth={4 / zoom} />
          <Circle radius={7 / zoom} stroke="#ffffff" strokeWidth={1.5 / zoom} />
          <Line points={[-11 / zoom, 0, 11 / zoom, 0]} stroke="#ffffff" strokeWidth={1 / zoom} />
          <Line points={[0, -11 / zoom, 0, 11 / zoom]} stroke="#ffffff" strokeWidth={1 / zoom} />
        </Group>
      )}
    </>
  );
}

function Dragged(props: { x: number; y: number; onDown?: () => void; onDrop: (x: number, y: number) => void; children: React.ReactNode }) {
  return (
    <Group
      x={props.x}
      y={props.y}
      draggable
      onPointerDown={props.onDown}
      onDragEnd={(e) => props.onDrop(Math.round(e.target.x()), Math.round(e.target.y()))}
    >
      {props.children}
    </Group>
  );
}

/** A region's outline, scaled about its middle. */
function RegionShape(props: { region: Region; zoom: number; size?: number; handle?: boolean; dotted?: boolean; label?: string }) {
  const { region, zoom, size = 1, handle, dotted, label } = props;
  const xs = region.points.map((p) => p[0]);
  const ys = region.points.map((p) => p[1]);
  const [cx, cy] = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
  const points = region.points.flatMap((p) => [cx + size * (p[0] - cx), cy + size * (p[1] - cy)]);
  const common = { points, closed: region.filled, lineJoin: 'round', lineCap: 'round' } as const;
  const dash = dotted ? { dash: [0.01, 8 / zoom] } : {};
  return (
    <>
      <Line {...common} {...dash} stroke="#f3f2ee" strokeWidth={4 / zoom} listening={false} />
      <Line
        {...common}
        {...dash}
        name={handle ? 'handle' : undefined}
        stroke="#20211f"
        strokeWidth={1.5 / zoom}
        hitStrokeWidth={16 / zoom}
        fill={handle ? '#00000001' : undefined}
        listening={handle ?? false}
      />
      {label && <Name x={Math.min(...xs)} y={Math.min(...ys)} zoom={zoom} text={label} />}
    </>
  );
}

function Name({ x, y, zoom, text }: { x: number; y: number; zoom: number; text: string }) {
  const size = 12 / zoom;
  return (
    <Group x={x} y={y - 1.3 * size} listening={false}>
      <Rect width={(0.56 * text.length + 0.6) * size} height={1.3 * size} fill="#f3f2ee" />
      <Text
        x={0.3 * size}
        y={0.15 * size}
        text={text}
        fontFamily="Schibsted Grotesk Variable"
        fontStyle="600"
        fontSize={size}
        fill="#20211f"
      />
    </Group>
  );
}

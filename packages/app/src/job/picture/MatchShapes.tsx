import { Circle, Group, Line } from 'react-konva';
import { wayOfLimit } from '../bench/cards';
import { useSizes } from '../bench/useBench';
import { useRecipe } from '../jobContext';
import { ofFinish, ofLimit, ofMatch } from '../match/parts';
import { useEdit } from '../useEdit';
import { useView, useViewOf } from '../viewStore';
import { Both, Name } from './Lines';
import { say } from '../../words/say';

/** What of the match lies on the picture: references, the glow’s place, graduation, vignette. Ink with a light rim. */
export function MatchShapes({ zoom, drawing }: { zoom: number; drawing?: [number, number][] }) {
  const { match } = useRecipe();
  const { benchTool, tip } = useViewOf('benchTool', 'tip');
  const wide = benchTool === 'limit';
  return (
    <>
      {(['subject', 'background'] as const).map((side) => {
        const region = match.references[side];
        if (!region) return null;
        const points = region.points.flatMap(([x, y]) => [x, y]);
        return (
          <Group key={side}>
            <Both points={points} zoom={zoom} closed {...(side === 'background' && { dash: [2, 5] })} />
            <Name x={points[0]} y={points[1]} zoom={zoom} text={side === 'subject' ? say('subject') : say('behind')} />
          </Group>
        );
      })}
      {match.shine.at && <Shine zoom={zoom} />}
      {(benchTool === 'graduate' || benchTool === 'limit') && <Graduation zoom={zoom} />}
      {benchTool === 'vignette' && <VignetteShape zoom={zoom} />}
      {drawing && (
        <Both
          points={drawing.flat()}
          zoom={zoom}
          width={wide ? 2 * tip * zoom : 2}
          closed={benchTool === 'ours' || benchTool === 'theirs'}
        />
      )}
    </>
  );
}

function Shine({ zoom }: { zoom: number }) {
  const shine = useEdit(ofMatch('shine'));
  const { at, radius } = shine.value;
  if (!at) return null;
  return (
    <Group
      x={at[0]}
      y={at[1]}
      draggable
      onDragMove={(e) => shine.preview({ at: [e.target.x(), e.target.y()] })}
      onDragEnd={(e) => shine.commit({ at: [Math.round(e.target.x()), Math.round(e.target.y())] })}
    >
      <Circle radius={radius} stroke="#f3f2ee" strokeWidth={1 / zoom} dash={[2 / zoom, 6 / zoom]} listening={false} />
      <Circle name="handle" radius={7 / zoom} fill="#f3f2ee" stroke="#20211f" strokeWidth={1.5 / zoom} />
    </Group>
  );
}

/** Where a graduated limit has its full effect, and where none. */
export function Graduation({ zoom }: { zoom: number }) {
  const recipe = useRecipe();
  const target = useView((s) => s.grading);
  const limiting = useView((s) => s.limiting);
  const sizes = useSizes();
  const { graduated } = ofLimit(limiting, target).read(recipe);
  if (!graduated) return null;
  const inFrame = wayOfLimit(
    recipe,
    recipe.cards.find((c) => c.id === target),
    sizes,
  ).in;
  const [a, b] = [inFrame(...graduated.from), inFrame(...graduated.to)];
  return (
    <>
      <Both points={[a.x, a.y, b.x, b.y]} zoom={zoom} />
      <Name x={a.x} y={a.y} zoom={zoom} text={say('full')} />
      <Name x={b.x} y={b.y} zoom={zoom} text={say('none')} />
    </>
  );
}

function VignetteShape({ zoom }: { zoom: number }) {
  const { frame } = useRecipe();
  const vignette = useEdit(ofFinish('vignette'));
  const { x, y, width, height, turn } = vignette.value;
  const outline = Array.from({ length: 73 }, (_, i) => {
    const t = (i * Math.PI) / 36;
    return [(Math.cos(t) * width * frame.width) / 2, (Math.sin(t) * height * frame.height) / 2];
  }).flat();
  const place = (px: number, py: number) => ({
    x: Math.round((1000 * px) / frame.width) / 1000,
    y: Math.round((1000 * py) / frame.height) / 1000,
  });
  return (
    <Group
      x={x * frame.width}
      y={y * frame.height}
      rotation={-turn}
      draggable
      onDragMove={(e) => vignette.preview(place(e.target.x(), e.target.y()))}
      onDragEnd={(e) => vignette.commit(place(e.target.x(), e.target.y()))}
    >
      <Both points={outline} zoom={zoom} />
      <Circle name="handle" radius={7 / zoom} fill="#f3f2ee" stroke="#20211f" strokeWidth={1.5 / zoom} />
      <Line name="handle" points={outline} closed stroke="#00000001" strokeWidth={1 / zoom} hitStrokeWidth={14 / zoom} />
    </Group>
  );
}

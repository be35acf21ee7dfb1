import { useMemo } from 'react';
import { CartesianGrid, Line, LineChart, XAxis, YAxis } from 'recharts';
import { useProductsOfJob } from '../jobContext';
import { useView } from '../viewStore';
import { figured, say } from '../../words/say';

/** How far across the edge the profile goes, full-size px either way. */
const reach = 14;

/** Opacity and the shot's lightness along a line across the edge at the loupe's place. */
export function Profile() {
  const { shown, figures } = useProductsOfJob();
  const place = useView((s) => s.place);
  const edge = figures.edge ?? [];
  const at = edge[place % Math.max(1, edge.length)];
  const { matte, shot } = shown;

  const data = useMemo(() => {
    if (!at || !matte || !shot) return [];
    const opacity = reader(matte.bitmap, at, matte.scale);
    const light = reader(shot.bitmap, at, shot.scale);
    return Array.from({ length: 2 * reach + 1 }, (_, i) => {
      const t = i - reach;
      const x = at.x + at.outX * t;
      const y = at.y + at.outY * t;
      return { t, opacity: opacity(x, y), light: light(x, y) };
    });
  }, [at, matte, shot]);

  return (
    <section aria-label={say('Across the edge')} className="px-3.5 pt-3">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-bold">{say('Across the edge')}</h2>
        <span className="font-mono text-xs text-faint">{say('opacity · light')}</span>
      </div>
      {data.length > 0 ? (
        <div
          className="bg-paper"
          role="img"
          aria-label={say('Opacity from {opacity} inside to {opacity2} outside', {
            opacity: figured(data[0].opacity, 2),
            opacity2: figured(data[data.length - 1].opacity, 2),
          })}
        >
          <LineChart width={224} height={112} data={data} margin={{ top: 6, right: 6, bottom: 0, left: 0 }}>
            <CartesianGrid stroke="var(--color-tray)" vertical={false} />
            <XAxis
              dataKey="t"
              type="number"
              domain={[-reach, reach]}
              ticks={[-10, 0, 10]}
              tick={{ fontSize: 10, fill: 'var(--color-ink)' }}
              stroke="var(--color-rule)"
              height={16}
            />
            <YAxis
              domain={[0, 1]}
              ticks={[0, 0.5, 1]}
              width={26}
              tick={{ fontSize: 10, fill: 'var(--color-ink)' }}
              stroke="var(--color-rule)"
            />
            <Line dataKey="light" stroke="var(--color-faint)" strokeDasharray="3 3" dot={false} isAnimationActive={false} />
            <Line dataKey="opacity" stroke="var(--color-ink)" strokeWidth={2} dot={false} isAnimationActive={false} />
          </LineChart>
        </div>
      ) : (
        <p className="text-faint">{say('There is no edge yet. Draw an inside mark on the subject.')}</p>
      )}
    </section>
  );
}

/** Reads code values, 0 to 1, around a place of a bitmap; bilinear. */
function reader(bitmap: ImageBitmap, at: { x: number; y: number }, scale: number): (x: number, y: number) => number {
  const half = Math.ceil(reach * scale) + 2;
  const left = Math.round(at.x * scale) - half;
  const top = Math.round(at.y * scale) - half;
  const side = 2 * half + 1;
  const canvas = new OffscreenCanvas(side, side);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, left, top, side, side, 0, 0, side, side);
  const { data } = context.getImageData(0, 0, side, side);
  const value = (x: number, y: number): number => {
    const i = 4 * (Math.min(side - 1, Math.max(0, y)) * side + Math.min(side - 1, Math.max(0, x)));
    return (0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2]) / 255;
  };
  return (fx, fy) => {
    const x = fx * scale - 0.5 - left;
    const y = fy * scale - 0.5 - top;
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const u = x - x0;
    const v = y - y0;
    return (value(x0, y0) * (1 - u) + value(x0 + 1, y0) * u) * (1 - v) + (value(x0, y0 + 1) * (1 - u) + value(x0 + 1, y0 + 1) * u) * v;
  };
}

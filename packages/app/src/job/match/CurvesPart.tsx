import { curveThrough, isStraight, type Scope } from '@ritaglio/core';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { Button } from '../../ui/Button';
import { Choice, Fold } from '../../ui/controls';
import { useState } from 'react';
import { useProductsOfJob } from '../jobContext';
import { useEdit, within } from '../useEdit';
import { useView } from '../viewStore';
import { ofAdjustments } from './parts';
import { say } from '../../words/say';

type Points = [number, number][];
const channels = ['all', 'red', 'green', 'blue'] as const;
type Channel = (typeof channels)[number];
const size = { width: 248, height: 168 };

/** Points with one put elsewhere, held between its neighbours; the ends stay at the ends. */
export function movedPoint(points: Points, at: number, x: number, y: number): Points {
  const gap = 0.01;
  const low = at === 0 ? 0 : points[at - 1][0] + gap;
  const high = at === points.length - 1 ? 1 : points[at + 1][0] - gap;
  const [under, over] = [at === 0 ? 0 : points[at - 1][1], at === points.length - 1 ? 1 : points[at + 1][1]];
  const round = (v: number): number => Math.round(v * 1000) / 1000;
  const moved: [number, number] = [round(Math.min(high, Math.max(low, x))), round(Math.min(over, Math.max(under, y)))];
  return points.map((p, i) => (i === at ? moved : p));
}

/** Points with another between them, and which it is; the same points when there is one there already. */
export function withPoint(points: Points, x: number, y: number): { points: Points; at: number } {
  const near = points.findIndex(([px]) => Math.abs(px - x) < 0.03);
  if (near >= 0) return { points, at: near };
  const at = points.filter(([px]) => px < x).length;
  const more: Points = [...points.slice(0, at), [x, y], ...points.slice(at)];
  return { points: movedPoint(more, at, x, y), at };
}

/** Curves of luminance and of each channel, drawn over the histogram. */
export function CurvesPart() {
  const target = useView((s) => s.grading);
  const [channel, setChannel] = useState<Channel>('all');
  const curves = useEdit(within(within(ofAdjustments(target), 'grade'), 'curves'));
  const { scopes } = useProductsOfJob();
  const svg = useRef<SVGSVGElement>(null);
  const dragged = useRef<number | undefined>(undefined);
  const points = curves.value[channel] as Points;
  const curve = curveThrough(points);
  const named: Record<Channel, string> = { all: say('all'), red: say('red'), green: say('green'), blue: say('blue') };
  const bent = channels.filter((c) => !isStraight(curves.value[c]));
  const put = (next: Points): Partial<typeof curves.value> => ({ [channel]: next });
  const at = (e: PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect();
    return [(e.clientX - box.left) / box.width, 1 - (e.clientY - box.top) / box.height];
  };
  const down = (e: PointerEvent): void => {
    const [x, y] = at(e);
    const near = points.findIndex(([px, py]) => Math.hypot((px - x) * size.width, (py - y) * size.height) < 10);
    svg.current?.setPointerCapture(e.pointerId);
    if (near >= 0) dragged.current = near;
    else if (points.length < 16) {
      const more = withPoint(points, x, y);
      dragged.current = more.at;
      curves.preview(put(more.points));
    }
  };
  const move = (e: PointerEvent): void => {
    if (dragged.current === undefined) return;
    curves.preview(put(movedPoint(points, dragged.current, ...at(e))));
  };
  const up = (): void => {
    if (dragged.current === undefined) return;
    dragged.current = undefined;
    curves.commit(put(points));
  };
  const key = (i: number) => (e: KeyboardEvent) => {
    const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key] ?? [0, 0];
    const end = i === 0 || i === points.length - 1;
    if ((e.key === 'Delete' || e.key === 'Backspace') && !end) curves.commit(put(points.filter((_, k) => k !== i)));
    else if (dx || dy) {
      const step = e.shiftKey ? 0.05 : 0.01;
      curves.commit(put(movedPoint(points, i, points[i][0] + dx * step, points[i][1] + dy * step)));
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const path = Array.from({ length: 65 }, (_, i) => `${i ? 'L' : 'M'}${(i / 64) * size.width} ${(1 - curve(i / 64)) * size.height}`).join(
    '',
  );
  return (
    <Fold title="Curves" figure={bent.length > 0 ? bent.map((c) => named[c]).join(', ') : undefined}>
      <div className="mb-1.5">
        <Choice<Channel>
          label={say('Curve of')}
          value={channel}
          options={[
            { value: 'all', label: say('Light') },
            { value: 'red', label: say('Red') },
            { value: 'green', label: say('Green') },
            { value: 'blue', label: say('Blue') },
          ]}
          onChange={setChannel}
        />
      </div>
      <svg
        ref={svg}
        data-testid="curve"
        viewBox={`0 0 ${size.width} ${size.height}`}
        className="block w-full touch-none overflow-visible bg-paper"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
      >
        <path d={histogramPath(scopes, channels.indexOf(channel))} fill="var(--color-tray)" />
        <path d={`M0 ${size.height}L${size.width} 0`} stroke="var(--color-rule)" strokeDasharray="2 4" />
        <path d={path} fill="none" stroke="var(--color-ink)" strokeWidth={1.6} />
        {points.map(([x, y], i) => (
          <rect
            key={i}
            x={x * size.width - 4}
            y={(1 - y) * size.height - 4}
            width={8}
            height={8}
            fill="var(--color-paper)"
            stroke="var(--color-ink)"
            tabIndex={0}
            role="slider"
            aria-label={say('Point {i} of the curve', { i: i + 1 })}
            aria-valuemin={0}
            aria-valuemax={255}
            aria-valuenow={Math.round(255 * y)}
            aria-valuetext={say('{x} becomes {y}', { x: Math.round(255 * x), y: Math.round(255 * y) })}
            onKeyDown={key(i)}
          />
        ))}
      </svg>
      <div className="mt-1.5 flex items-center justify-between gap-2">
        <p className="text-[11px] text-faint">{say('Press to set a point, drag it; Delete takes it away.')}</p>
        <Button
          disabled={bent.length === 0}
          onClick={() => curves.commit(Object.fromEntries(channels.map((c) => [c, [[0, 0], [1, 1]]])) as typeof curves.value)} // prettier-ignore
        >
          {say('Straight')}
        </Button>
      </div>
    </Fold>
  );
}

/** The histogram behind the curve: of luminance or of one channel. */
function histogramPath(scopes: Scope[], channel: number): string {
  if (scopes.length === 0) return '';
  const counts = new Float64Array(256);
  for (const s of scopes) s.histogram[channel].forEach((n, i) => (counts[i] += n));
  const top = Math.max(1, ...counts.subarray(2, 254));
  const line = Array.from(counts, (n, i) => `L${(i / 255) * size.width} ${size.height * (1 - 0.92 * Math.min(1, Math.sqrt(n / top)))}`);
  return `M0 ${size.height}${line.join('')}L${size.width} ${size.height}Z`;
}

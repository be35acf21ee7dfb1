import { scopeColumns, scopeLevels, scopeSide, type Scope } from '@ritaglio/core';
import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import { Choice, Tick } from '../../ui/controls';
import { useProductsOfJob } from '../jobContext';
import { useViewOf, type ScopeKind } from '../viewStore';
import { figured, say } from '../../words/say';

/** Subject light, background mid: two tones that tint nothing. */
const tones: [number, number, number][] = [
  [243, 242, 238],
  [128, 150, 160],
];
const primaries: [number, number, number][] = [
  [214, 90, 74],
  [92, 168, 98],
  [96, 124, 214],
];
const width = 224;
const height = 128;

/** What is counted of the finished picture: how much of which light, where, and of which colour. */
export function Scopes() {
  const { scopes } = useProductsOfJob();
  const { scope, apart, close, beyond, set } = useViewOf('scope', 'apart', 'close', 'beyond', 'set');
  const canvas = useRef<HTMLCanvasElement>(null);
  const [read, setRead] = useState('');
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const image = context.createImageData(width, height);
    paint(image.data, scope, scopes, apart, close);
    markEnds(image.data, scope, scopes);
    context.putImageData(image, 0, 0);
  }, [scopes, scope, apart, close]);
  const share = (key: 'below' | 'above'): number => {
    const all = scopes.reduce((n, s) => n + s.samples, 0);
    return all === 0 ? 0 : scopes.reduce((n, s) => n + s[key] * s.samples, 0) / all;
  };
  const [below, above] = [share('below'), share('above')];
  return (
    <section aria-label={say('Scopes')} className="px-3.5 pt-3 pb-4">
      <Choice<ScopeKind>
        label={say('Scope')}
        value={scope}
        options={[
          { value: 'histogram', label: say('Histo') },
          { value: 'waveform', label: say('Wave') },
          { value: 'parade', label: say('Parade') },
          { value: 'vector', label: say('Vector') },
        ]}
        onChange={(s) => set({ scope: s })}
      />
      <canvas
        ref={canvas}
        width={width}
        height={height}
        className="mt-1.5 block w-full bg-ink"
        role="img"
        aria-label={say('{scope} of the finished picture', { scope })}
        onPointerMove={(e) => {
          const r = e.currentTarget.getBoundingClientRect();
          setRead(reading(scope, (e.clientX - r.left) / r.width, (e.clientY - r.top) / r.height, scopes, close));
        }}
        onPointerLeave={() => setRead('')}
      />
      <p className="mt-0.5 flex justify-between font-mono text-[11px]">
        {read ? (
          <span>{read}</span>
        ) : (
          <>
            <span className={clsx(below > 0.001 && 'font-semibold text-hot')}>
              {say('below 0: {below} %', { below: figured(100 * below, 1) })}
            </span>
            <span className={clsx(above > 0.001 && 'font-semibold text-hot')}>
              {say('above 1: {above} %', { above: figured(100 * above, 1) })}
            </span>
          </>
        )}
      </p>
      <div className="mt-0.5 flex flex-wrap gap-x-3 text-[12px]">
        <Tick label={say('Sides apart')} on={apart} onChange={(v) => set({ apart: v })} />
        {scope === 'vector' && <Tick label="2 ×" on={close} onChange={(v) => set({ close: v })} />}
        <Tick label={say('Hatch what leaves the range')} on={beyond} onChange={(v) => set({ beyond: v })} />
      </div>
    </section>
  );
}

/** What the scope says under the pointer. */
export function reading(kind: ScopeKind, x: number, y: number, scopes: Scope[], close: boolean): string {
  const code = (v: number): number => Math.min(255, Math.max(0, Math.round(v)));
  if (kind === 'histogram') {
    const level = code(x * 255);
    const count = (s: Scope): string => figured((100 * s.histogram[0][level]) / Math.max(1, s.samples), 2);
    return say('level {level}: {scopes} %', { level, scopes: scopes.map(count).join(' / ') });
  }
  if (kind === 'vector') {
    const half = close ? 0.25 : 0.5;
    const [u, v] = [((x - 0.5) * width) / height, 0.5 - y].map((t) => 2 * half * t);
    return say('hue {replace}° strength {u}', {
      replace: ((Math.atan2(v, u) * 180) / Math.PI + 360).toFixed(0).replace(/^(\d+)$/, (d) => String(Number(d) % 360)),
      u: figured(Math.hypot(u, v), 2),
    });
  }
  return say('level {code}', { code: code((1 - y) * 255) });
}

/** Hot strips where a scope ends and light goes on: at black, at white. */
function markEnds(out: Uint8ClampedArray, kind: ScopeKind, scopes: Scope[]): void {
  if (kind === 'vector') return;
  const sideways = kind === 'histogram';
  for (const [key, last] of [
    ['below', !sideways],
    ['above', sideways],
  ] as const) {
    if (!scopes.some((s) => s[key] > 0.001)) continue;
    const length = sideways ? height : width;
    for (let t = 0; t < length; t++) {
      for (let k = 0; k < 3; k++) {
        const end = last ? (sideways ? width : height) - 1 - k : k;
        out.set([214, 70, 31, 255], 4 * (sideways ? t * width + end : end * width + t));
      }
    }
  }
}

function paint(out: Uint8ClampedArray, kind: ScopeKind, scopes: Scope[], apart: boolean, close: boolean): void {
  for (let i = 0; i < out.length; i += 4) out.set([28, 29, 27, 255], i);
  if (scopes.length === 0) return;
  const add = (x: number, y: number, [r, g, b]: readonly number[], k: number): void => {
    const i = 4 * (y * width + x);
    out[i] += k * r;
    out[i + 1] += k * g;
    out[i + 2] += k * b;
  };
  const sum = (pick: (s: Scope) => Uint32Array): Uint32Array => {
    const all = pick(scopes[0]).slice();
    for (const s of scopes.slice(1)) pick(s).forEach((v, i) => (all[i] += v));
    return all;
  };
  if (kind === 'histogram') {
    const layers = apart
      ? scopes.map((s, i) => ({ counts: s.histogram[0], tone: tones[i] }))
      : [1, 2, 3].map((c, i) => ({ counts: sum((s) => s.histogram[c]), tone: primaries[i] }));
    for (const { counts, tone } of layers) {
      // The ends are drawn but do not set the height: a clipped sky would flatten all else.
      const top = Math.max(1, ...counts.subarray(2, 254));
      for (let x = 0; x < width; x++) {
        const level = Math.round((x * 255) / (width - 1));
        const h = Math.min(1, Math.sqrt(counts[level] / top)) * (height - 4);
        for (let y = height - 1; y > height - 1 - h; y--) add(x, y, tone, 0.62);
      }
    }
    return;
  }
  if (kind === 'vector') {
    const half = close ? 0.25 : 0.5;
    scopes.forEach((s, side) => {
      const gain = 60 / Math.max(1, s.samples / 4000);
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++) {
          const [u, v] = [((x - width / 2) / height) * 2 * half, (0.5 - y / height) * 2 * half];
          const [px, py] = [Math.round((u + 0.5) * (scopeSide - 1)), Math.round((0.5 - v) * (scopeSide - 1))];
          if (px < 0 || py < 0 || px >= scopeSide || py >= scopeSide) continue;
          const n = s.vector[py * scopeSide + px];
          if (n > 0) add(x, y, apart ? tones[side] : [190, 190, 184], Math.min(0.95, 0.12 + (gain * n) / 255));
        }
      }
    });
    for (let t = 0; t < height; t++) {
      add(width >> 1, t, [80, 80, 78], 1);
      add((width >> 1) - (height >> 1) + t, height >> 1, [80, 80, 78], 1);
    }
    return;
  }
  const wave = (counts: Uint32Array, tone: readonly number[], from: number, span: number, samples: number): void => {
    const gain = (420 * scopeColumns) / Math.max(1, samples);
    for (let x = 0; x < span; x++) {
      const column = Math.floor((x * scopeColumns) / span);
      for (let y = 0; y < height; y++) {
        const level = scopeLevels - 1 - Math.floor((y * scopeLevels) / height);
        const n = counts[column * scopeLevels + level] + counts[column * scopeLevels + Math.max(0, level - 1)];
        if (n > 0) add(from + x, y, tone, Math.min(0.95, 0.1 + 0.06 * gain * n));
      }
    }
  };
  const samples = scopes.reduce((n, s) => n + s.samples, 0);
  if (kind === 'waveform') {
    if (apart) scopes.forEach((s, i) => wave(s.waveform[0], tones[i], 0, width, samples));
    else
      wave(
        sum((s) => s.waveform[0]),
        tones[0],
        0,
        width,
        samples,
      );
    return;
  }
  const span = Math.floor(width / 3);
  for (let c = 0; c < 3; c++) {
    if (apart)
      scopes.forEach((s, i) =>
        wave(s.waveform[c + 1], i === 0 ? primaries[c] : primaries[c].map((v) => v * 0.6), c * span, span - 2, samples),
      );
    else
      wave(
        sum((s) => s.waveform[c + 1]),
        primaries[c],
        c * span,
        span - 2,
        samples,
      );
  }
}

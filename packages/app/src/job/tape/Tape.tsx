import { jobFrame, type Keyed, type Recipe } from '@ritaglio/core';
import { Pause, Play } from 'lucide-react';
import { useCallback, useLayoutEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Button } from '../../ui/Button';
import { useOpenJob, useOpenSubject, useProductsOfJob, useWholeRecipe } from '../jobContext';
import { clipOf, lengthOf } from '../moments';
import { useView, useViewOf } from '../viewStore';
import { clockOf, curveOf, doubtfulFrames, frameAt, neighbour, tickStep, xOf, type TapeSize } from './scale';
import { bottom, gripAt, gripMoved, height, pointToggled, top, yOf, type Grip } from './points';
import { usePlayback } from './usePlayback';
import { peakAt, useSound } from './useSound';
import { figured, say } from '../../words/say';

/** The job's time as a paper tape: frames, what changes over them, and where it is looked at. Only of jobs that have time. */
export function Tape() {
  const recipe = useWholeRecipe();
  const open = useView((s) => s.tape);
  if (!recipe.time) return null;
  return open ? <OpenTape recipe={recipe} time={recipe.time} /> : <FoldedTape />;
}

function FoldedTape() {
  const { frame, set } = useViewOf('frame', 'set');
  return (
    <button type="button" className="h-5 border-t border-rule bg-paper text-left font-mono text-[11px]" onClick={() => set({ tape: true })}>
      <span className="px-3">{say('+ Tape, frame {frame}', { frame: frame + 1 })}</span>
    </button>
  );
}

function OpenTape({ recipe, time }: { recipe: Recipe; time: NonNullable<Recipe['time']> }) {
  const { store } = useOpenJob();
  const subject = useOpenSubject();
  const { figures } = useProductsOfJob();
  const { frame, played, playing, inHand, followed, set } = useViewOf('frame', 'played', 'playing', 'inHand', 'followed', 'set');
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const [rate, setRate] = useState<number>();
  const [dragged, setDragged] = useState<Grip>();
  const length = lengthOf(recipe);
  const size: TapeSize = { length, width };
  usePlayback(useCallback((r) => setRate(r), []));
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const clip = clipOf(recipe, subject.shot);
  const marked = clip ? [...new Set(subject.marks.map((m) => jobFrame(clip, m.frame ?? 0)))] : [];
  const stops = [...marked, ...recipe.keys.flatMap((k) => k.points.map((p) => p.frame))];
  const certainty = followed === subject.marks ? figures.following?.certainty : undefined;
  const go = (to: number): void => set({ frame: Math.min(length - 1, Math.max(0, Math.round(to))), playing: false });
  const doubtful = (): void => {
    const order = clip ? doubtfulFrames(certainty ?? []).map((i) => jobFrame(clip, i)) : [];
    const at = order.indexOf(frame);
    if (order.length > 0) go(order[(at + 1) % order.length]);
  };

  useHotkeys('left, right, shift+left, shift+right', (e) => go(useView.getState().frame + (e.key === 'ArrowRight' ? 1 : -1) * (e.shiftKey ? 10 : 1)), { ignoreEventWhen }); // prettier-ignore
  useHotkeys('home', () => go(time.first), { ignoreEventWhen });
  useHotkeys('end', () => go(time.last), { ignoreEventWhen });
  useHotkeys('[, ]', (e) => {
    const next = neighbour(stops, useView.getState().frame, e.key === ']' ? 1 : -1);
    if (next !== undefined) go(next);
  }, { useKey: true, splitKey: ', ' }); // prettier-ignore
  useHotkeys('p', () => set({ playing: !useView.getState().playing }));
  useHotkeys('k', () => inHand !== undefined && store.getState().commit((r) => pointToggled(r, inHand, useView.getState().frame)));

  const down = (e: React.PointerEvent<SVGSVGElement>): void => {
    const x = e.clientX - e.currentTarget.getBoundingClientRect().left;
    const y = e.clientY - e.currentTarget.getBoundingClientRect().top;
    e.currentTarget.setPointerCapture(e.pointerId);
    const grip = gripAt(recipe, size, x, y);
    setDragged(grip);
    if (grip.kind === 'now') go(frameAt(x, size));
  };
  const move = (e: React.PointerEvent<SVGSVGElement>): void => {
    if (!dragged) return;
    const to = frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left, size);
    if (dragged.kind === 'now') go(to);
    else store.getState().preview((r) => gripMoved(r, dragged, to));
  };
  const up = (e: React.PointerEvent<SVGSVGElement>): void => {
    if (dragged && dragged.kind !== 'now') {
      const to = frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left, size);
      store.getState().commit((r) => gripMoved(r, dragged, to));
    }
    setDragged(undefined);
  };

  const now = played ?? frame;
  return (
    <section aria-label={say('Tape')} className="flex shrink-0 border-t border-rule bg-paper text-ink">
      <div className="flex w-40 shrink-0 flex-col justify-between border-r border-rule px-2.5 py-1.5">
        <div className="flex items-center gap-2">
          <button
            type="button"
            aria-label={playing ? say('Pause') : say('Play')}
            title={`${playing ? say('Pause') : say('Play')} (P)`}
            className="border border-ink p-1 hover:bg-sheet"
            onClick={() => set({ playing: !playing })}
          >
            {playing ? <Pause size={13} /> : <Play size={13} />}
          </button>
          <span className="font-mono text-xs" title={say('Frame, and minutes:seconds+frames')}>
            {now + 1} · {clockOf(now, time.rate)}
          </span>
          <button type="button" aria-label={say('Fold the tape')} className="ml-auto font-mono" onClick={() => set({ tape: false })}>
            −
          </button>
        </div>
        {playing ? (
          <span className="font-mono text-[11px] text-faint">
            {rate === undefined ? say('working frames out') : say('{rate} a second', { rate: figured(rate, 1) })}
          </span>
        ) : certainty ? (
          <Button
            className="self-start px-1.5!"
            title={say('The frames whose neighbours agree least about the subject, one after the other')}
            onClick={doubtful}
          >
            {say('Next doubtful')}
          </Button>
        ) : (
          <span className="font-mono text-[11px] text-faint">
            {say('{frames} a second', {
              frames: time.rate.seconds === 1 ? time.rate.frames : figured(time.rate.frames / time.rate.seconds, 2),
            })}
          </span>
        )}
      </div>
      <div ref={box} className="min-w-0 flex-1">
        {width > 0 && (
          <svg
            width={width}
            height={height}
            className="block touch-none select-none"
            role="slider"
            tabIndex={0}
            aria-label={say('Frame')}
            aria-valuemin={1}
            aria-valuemax={length}
            aria-valuenow={now + 1}
            aria-valuetext={say('frame {now} of {length}', { now: now + 1, length })}
            onPointerDown={down}
            onPointerMove={move}
            onPointerUp={up}
          >
            <Numbers size={size} rate={time.rate} />
            {certainty && clip && <Certainty certainty={certainty} offset={clip.offset} speed={clip.speed} size={size} />}
            <Sound recipe={recipe} size={size} rate={time.rate} />
            {recipe.keys.map((key) => (
              <Curve key={key.of} curve={key} size={size} strong={key.of === inHand} />
            ))}
            {marked.map((f) => (
              <circle key={f} cx={xOf(f, size)} cy={top} r={3.5} fill="#ffffff" stroke="var(--color-ink)" strokeWidth={1.5}>
                <title>{say('Marks on frame {f}', { f: f + 1 })}</title>
              </circle>
            ))}
            <Range size={size} first={time.first} last={time.last} />
            <line x1={xOf(now, size)} x2={xOf(now, size)} y1={0} y2={height} stroke="var(--color-ink)" strokeWidth={2} />
          </svg>
        )}
      </div>
    </section>
  );
}

/** Arrow keys of a slider, a list or a field are its own. */
const ignoreEventWhen = (e: KeyboardEvent): boolean =>
  (e.target as Element | null)?.closest?.(
    'input,textarea,select,[role=radio],[role=slider]:not([aria-label=Frame]),[role=dialog]',
  ) instanceof Element;

function Numbers({ size, rate }: { size: TapeSize; rate: { frames: number; seconds: number } }) {
  const step = tickStep(size);
  const ticks = Array.from({ length: Math.ceil(size.length / step) }, (_, i) => i * step);
  const seconds = Array.from({ length: Math.ceil((size.length * rate.seconds) / rate.frames) }, (_, s) => (s * rate.frames) / rate.seconds);
  return (
    <>
      {seconds.length < 400 &&
        seconds.map((f) => (
          <line key={f} x1={xOf(f - 0.5, size)} x2={xOf(f - 0.5, size)} y1={top - 4} y2={bottom} stroke="var(--color-tray)" />
        ))}
      {ticks.map((f) => (
        <text key={f} x={xOf(f, size)} y={11} textAnchor="middle" fontSize={10} fontFamily="Spline Sans Mono" fill="var(--color-faint)">
          {f + 1}
        </text>
      ))}
      <line x1={xOf(-0.5, size)} x2={xOf(size.length - 0.5, size)} y1={bottom} y2={bottom} stroke="var(--color-rule)" />
    </>
  );
}

/** How far neighbouring frames agree about the subject, as an area. */
function Certainty({ certainty, offset, speed, size }: { certainty: number[]; offset: number; speed: number; size: TapeSize }) {
  const points = certainty.map((c, i) => `${xOf(i / speed + offset, size).toFixed(1)},${(Number.isNaN(c) ? bottom : yOf(c)).toFixed(1)}`);
  const [from, to] = [xOf(offset, size), xOf((certainty.length - 1) / speed + offset, size)];
  return (
    <polygon points={`${from},${bottom} ${points.join(' ')} ${to},${bottom}`} fill="var(--color-tray)" stroke="var(--color-rule)">
      <title>{say('How far neighbouring frames agree about the subject; high is good, but no promise.')}</title>
    </polygon>
  );
}

function Sound({ recipe, size, rate }: { recipe: Recipe; size: TapeSize; rate: { frames: number; seconds: number } }) {
  const sound = useSound(recipe);
  if (!sound) return null;
  const columns = Math.floor(size.width / 2);
  const d = Array.from({ length: columns }, (_, i) => {
    const x = 2 * i;
    const frame = ((x - 10) * size.length) / (size.width - 20);
    const peak = peakAt(sound.peaks, ((frame - sound.offset) * rate.seconds) / rate.frames);
    return peak > 0 ? `M${x} ${bottom - 7 * peak}V${bottom + 3 * peak}` : '';
  });
  return <path d={d.join('')} stroke="var(--color-faint)" strokeWidth={1} />;
}

function Curve({ curve, size, strong }: { curve: Keyed; size: TapeSize; strong: boolean }) {
  const { points, heightAt } = curveOf(curve, size.length, 120);
  const d = points.map(([f, h], i) => `${i ? 'L' : 'M'}${xOf(f, size).toFixed(1)} ${yOf(h).toFixed(1)}`).join('');
  return (
    <g>
      <path d={d} fill="none" stroke={curve.of === 'lens.focus' ? '#b23410' : 'var(--color-ink)'} strokeWidth={strong ? 2 : 1} />
      {curve.points.map((p) => (
        <rect
          key={p.frame}
          x={xOf(p.frame, size) - 3.5}
          y={yOf(heightAt(p.frame)) - 3.5}
          width={7}
          height={7}
          fill="var(--color-paper)"
          stroke="var(--color-ink)"
        >
          <title>
            {say('{of}: {value} at frame {frame}', {
              of: curve.of,
              value: typeof p.value === 'number' ? Number(p.value.toFixed(3)) : p.value,
              frame: p.frame + 1,
            })}
          </title>
        </rect>
      ))}
    </g>
  );
}

/** Two paper corners: the first and the last frame that leave the house. What lies beyond is greyed. */
function Range({ size, first, last }: { size: TapeSize; first: number; last: number }) {
  const [a, b] = [xOf(first - 0.5, size), xOf(last + 0.5, size)];
  return (
    <g>
      <rect x={0} y={0} width={Math.max(0, a)} height={height} fill="var(--color-rule)" opacity={0.45} />
      <rect x={b} y={0} width={Math.max(0, size.width - b)} height={height} fill="var(--color-rule)" opacity={0.45} />
      <polygon points={`${a},0 ${a + 9},0 ${a},12`} fill="var(--color-ink)">
        <title>{say('First frame: {first}', { first: first + 1 })}</title>
      </polygon>
      <polygon points={`${b},0 ${b - 9},0 ${b},12`} fill="var(--color-ink)">
        <title>{say('Last frame: {last}', { last: last + 1 })}</title>
      </polygon>
    </g>
  );
}

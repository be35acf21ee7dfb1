import { apertureOutline, blurDiscAt, sharpZone, type Aperture, type Card, type Recipe } from '@ritaglio/core';
import { Eye, EyeOff, Lock, LockOpen } from 'lucide-react';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { editCard, moveCard } from '../edit';
import { useChange, useRecipe } from '../jobContext';
import { useViewOf } from '../viewStore';
import { discOf, nameOf } from './cards';
import { figured, say } from '../../words/say';

const near = 0.6;
const far = 200;
const marks = [1, 2, 3, 5, 8, 10, 20, 50, 100, 200];
const height = 148;
const rail = 112;
const left = 96;
const right = 1240;
/** The largest blur disc the drawing has room for, px of the full picture. */
const tallest = 120;

/** Where a distance stands on the rail, in drawing units. */
export function across(distance: number): number {
  const d = Math.min(far, Math.max(near, distance));
  return left + ((right - left) * Math.log(d / near)) / Math.log(far / near);
}

/** The distance at a place of the rail. */
export function distanceAt(x: number): number {
  const d = near * Math.pow(far / near, (x - left) / (right - left));
  return Math.min(far, Math.max(near, Math.round(d * 100) / 100));
}

type Change = (recipe: Recipe) => Recipe;

/** A slider of the bench: its pointer, its keys, its words. */
interface Held {
  label: string;
  value: number;
  least: number;
  most: number;
  said: string;
  /** Where its value stands in the drawing, along the way it is dragged. */
  stands: (value: number) => number;
  /** The value at a place along that way. */
  valueAt: (place: number) => number;
  upright?: boolean;
  change: (value: number) => Change;
  locked?: boolean;
}

/** The side view of the scene: camera, rail in metres, cards, focus needle, zone of sharpness, blur curve. */
export function Bench({ open }: { open: boolean }) {
  const recipe = useRecipe();
  const { preview, commit } = useChange();
  const { card: chosen, likeness, set } = useViewOf('card', 'likeness', 'set');
  const { lens, cards } = recipe;
  const drawing = useRef<SVGSVGElement>(null);
  const taken = useRef(0);
  const [folded, setFolded] = useState(false);
  const disc = (d: number): number => blurDiscAt(lens, d, lens.across);
  const tall = (px: number): number => (Math.min(px, tallest) / tallest) * (rail - 22);

  if (!open) return null;
  const figure = say('focus {focus} m · f/{fNumber} · {focalLength} mm', {
    focus: figured(lens.focus, 2),
    fNumber: figured(lens.fNumber, 1),
    focalLength: figured(lens.focalLength, 0),
  });
  if (folded) {
    return (
      <section aria-label={say('Bench')} className="col-span-3 flex items-center justify-between border-t border-rule bg-tray px-4 py-1">
        <span className="font-bold">{say('Bench')}</span>
        <span className="font-mono text-xs">{figure}</span>
        <button type="button" className="underline" onClick={() => setFolded(false)}>
          {say('Unfold')}
        </button>
      </section>
    );
  }

  const curve = Array.from({ length: 160 }, (_, i) => {
    const x = left + ((right - left) * i) / 159;
    return `${x.toFixed(1)},${(rail - tall(disc(near * Math.pow(far / near, i / 159)))).toFixed(1)}`;
  });
  const [zoneNear, zoneFar] = sharpZone(lens, lens.across, 2);
  const sorted = [...cards].sort((a, b) => b.distance - a.distance);
  const lanes = lanesOf(sorted);

  /** Pointer and keys of anything that can be dragged here. */
  const handle = (h: Held, onTake?: () => void) => {
    const place = (e: PointerEvent<SVGGElement>): number => {
      const box = drawing.current!.getBoundingClientRect();
      return h.upright ? ((e.clientY - box.top) / box.height) * height : ((e.clientX - box.left) / box.width) * 1280;
    };
    const at = (e: PointerEvent<SVGGElement>): number => h.valueAt(place(e) + taken.current);
    return {
      role: 'slider',
      tabIndex: 0,
      'aria-label': h.label,
      'aria-valuemin': h.least,
      'aria-valuemax': h.most,
      'aria-valuenow': h.value,
      'aria-valuetext': h.said,
      'aria-disabled': h.locked ?? false,
      className: h.locked ? 'outline-offset-2' : 'cursor-ew-resize outline-offset-2',
      onPointerDown: (e: PointerEvent<SVGGElement>) => {
        onTake?.();
        if (h.locked) return;
        // It is held where it was taken, so that nothing leaps.
        taken.current = h.stands(h.value) - place(e);
        e.currentTarget.setPointerCapture(e.pointerId);
      },
      onPointerMove: (e: PointerEvent<SVGGElement>) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) preview(h.change(at(e)));
      },
      onPointerUp: (e: PointerEvent<SVGGElement>) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) commit(h.change(at(e)));
      },
      onFocus: onTake,
      onKeyDown: (e: KeyboardEvent) => {
        const direction = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
        if (!direction || h.locked) return;
        e.preventDefault();
        const next = h.value * Math.pow(1.02, direction * (e.shiftKey ? 5 : 1));
        commit(h.change(Math.min(h.most, Math.max(h.least, Math.round(next * 1000) / 1000))));
      },
    };
  };
  const onRail = (label: string, distance: number, change: (d: number) => Change, locked = false): Held => ({
    label: say('{label}, distance', { label }),
    value: distance,
    least: near,
    most: far,
    said: say('{distance} metres', { distance: figured(distance, 2) }),
    stands: across,
    valueAt: distanceAt,
    change,
    locked,
  });
  const aperture: Held = {
    label: say('Aperture of the lens'),
    value: lens.fNumber,
    least: 0.7,
    most: 64,
    said: `f/${figured(lens.fNumber, 1)}`,
    // Pulled upwards the opening widens: 30 units are a stop and more.
    upright: true,
    stands: (fNumber) => 30 * Math.log2(fNumber),
    valueAt: (y) => Math.min(64, Math.max(0.7, Math.round(100 * Math.pow(2, y / 30)) / 100)),
    change: (fNumber) => (r) => ({ ...r, lens: { ...r.lens, fNumber } }),
  };

  return (
    <section aria-label={say('Bench')} className="relative col-span-3 border-t border-rule bg-tray">
      <h2 className="absolute top-2 left-4 font-bold">{say('Bench')}</h2>
      <div className="absolute top-2 right-4 flex gap-4">
        {chosen && <CardSwitches card={cards.find((c) => c.id === chosen)} />}
        <span className="font-mono text-xs">{say('blur disc by distance, px of the full picture')}</span>
        <button type="button" className="underline" onClick={() => setFolded(true)}>
          {say('Fold')}
        </button>
      </div>
      <svg ref={drawing} viewBox={`0 0 1280 ${height}`} className="block w-full" preserveAspectRatio="xMidYMid meet">
        <polygon points={`${left},${rail} ${curve.join(' ')} ${right},${rail}`} fill="var(--color-zone)" />
        <rect
          x={across(zoneNear)}
          y={20}
          width={Math.max(1, across(zoneFar) - across(zoneNear))}
          height={rail - 20}
          fill="var(--color-paper)"
        />
        <polyline points={curve.join(' ')} fill="none" stroke="var(--color-ink)" strokeWidth={1.4} />
        <line x1={40} y1={rail} x2={right + 10} y2={rail} stroke="var(--color-ink)" strokeWidth={2} />
        {marks.map((m) => (
          <g key={m} className="font-mono text-[11px]" fill="var(--color-ink)">
            <line x1={across(m)} y1={rail} x2={across(m)} y2={rail + 7} stroke="var(--color-ink)" />
            <text x={across(m)} y={rail + 20} textAnchor="middle">
              {m} m
            </text>
          </g>
        ))}
        {sorted.map((c) => (
          <Spread key={c.id} card={c} />
        ))}
        {likeness?.wanted && <Measured disc={likeness.wanted.diameter} at={rail - tall(likeness.wanted.diameter)} />}
        <g {...handle(aperture)}>
          <Camera fNumber={lens.fNumber} aperture={lens.aperture} />
        </g>
        {sorted.map((card) => (
          <g
            key={card.id}
            opacity={card.hidden ? 0.4 : 1}
            {...handle(
              onRail(nameOf(card), card.distance, (d) => (r) => moveCard(r, card.id, d), card.locked),
              () => set({ card: card.id }),
            )}
          >
            <StandingCard
              x={across(card.distance)}
              name={nameOf(card)}
              figure={`${figured(discOf(recipe, card), 0)} px`}
              lane={lanes.get(card.id) ?? 0}
              chosen={chosen === card.id}
            />
          </g>
        ))}
        <g {...handle(onRail(say('Focus'), lens.focus, (d) => (r) => ({ ...r, lens: { ...r.lens, focus: d } })))}>
          <rect x={across(lens.focus) - 8} y={4} width={16} height={28} fill="transparent" />
          <line x1={across(lens.focus)} y1={16} x2={across(lens.focus)} y2={rail + 4} stroke="var(--color-needle)" strokeWidth={2} />
          <path d={`M${across(lens.focus) - 6} 4h12v9l-6 6l-6 -6z`} fill="var(--color-needle)" />
        </g>
      </svg>
    </section>
  );
}

/** Labels of cards that stand close together go below each other. */
export function lanesOf(sorted: Card[]): Map<string, number> {
  const out = new Map<string, number>();
  const ends: number[] = [];
  for (const card of [...sorted].reverse()) {
    const x = across(card.distance);
    const lane = ends.findIndex((end) => end < x);
    const taken = lane < 0 ? Math.min(ends.length, 1) : lane;
    out.set(card.id, taken);
    ends[taken] = x + 90;
  }
  return out;
}

/** Locks and hides the card that is picked out. */
function CardSwitches({ card }: { card: Card | undefined }) {
  const { commit } = useChange();
  if (!card) return null;
  const turn = (part: 'locked' | 'hidden') => (): void => commit((r) => editCard(r, card.id, (c) => ({ ...c, [part]: !c[part] })));
  const [Shut, Seen] = [card.locked ? Lock : LockOpen, card.hidden ? EyeOff : Eye];
  return (
    <div className="flex items-center gap-2">
      <span className="font-semibold">{nameOf(card)}</span>
      <button type="button" aria-pressed={card.locked} aria-label={say('Lock this card')} title={say('Lock')} onClick={turn('locked')}>
        <Shut size={15} />
      </button>
      <button type="button" aria-pressed={card.hidden} aria-label={say('Hide this card')} title={say('Hide')} onClick={turn('hidden')}>
        <Seen size={15} />
      </button>
    </div>
  );
}

/** From where to where a card's own distances reach: a bar on the rail. */
function Spread({ card }: { card: Card }) {
  const { pegs, ground, painted } = card.distances;
  const all = [...pegs.map((p) => p.distance), ...painted.map((p) => p.distance)];
  if (ground) all.push(ground.distance);
  if (all.length === 0) return null;
  const [from, to] = [across(Math.min(...all, card.distance)), across(Math.max(...all, card.distance))];
  return (
    <g>
      <line x1={from} y1={rail - 3} x2={to} y2={rail - 3} stroke="var(--color-ink)" strokeWidth={3} strokeDasharray="2 3" />
      {pegs.map((p, i) => (
        <path key={i} d={`M${across(p.distance)} ${rail - 1}l-3 -8h6z`} fill="var(--color-ink)" />
      ))}
    </g>
  );
}

/** The blur that was measured in the reference, as a tick at the height of the curve. */
function Measured({ disc, at }: { disc: number; at: number }) {
  return (
    <g>
      <line x1={left - 8} y1={at} x2={right} y2={at} stroke="var(--color-ink)" strokeWidth={1} strokeDasharray="1 5" />
      <text x={left + 4} y={at - 4} className="font-mono text-[11px]" fill="var(--color-ink)">
        {say('measured {disc} px', { disc: figured(disc, 0) })}
      </text>
    </g>
  );
}

/** A card seen from the side, a little turned. */
function StandingCard(props: { x: number; name: string; figure: string; lane: number; chosen: boolean }) {
  const { x, name, figure, lane, chosen } = props;
  const down = 32 * lane;
  return (
    <>
      <rect x={x - 12} y={rail - 66} width={100} height={66} fill="transparent" />
      <polygon
        points={`${x - 10},${rail} ${x - 10},${rail - 56} ${x + 12},${rail - 66} ${x + 12},${rail - 4}`}
        fill={chosen ? 'var(--color-paper)' : 'var(--color-card)'}
        stroke="var(--color-ink)"
        strokeWidth={chosen ? 2.4 : 1.3}
      />
      <line x1={x - 10} y1={rail - 12} x2={x + 12} y2={rail - 20} stroke="var(--color-rule)" />
      <text x={x + 19} y={rail - 50 + down} className="bench-label text-[12px] font-semibold" fill="var(--color-ink)">
        {name}
      </text>
      <text x={x + 19} y={rail - 36 + down} className="bench-label font-mono text-[11px]" fill="var(--color-ink)">
        {figure}
      </text>
    </>
  );
}

/** The camera with its opening in its own shape, wider for a smaller f-number. */
function Camera({ fNumber, aperture }: { fNumber: number; aperture: Aperture }) {
  const radius = Math.max(1.6, Math.min(12, 13 / Math.sqrt(fNumber)));
  const outline = apertureOutline(aperture, 48).map(([x, y]) => `${(38 + radius * x).toFixed(1)},${(rail - 26 - radius * y).toFixed(1)}`);
  return (
    <g className="cursor-ns-resize">
      <rect x={18} y={rail - 40} width={40} height={28} fill="var(--color-ink)" />
      <rect x={58} y={rail - 34} width={13} height={16} fill="var(--color-ink)" />
      <polygon points={outline.join(' ')} fill="var(--color-paper)" />
    </g>
  );
}

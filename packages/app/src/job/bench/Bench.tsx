import { blurDiscAt, sharpZone, type Card } from '@ritaglio/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { moveCard } from '../edit';
import { useChange, useRecipe } from '../jobContext';

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
function across(distance: number): number {
  return left + ((right - left) * Math.log(distance / near)) / Math.log(far / near);
}

function distanceAt(x: number): number {
  const d = near * Math.pow(far / near, (x - left) / (right - left));
  return Math.min(far, Math.max(near, Math.round(d * 100) / 100));
}

/** The side view of the scene: camera, rail in metres, cards, focus needle, zone of sharpness, blur curve. */
export function Bench({ open }: { open: boolean }) {
  const recipe = useRecipe();
  const { preview, commit } = useChange();
  const { lens, frame, cards } = recipe;
  const drawing = useRef<SVGSVGElement>(null);
  const [folded, setFolded] = useState(false);
  const width = frame.width;
  const disc = (d: number): number => blurDiscAt(lens, d, width);
  const tall = (px: number): number => (Math.min(px, tallest) / tallest) * (rail - 22);

  if (!open) return null;
  if (folded) {
    return (
      <section aria-label="Bench" className="col-span-3 flex items-center justify-between border-t border-rule bg-tray px-4 py-1">
        <span className="font-bold">Bench</span>
        <span className="font-mono text-xs">
          focus {lens.focus.toFixed(2)} m · f/{lens.fNumber.toFixed(1)} · {lens.focalLength.toFixed(0)} mm
        </span>
        <button type="button" className="underline" onClick={() => setFolded(false)}>
          Unfold
        </button>
      </section>
    );
  }

  const curve = Array.from({ length: 160 }, (_, i) => {
    const x = left + ((right - left) * i) / 159;
    const d = near * Math.pow(far / near, i / 159);
    return `${x.toFixed(1)},${(rail - tall(disc(d))).toFixed(1)}`;
  });
  const [zoneNear, zoneFar] = sharpZone(lens, width, 2);
  const zoneLeft = across(Math.max(near, zoneNear));
  const zoneRight = across(Math.min(far, zoneFar));
  const focus = {
    name: 'Focus',
    distance: lens.focus,
    move: (d: number) => (r: typeof recipe) => ({ ...r, lens: { ...r.lens, focus: d } }),
  };

  /** Pointer and keys of anything that stands on the rail. */
  const handle = (name: string, distance: number, move: (d: number) => (r: typeof recipe) => typeof recipe) => {
    const under = (e: PointerEvent<SVGGElement>): number => {
      const box = drawing.current!.getBoundingClientRect();
      return distanceAt(((e.clientX - box.left) / box.width) * 1280);
    };
    return {
      role: 'slider',
      tabIndex: 0,
      'aria-label': `${name}, distance`,
      'aria-valuemin': near,
      'aria-valuemax': far,
      'aria-valuenow': distance,
      'aria-valuetext': `${distance.toFixed(2)} metres`,
      className: 'cursor-ew-resize outline-offset-2',
      onPointerDown: (e: PointerEvent<SVGGElement>) => e.currentTarget.setPointerCapture(e.pointerId),
      onPointerMove: (e: PointerEvent<SVGGElement>) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) preview(move(under(e)));
      },
      onPointerUp: (e: PointerEvent<SVGGElement>) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) commit(move(under(e)));
      },
      onKeyDown: (e: KeyboardEvent) => {
        const direction = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
        if (!direction) return;
        e.preventDefault();
        const d = distance * Math.pow(1.02, direction * (e.shiftKey ? 5 : 1));
        commit(move(Math.min(far, Math.max(near, Math.round(d * 1000) / 1000))));
      },
    };
  };

  return (
    <section aria-label="Bench" className="relative col-span-3 border-t border-rule bg-tray">
      <h2 className="absolute top-2 left-4 font-bold">Bench</h2>
      <div className="absolute top-2 right-4 flex gap-4">
        <span className="font-mono text-xs">blur disc by distance, px of the full picture</span>
        <button type="button" className="underline" onClick={() => setFolded(true)}>
          Fold
        </button>
      </div>
      <svg ref={drawing} viewBox={`0 0 1280 ${height}`} className="block w-full" preserveAspectRatio="xMidYMid meet">
        <polygon points={`${left},${rail} ${curve.join(' ')} ${right},${rail}`} fill="#c4c3be" />
        <rect x={zoneLeft} y={20} width={Math.max(1, zoneRight - zoneLeft)} height={rail - 20} fill="#f3f2ee" />
        <polyline points={curve.join(' ')} fill="none" stroke="#20211f" strokeWidth={1.4} />
        <line x1={40} y1={rail} x2={right + 10} y2={rail} stroke="#20211f" strokeWidth={2} />
        {marks.map((m) => (
          <g key={m} className="font-mono text-[11px]" fill="#20211f">
            <line x1={across(m)} y1={rail} x2={across(m)} y2={rail + 7} stroke="#20211f" />
            <text x={across(m)} y={rail + 20} textAnchor="middle">
              {m} m
            </text>
          </g>
        ))}
        <Camera fNumber={lens.fNumber} />
        {[...cards]
          .sort((a, b) => b.distance - a.distance)
          .map((card) => (
            <g key={card.id} {...handle(nameOf(card), card.distance, (d) => (r) => moveCard(r, card.id, d))}>
              <StandingCard
                x={across(Math.min(far, Math.max(near, card.distance)))}
                name={nameOf(card)}
                figure={`${disc(card.distance).toFixed(0)} px`}
              />
            </g>
          ))}
        <g {...handle(focus.name, focus.distance, focus.move)}>
          <rect x={across(lens.focus) - 8} y={4} width={16} height={rail} fill="transparent" />
          <line x1={across(lens.focus)} y1={16} x2={across(lens.focus)} y2={rail + 4} stroke="#d6461f" strokeWidth={2} />
          <path d={`M${across(lens.focus) - 6} 4h12v9l-6 6l-6 -6z`} fill="#d6461f" />
        </g>
      </svg>
    </section>
  );
}

function nameOf(card: Card): string {
  return { subject: 'Subject', plate: 'Plate', picture: 'Background' }[card.kind];
}

/** A card seen from the side, a little turned. */
function StandingCard({ x, name, figure }: { x: number; name: string; figure: string }) {
  return (
    <>
      <polygon
        points={`${x - 10},${rail} ${x - 10},${rail - 56} ${x + 12},${rail - 66} ${x + 12},${rail - 4}`}
        fill="#e4e3df"
        stroke="#20211f"
        strokeWidth={1.3}
      />
      <line x1={x - 10} y1={rail - 12} x2={x + 12} y2={rail - 20} stroke="#b5b4ae" />
      <text x={x + 19} y={rail - 50} className="bench-label text-[12px] font-semibold" fill="#20211f">
        {name}
      </text>
      <text x={x + 19} y={rail - 34} className="bench-label font-mono text-[11px]" fill="#20211f">
        {figure}
      </text>
    </>
  );
}

/** The camera with its opening, wider for a smaller f-number. */
function Camera({ fNumber }: { fNumber: number }) {
  const radius = Math.max(1.2, Math.min(9, 10 / Math.sqrt(fNumber)));
  return (
    <g>
      <rect x={18} y={rail - 40} width={40} height={28} fill="#20211f" />
      <rect x={58} y={rail - 34} width={13} height={16} fill="#20211f" />
      <circle cx={38} cy={rail - 26} r={radius} fill="#f3f2ee" />
    </g>
  );
}

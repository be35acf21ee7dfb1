import { useRef, useState, type CSSProperties, type KeyboardEvent, type PointerEvent } from 'react';
import { say } from '../words/say';

/** The panels beside the picture. */
export type Side = 'left' | 'right';
type Widths = Partial<Record<Side, number>>;

const key = 'ritaglio.panels';
/** Narrower than this, px, a panel folds away; and how wide it can be. */
const least = 180;
const most = 560;
/** What an arrow key moves an edge by, px. */
const stride = 16;

function kept(): Widths {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? '{}') as Record<string, unknown>;
    const width = (v: unknown): number | undefined => (typeof v === 'number' && v >= 0 && v <= most ? v : undefined);
    return { left: width(found.left), right: width(found.right) };
  } catch {
    return {};
  }
}

/** A width that a panel can have: folded, or wide enough to be read. */
export function asWidth(wanted: number): number {
  return wanted < least / 2 ? 0 : Math.min(most, Math.max(least, Math.round(wanted)));
}

/** How wide the panels are, as columns of a grid, and how they are changed; kept in this browser. Nothing chosen: as wide as the screen suggests. */
export function usePanels(): { style: CSSProperties; widths: Widths; change: (side: Side, width: number | undefined) => void } {
  const [widths, setWidths] = useState(kept);
  const change = (side: Side, width: number | undefined): void => {
    const next = { ...widths, [side]: width };
    setWidths(next);
    localStorage.setItem(key, JSON.stringify(next));
  };
  const style: Record<string, string> = {};
  if (widths.left !== undefined) style['--left'] = `${widths.left}px`;
  if (widths.right !== undefined) style['--right'] = `${widths.right}px`;
  return { style, widths, change };
}

/** The edge of a panel: it is dragged, moved by arrow keys, folded and unfolded by Enter, and put back by a double click. */
export function PanelEdge({
  side,
  width,
  onChange,
}: {
  side: Side;
  width: number | undefined;
  onChange: (width: number | undefined) => void;
}) {
  const from = useRef<{ x: number; width: number }>(undefined);
  const now = (edge: HTMLElement): number => width ?? edge.parentElement!.getBoundingClientRect().width;
  const way = side === 'left' ? 1 : -1;
  const down = (e: PointerEvent<HTMLDivElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    from.current = { x: e.clientX, width: now(e.currentTarget) };
  };
  const move = (e: PointerEvent<HTMLDivElement>): void => {
    if (from.current) onChange(asWidth(from.current.width + way * (e.clientX - from.current.x)));
  };
  const press = (e: KeyboardEvent<HTMLDivElement>): void => {
    const by = { ArrowLeft: -stride, ArrowRight: stride }[e.key];
    if (by === undefined && e.key !== 'Enter') return;
    e.preventDefault();
    e.stopPropagation();
    if (by === undefined) onChange(width === 0 ? undefined : 0);
    else onChange(asWidth(Math.max(least, now(e.currentTarget) + way * by)));
  };
  const name = side === 'left' ? say('Width of the controls') : say('Width of the evidence');
  return (
    <div
      role="separator"
      aria-orientation="vertical"
      aria-label={name}
      aria-valuemin={0}
      aria-valuemax={most}
      aria-valuenow={width ?? (side === 'left' ? 284 : 252)}
      aria-valuetext={width === 0 ? say('folded') : undefined}
      title={say('Drag it, or move it by arrow keys; Enter folds and unfolds, a double click puts it back')}
      tabIndex={0}
      className={`group absolute inset-y-0 z-[5] w-2.5 cursor-col-resize touch-none ${side === 'left' ? '-right-[5px]' : '-left-[5px]'}`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={() => (from.current = undefined)}
      onDoubleClick={() => onChange(undefined)}
      onKeyDown={press}
    >
      <span className="absolute top-1/2 left-1/2 h-9 w-[3px] -translate-x-1/2 -translate-y-1/2 bg-rule group-hover:bg-ink group-focus-visible:bg-ink" />
    </div>
  );
}

import { clsx } from 'clsx';
import { Collapsible, RadioGroup, Slider } from 'radix-ui';
import { createContext, useContext, useState, type ReactNode } from 'react';
import { helpOf } from './help';
import { KeyingContext, type Keying } from './keyed';
import { figured, say } from '../words/say';

/** Which parts of the controls are seen, by their titles; all of them unless somebody says otherwise. */
export const ShownParts = createContext<(title: string) => boolean>(() => true);

/** A titled part of the controls, with one figure at the right. */
export function Part({ title, figure, children }: { title: string; figure?: ReactNode; children?: ReactNode }) {
  if (!useContext(ShownParts)(title)) return null;
  return (
    <section className="border-b border-rule px-4 py-2.5" aria-label={say(title)}>
      <div className="mb-1.5 flex items-baseline justify-between gap-2">
        <h2 className="font-bold">{say(title)}</h2>
        {figure !== undefined && <span className="font-mono text-xs font-semibold">{figure}</span>}
      </div>
      {children}
    </section>
  );
}

/** A part of the controls that opens and folds; what stands beside its title works while it is folded. */
export function Fold(props: { title: string; figure?: ReactNode; beside?: ReactNode; open?: boolean; children: ReactNode }) {
  if (!useContext(ShownParts)(props.title)) return null;
  return (
    <Collapsible.Root asChild defaultOpen={props.open}>
      <section className="border-b border-rule px-4 py-2" aria-label={say(props.title)}>
        <div className="flex items-center justify-between gap-2">
          <Collapsible.Trigger className="group flex items-baseline gap-1.5 font-bold whitespace-nowrap">
            <span aria-hidden className="w-2.5 font-mono group-data-[state=open]:hidden">
              +
            </span>
            <span aria-hidden className="hidden w-2.5 font-mono group-data-[state=open]:inline">
              −
            </span>
            {say(props.title)}
          </Collapsible.Trigger>
          <span className="flex items-center gap-2">
            {props.figure !== undefined && <span className="font-mono text-xs whitespace-nowrap">{props.figure}</span>}
            {props.beside}
          </span>
        </div>
        <Collapsible.Content className="pt-1">{props.children}</Collapsible.Content>
      </section>
    </Collapsible.Root>
  );
}

export interface Option<T extends string> {
  value: T;
  label: ReactNode;
  disabled?: boolean;
}

/** One of a few: presses side by side. */
export function Choice<T extends string>(props: {
  label: string;
  value: T;
  options: Option<T>[];
  onChange: (value: T) => void;
  tone?: 'card' | 'mid';
}) {
  const mid = props.tone === 'mid';
  return (
    <RadioGroup.Root
      aria-label={props.label}
      value={props.value}
      onValueChange={(v) => props.onChange(v as T)}
      orientation="horizontal"
      className={clsx('inline-flex flex-wrap', mid ? 'border border-rule' : props.options.length > 3 ? 'gap-[3px]' : 'gap-1.5')}
    >
      {props.options.map((o) => (
        <RadioGroup.Item
          key={o.value}
          value={o.value}
          disabled={o.disabled}
          className={clsx(
            'py-0.5 font-semibold disabled:opacity-50',
            !mid && (props.options.length > 3 ? 'px-1' : 'px-2'),
            mid
              ? 'px-1.5 text-white data-[state=checked]:bg-lit data-[state=checked]:text-on-lit'
              : 'border border-ink bg-paper data-[state=checked]:bg-ink data-[state=checked]:text-paper',
          )}
        >
          {o.label}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}

interface NumberProps {
  label: string;
  value: number;
  /** What a double click puts back. */
  normal: number;
  /** Ends of the track. */
  min: number;
  max: number;
  /** What can be typed, where that is more than the track reaches. */
  least?: number;
  most?: number;
  step: number;
  unit?: string;
  digits?: number;
  prefix?: string;
  /** What it does, in one sentence. */
  help?: string;
  /** Even steps on the track are even ratios. */
  logarithmic?: boolean;
  disabled?: boolean;
  /** Its place in the recipe: it can be keyed over time. */
  of?: string;
  /** While dragging; without it dragging only commits. */
  onPreview?: (value: number) => void;
  onCommit: (value: number) => void;
}

/** A number that can be dragged, typed, nudged with the arrow keys, and put back with a double click. */
export function NumberControl(props: NumberProps) {
  const { label, min, max, step, unit = '', digits = 0, prefix = '' } = props;
  const [least, most] = [Math.min(min, props.least ?? min), Math.max(max, props.most ?? max)];
  const [typed, setTyped] = useState<string>();
  /** What was only looked at is not committed: it would be rounded to what is shown. */
  const [touched, setTouched] = useState(false);
  const [beyond, setBeyond] = useState<string>();
  const help = helpOf(label, props.help);
  const keying = useContext(KeyingContext);
  const bent = (v: number): number => (props.logarithmic ? Math.log(v / min) / Math.log(max / min) : (v - min) / (max - min));
  const straight = (t: number): number => {
    const v = props.logarithmic ? min * Math.pow(max / min, t) : min + t * (max - min);
    return Math.min(max, Math.max(min, Math.round(v / step) * step));
  };
  const written = (v: number): string => `${prefix}${figured(v, digits)}${unit ? ' ' + unit : ''}`;
  const shown = written(props.value);
  const within = (v: number): number => Math.min(most, Math.max(least, v));
  const finish = (): void => {
    if (typed === undefined) return;
    const v = Number.parseFloat(typed.replace(',', '.').replace(/[^\d.+-]/g, ''));
    if (Number.isFinite(v) && touched) {
      props.onCommit(within(v));
      if (within(v) !== v) setBeyond(say('{label} goes from {least} to {most}; the nearest was taken.', { label, least: written(least), most: written(most) })); // prettier-ignore
    }
    setTyped(undefined);
  };
  const nudge = (direction: number): void => props.onCommit(within(Number((props.value + direction * step).toFixed(6))));
  return (
    <div
      className="mt-1 grid grid-cols-[5.3rem_1fr_4.2rem] items-center gap-2"
      onDoubleClick={() => props.onCommit(props.normal)}
      {...help}
      onFocus={() => {
        help.onFocus?.();
        if (props.of !== undefined) keying?.take(props.of);
      }}
    >
      <span className="flex items-center gap-1.5 text-faint">
        {label}
        {props.of !== undefined && keying && <KeyTick label={label} of={props.of} keying={keying} />}
      </span>
      <Slider.Root
        min={0}
        max={1000}
        step={1}
        value={[Math.round(1000 * Math.min(1, Math.max(0, bent(props.value))))]}
        disabled={props.disabled}
        onValueChange={([t]) => (props.onPreview ?? props.onCommit)(straight(t / 1000))}
        onValueCommit={([t]) => props.onCommit(straight(t / 1000))}
        onKeyDownCapture={(e) => {
          const direction = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
          if (!direction) return;
          e.preventDefault();
          e.stopPropagation();
          nudge(direction * (e.shiftKey ? 10 : 1));
        }}
        className="relative flex h-5 touch-none items-center"
      >
        <Slider.Track className="relative h-px grow bg-rule">
          <Slider.Range className="absolute -top-px h-[3px] bg-ink" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={label}
          aria-valuetext={shown}
          aria-description={props.help}
          className="block h-3.5 w-[3px] bg-ink focus-visible:outline-offset-4"
        />
      </Slider.Root>
      <input
        aria-label={say('{label}, typed', { label })}
        data-name={label}
        className="w-full border-b border-faint bg-transparent text-right font-mono text-xs disabled:opacity-50"
        value={typed ?? shown}
        disabled={props.disabled}
        onFocus={(e) => {
          setBeyond(undefined);
          setTouched(false);
          setTyped(figured(props.value, digits));
          const field = e.currentTarget;
          requestAnimationFrame(() => field.select());
        }}
        onChange={(e) => {
          setTyped(e.currentTarget.value);
          setTouched(true);
        }}
        onBlur={finish}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            finish();
            e.currentTarget.blur();
          } else if (e.key === 'Escape') {
            setTyped(undefined);
            e.currentTarget.blur();
          } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
            e.preventDefault();
            setTyped(undefined);
            nudge((e.key === 'ArrowUp' ? 1 : -1) * (e.shiftKey ? 10 : 1));
          }
        }}
      />
      {beyond && (
        <p role="status" className="col-span-3 text-xs text-watch">
          {beyond}
        </p>
      )}
    </div>
  );
}

/** Whether a number changes over time: a square on a foot, filled where it has a point; a press sets or takes one. */
function KeyTick({ label, of, keying }: { label: string; of: string; keying: Keying }) {
  const state = keying.state(of);
  const says = { none: say('does not change over time'), keyed: say('changes over time'), point: say('has a point at this frame') }[state];
  return (
    <button
      type="button"
      aria-label={`${label}: ${says}. ${state === 'point' ? say('Take the point away') : say('Put a point here')}`}
      title={say('{says}; a press {thing} (K)', {
        says,
        thing: state === 'point' ? say('takes the point away') : say('puts a point at this frame'),
      })}
      className={clsx('p-0.5', state === 'none' && 'opacity-45 hover:opacity-100')}
      onDoubleClick={(e) => e.stopPropagation()}
      onClick={() => keying.toggle(of)}
    >
      <svg width={9} height={12} aria-hidden className="block">
        <rect
          x={1}
          y={1}
          width={7}
          height={7}
          fill={state === 'point' ? 'var(--color-ink)' : 'none'}
          stroke="var(--color-ink)"
          strokeWidth={1.4}
        />
        {state !== 'none' && <line x1={4.5} x2={4.5} y1={8} y2={12} stroke="var(--color-ink)" strokeWidth={1.4} />}
      </svg>
    </button>
  );
}

/** Something that is on or off. */
export function Tick({
  label,
  on,
  onChange,
  className,
}: {
  label: string;
  on: boolean;
  onChange: (on: boolean) => void;
  className?: string;
}) {
  return (
    <label className={clsx('flex items-center gap-2', className)}>
      <input type="checkbox" className="accent-ink" checked={on} onChange={(e) => onChange(e.currentTarget.checked)} />
      {label}
    </label>
  );
}

/** Rows of a name and a figure. */
export function Figures({ rows }: { rows: { name: string; figure: ReactNode; state?: 'fine' | 'watch' }[] }) {
  return (
    <dl>
      {rows.map((r) => (
        <div key={r.name} className="flex items-baseline justify-between gap-3 border-b border-rule py-1">
          <dt>{r.name}</dt>
          <dd
            className={clsx(
              'text-right font-mono text-xs',
              r.state === 'fine' && 'text-fine',
              r.state === 'watch' && 'font-semibold text-hot',
            )}
          >
            {r.figure}
          </dd>
        </div>
      ))}
    </dl>
  );
}

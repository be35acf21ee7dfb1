import { sizeClasses, type Card, type LampParams } from '@ritaglio/core';
import { Bar, BarChart, ReferenceArea, XAxis } from 'recharts';
import { Button } from '../../ui/Button';
import { Part, Tick } from '../../ui/controls';
import { useProductsOfJob, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { theCard, useEdit, within } from '../useEdit';
import { useTool } from '../useTool';
import { useViewOf } from '../viewStore';
import { figured, say } from '../../words/say';

type LampCard = Extract<Card, { lamps: LampParams }>;

/** The card whose lamps are lifted: the farthest that can have any. */
export function lampCard(cards: Card[]): LampCard | undefined {
  return cards.filter((c): c is LampCard => 'lamps' in c && !c.hidden).sort((a, b) => b.distance - a.distance)[0];
}

const edges = [0, 2, 4, 8, 12, 16, 24, 36, 60, 100];

/** Small lights that clipped in the photograph: which count, and how much brighter they were. */
export function LampsPart() {
  const card = lampCard(useRecipe().cards);
  return card ? <LampsOf card={card} /> : null;
}

function LampsOf({ card }: { card: LampCard }) {
  const { figures } = useProductsOfJob();
  const tool = useTool({ lamps: true });
  const {
    lamps: outlined,
    benchTool,
    lampColour,
    lampSize,
    lampLift,
    set,
  } = useViewOf('lamps', 'benchTool', 'lampColour', 'lampSize', 'lampLift', 'set');
  const { value: lamps, commit, preview, number } = useEdit(within(theCard(card), 'lamps'));
  const found = figures.lamps?.card === card.id ? figures.lamps : undefined;
  const proposed = found?.proposed ?? 0;
  const counted = found?.lamps.filter((l) => !l.dropped).length ?? 0;
  const classes = found ? sizeClasses(found.sizes, edges).map((n, i) => ({ size: edges[i], n })) : [];
  return (
    <Part
      title="Lamps"
      figure={say('{counted} found · {length} by hand', { counted: found ? counted : '…', length: lamps.set.length + lamps.areas.length })}
    >
      <ParameterControl
        param="lamps.lift"
        value={lamps.lift === 'auto' ? proposed : lamps.lift}
        normal={proposed}
        onPreview={(lift) => preview({ lift })}
        onCommit={(lift) => commit({ lift })}
      />
      <div className="mb-1 flex items-center justify-between gap-2 text-faint">
        <span>{liftWords(lamps.lift, found)}</span>
        {lamps.lift !== 'auto' && <Button onClick={() => commit({ lift: 'auto' })}>{say('Take the proposal')}</Button>}
      </div>
      <ParameterControl {...number('from', 'lamps.from')} />
      <ParameterControl {...number('to', 'lamps.to')} />
      <ParameterControl {...number('least', 'lamps.least')} />
      <ParameterControl {...number('size', 'lamps.size')} />
      <ParameterControl {...number('colour', 'lamps.colour')} />
      {classes.length > 0 && (
        <figure className="mt-1" aria-label={say('Bright spots by size')}>
          <BarChart width={240} height={58} data={classes} margin={{ top: 2, right: 0, bottom: 0, left: 0 }}>
            <XAxis dataKey="size" tick={{ fontSize: 10, fontFamily: 'Spline Sans Mono' }} height={18} tickLine={false} interval={0} />
            <ReferenceArea x1={nearestEdge(lamps.least)} x2={nearestEdge(lamps.size)} fill="var(--color-paper)" fillOpacity={1} />
            <Bar dataKey="n" fill="var(--color-ink)" isAnimationActive={false} />
          </BarChart>
          <figcaption className="text-faint">{say('Bright spots by diameter, px; the light part counts.')}</figcaption>
        </figure>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        <Button strong={outlined} aria-pressed={outlined} onClick={() => set({ lamps: !outlined })}>
          {say('Outline them')}
        </Button>
        <Button {...tool('lamp')}>{say('Set a lamp')}</Button>
        <Button {...tool('strew')} title={say('Draw a loop: it is filled with small lights of the colours that are there')}>
          {say('Fill an area')}
        </Button>
        {lamps.set.length + lamps.dropped.length + lamps.areas.length > 0 && (
          <Button onClick={() => commit({ set: [], dropped: [], areas: [] })}>{say('Only those found')}</Button>
        )}
      </div>
      {outlined && <p className="mt-1 text-faint">{say('A press on an outlined lamp drops it, another takes it back.')}</p>}
      {benchTool === 'strew' && <p className="mt-1 text-faint">{say('Draw a loop around what is to be filled with lights.')}</p>}
      {lamps.areas.map((area, i) => {
        const put = (change: Partial<typeof area>) => ({ areas: lamps.areas.map((a, k) => (k === i ? { ...a, ...change } : a)) });
        const row = (key: 'size' | 'density' | 'lift') => ({
          param: `area.${key}` as const,
          value: area[key],
          onPreview: (v: number) => preview(put({ [key]: v })),
          onCommit: (v: number) => commit(put({ [key]: v })),
        });
        return (
          <div key={i} role="group" aria-label={say('Filled area {i}', { i: i + 1 })} className="mt-1 border-t border-rule pt-1">
            <div className="flex items-center justify-between">
              <span>{say('Filled area {i}', { i: i + 1 })}</span>
              <Button
                aria-label={say('Take filled area {i} away', { i: i + 1 })}
                onClick={() => commit({ areas: lamps.areas.filter((_, k) => k !== i) })}
              >
                ×
              </Button>
            </div>
            <ParameterControl {...row('size')} />
            <ParameterControl {...row('density')} />
            <ParameterControl {...row('lift')} />
          </div>
        );
      })}
      {benchTool === 'lamp' && (
        <>
          <label className="mt-1 flex items-center justify-between text-faint">
            {say('Colour of the next')}
            <input
              type="color"
              aria-label={say('Lamp colour')}
              value={lampColour}
              onChange={(e) => set({ lampColour: e.currentTarget.value })}
            />
          </label>
          <ParameterControl param="lamp.size" value={lampSize} onCommit={(v) => set({ lampSize: v })} />
          <ParameterControl param="lamp.lift" value={lampLift} onCommit={(v) => set({ lampLift: v })} />
          <Tick
            className="mt-1"
            label={say('Soft rim for those set by hand')}
            on={lamps.set.some((l) => l.softness > 0)}
            onChange={(on) => commit({ set: lamps.set.map((l) => ({ ...l, softness: on ? 0.8 : 0 })) })}
          />
        </>
      )}
    </Part>
  );
}

/** What is said of the lift. */
function liftWords(lift: LampParams['lift'], found: { lamps: readonly unknown[]; proposed: number } | undefined): string {
  if (!found) return say('Looking for lamps.');
  if (found.lamps.length === 0) return say('No small light clipped.');
  if (lift !== 'auto') return say('Proposed: {proposed} stops.', { proposed: figured(found.proposed, 1) });
  return found.proposed > 0
    ? say('{proposed} stops, proposed.', { proposed: figured(found.proposed, 1) })
    : say('Left alone: what is white here is not clearly a lamp.');
}

function nearestEdge(size: number): number {
  return edges.reduce((best, e) => (Math.abs(e - size) < Math.abs(best - size) ? e : best));
}

import { plainArea, plainLamps, sizeClasses, type Card, type LampParams } from '@ritaglio/core';
import { Bar, BarChart, ReferenceArea, XAxis } from 'recharts';
import { Button, NumberControl, Part, Tick } from '../../ui/controls';
import { useProductsOfJob, useRecipe } from '../jobContext';
import { theCard, useEdit, within } from '../useEdit';
import { useTool } from '../useTool';
import { useView } from '../viewStore';

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
  const { lamps: outlined, benchTool, lampColour, lampSize, lampLift, set } = useView();
  const { value: lamps, commit, preview, number: numbers } = useEdit(within(theCard(card), 'lamps'));
  const found = figures.lamps?.card === card.id ? figures.lamps : undefined;
  const number = (key: 'from' | 'to' | 'least' | 'size' | 'colour', times = 1) => numbers(key, plainLamps[key], times);
  const proposed = found?.proposed ?? 0;
  const counted = found?.lamps.filter((l) => !l.dropped).length ?? 0;
  const classes = found ? sizeClasses(found.sizes, edges).map((n, i) => ({ size: edges[i], n })) : [];
  return (
    <Part title="Lamps" figure={`${found ? counted : '…'} found · ${lamps.set.length + lamps.areas.length} by hand`}>
      <NumberControl
        label="Lift"
        value={lamps.lift === 'auto' ? proposed : lamps.lift}
        normal={proposed}
        min={0}
        max={8}
        step={0.1}
        digits={1}
        unit="st"
        onPreview={(lift) => preview({ lift })}
        onCommit={(lift) => commit({ lift })}
      />
      <div className="mb-1 flex items-center justify-between gap-2 text-faint">
        <span>{liftWords(lamps.lift, found)}</span>
        {lamps.lift !== 'auto' && <Button onClick={() => commit({ lift: 'auto' })}>Take the proposal</Button>}
      </div>
      <NumberControl label="Counts from" {...number('from')} min={50} max={100} step={0.5} digits={1} unit="L*" />
      <NumberControl label="Counts up to" {...number('to')} min={50} max={100} step={0.5} digits={1} unit="L*" />
      <NumberControl label="Smallest" {...number('least')} min={0} max={40} step={0.5} digits={1} unit="px" />
      <NumberControl label="Largest" {...number('size')} min={2} max={200} step={1} unit="px" logarithmic />
      <NumberControl label="Colour" {...number('colour', 100)} min={0} max={300} step={1} unit="%" />
      {classes.length > 0 && (
        <figure className="mt-1" aria-label="Bright spots by size">
          <BarChart width={240} height={58} data={classes} margin={{ top: 2, right: 0, bottom: 0, left: 0 }}>
            <XAxis dataKey="size" tick={{ fontSize: 10, fontFamily: 'Spline Sans Mono' }} height={18} tickLine={false} interval={0} />
            <ReferenceArea x1={nearestEdge(lamps.least)} x2={nearestEdge(lamps.size)} fill="var(--color-paper)" fillOpacity={1} />
            <Bar dataKey="n" fill="var(--color-ink)" isAnimationActive={false} />
          </BarChart>
          <figcaption className="text-faint">Bright spots by diameter, px; the light part counts.</figcaption>
        </figure>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        <Button strong={outlined} aria-pressed={outlined} onClick={() => set({ lamps: !outlined })}>
          Outline them
        </Button>
        <Button {...tool('lamp')}>Set a lamp</Button>
        <Button {...tool('strew')} title="Draw a loop: it is filled with small lights of the colours that are there">
          Fill an area
        </Button>
        {lamps.set.length + lamps.dropped.length + lamps.areas.length > 0 && (
          <Button onClick={() => commit({ set: [], dropped: [], areas: [] })}>Only those found</Button>
        )}
      </div>
      {outlined && <p className="mt-1 text-faint">A press on an outlined lamp drops it, another takes it back.</p>}
      {benchTool === 'strew' && <p className="mt-1 text-faint">Draw a loop around what is to be filled with lights.</p>}
      {lamps.areas.map((area, i) => {
        const put = (change: Partial<typeof area>) => ({ areas: lamps.areas.map((a, k) => (k === i ? { ...a, ...change } : a)) });
        const row = (key: 'size' | 'density' | 'lift', normal: number, times = 1) => ({
          value: area[key] * times,
          normal: normal * times,
          onPreview: (v: number) => preview(put({ [key]: v / times })),
          onCommit: (v: number) => commit(put({ [key]: v / times })),
        });
        return (
          <div key={i} role="group" aria-label={`Filled area ${i + 1}`} className="mt-1 border-t border-rule pt-1">
            <div className="flex items-center justify-between">
              <span>Filled area {i + 1}</span>
              <Button
                aria-label={`Take filled area ${i + 1} away`}
                onClick={() => commit({ areas: lamps.areas.filter((_, k) => k !== i) })}
              >
                ×
              </Button>
            </div>
            <NumberControl label="Light size" {...row('size', plainArea.size)} min={1} max={200} step={1} unit="px" logarithmic />
            <NumberControl label="How close" {...row('density', plainArea.density, 100)} min={0} max={100} step={1} unit="%" />
            <NumberControl label="Light" {...row('lift', plainArea.lift)} min={-2} max={10} step={0.1} digits={1} unit="st" />
          </div>
        );
      })}
      {benchTool === 'lamp' && (
        <>
          <label className="mt-1 flex items-center justify-between text-faint">
            Colour of the next
            <input type="color" aria-label="Lamp colour" value={lampColour} onChange={(e) => set({ lampColour: e.currentTarget.value })} />
          </label>
          <NumberControl
            label="Its size"
            value={lampSize}
            normal={14}
            min={1}
            max={200}
            step={1}
            unit="px"
            onCommit={(v) => set({ lampSize: v })}
          />
          <NumberControl
            label="Its light"
            value={lampLift}
            normal={4}
            min={-2}
            max={10}
            step={0.1}
            digits={1}
            unit="st"
            onCommit={(v) => set({ lampLift: v })}
          />
          <Tick
            className="mt-1"
            label="Soft rim for those set by hand"
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
  if (!found) return 'Looking for lamps.';
  if (found.lamps.length === 0) return 'No small light clipped.';
  if (lift !== 'auto') return `Proposed: ${found.proposed.toFixed(1)} stops.`;
  return found.proposed > 0 ? `${found.proposed.toFixed(1)} stops, proposed.` : 'Left alone: what is white here is not clearly a lamp.';
}

function nearestEdge(size: number): number {
  return edges.reduce((best, e) => (Math.abs(e - size) < Math.abs(best - size) ? e : best));
}

import type { MarkKind, Trim } from '@ritaglio/core';
import { Button, Choice, NumberControl, Part } from '../../ui/controls';
import { editSubject } from '../edit';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { useView } from '../viewStore';

/** Marks and corrections of the edge. */
export function MatteControls() {
  const subject = useRecipe().subjects[0];
  const { preview, commit } = useChange();
  const { figures } = useProductsOfJob();
  const { mark, tip, set } = useView();
  const { marks, trim } = subject;
  const trimmed = (change: Partial<Trim>) => (r: Parameters<typeof editSubject>[0]) =>
    editSubject(r, (s) => ({ ...s, trim: { ...s.trim, ...change } }));
  const part = (key: keyof Trim) => ({
    value: trim[key],
    normal: 0,
    onPreview: (v: number) => preview(trimmed({ [key]: v })),
    onCommit: (v: number) => commit(trimmed({ [key]: v })),
  });
  return (
    <>
      <Part title="Marks" figure={`${marks.length} ${marks.length === 1 ? 'stroke' : 'strokes'}`}>
        <Choice<MarkKind>
          label="Kind of mark"
          value={mark}
          options={[
            { value: 'inside', label: '● Inside' },
            { value: 'outside', label: '○ Outside' },
            { value: 'edge', label: '◌ Edge' },
          ]}
          onChange={(kind) => set({ mark: kind, picture: 'shot', compare: 'whole' })}
        />
        <NumberControl
          label="Tip"
          value={tip}
          normal={28}
          min={1}
          max={400}
          step={1}
          unit="px"
          logarithmic
          onCommit={(v) => set({ tip: v })}
        />
        <div className="mt-2 flex gap-1.5">
          <Button
            disabled={marks.length === 0}
            onClick={() => commit((r) => editSubject(r, (s) => ({ ...s, marks: s.marks.slice(0, -1) })))}
          >
            Take the last off
          </Button>
          <Button disabled={marks.length === 0} onClick={() => commit((r) => editSubject(r, (s) => ({ ...s, marks: [] })))}>
            Clear
          </Button>
        </div>
        {figures.matte?.note && <p className="mt-2 text-watch">{figures.matte.note}</p>}
      </Part>
      <Part title="Edge" figure={figures.matte ? `soft ${(100 * figures.matte.soft).toFixed(1)} %` : undefined}>
        <NumberControl label="Shift" {...part('shift')} min={-6} max={6} step={0.1} digits={1} unit="px" />
        <NumberControl label="Feather" {...part('feather')} min={0} max={12} step={0.1} digits={1} unit="px" />
        <NumberControl label="Firmness" {...part('firmness')} min={-100} max={100} step={1} />
        <NumberControl label="Specks" {...part('specks')} min={0} max={400} step={1} unit="px²" />
      </Part>
    </>
  );
}

import { Button, NumberControl, Part } from '../../ui/controls';
import { editSubject } from '../edit';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';

/** The hole and how it is filled. */
export function PlateControls() {
  const { grow, feather } = useRecipe().subjects[0].plate;
  const { preview, commit } = useChange();
  const { plate } = useProductsOfJob().figures;
  const suggested = plate?.suggested ?? 0;
  const change = (part: { grow?: number | 'auto'; feather?: number }) => (r: Parameters<typeof editSubject>[0]) =>
    editSubject(r, (s) => ({ ...s, plate: { ...s.plate, ...part } }));
  return (
    <>
      <Part title="Hole" figure={plate ? `${(100 * plate.hole).toFixed(1)} % of the shot` : undefined}>
        <NumberControl
          label="Grow"
          value={grow === 'auto' ? suggested : grow}
          normal={suggested}
          min={0}
          max={80}
          step={0.5}
          digits={1}
          unit="px"
          onPreview={(v) => preview(change({ grow: v }))}
          onCommit={(v) => commit(change({ grow: v }))}
        />
        <NumberControl
          label="Feather"
          value={feather}
          normal={1}
          min={0}
          max={60}
          step={0.5}
          digits={1}
          unit="px"
          onPreview={(v) => preview(change({ feather: v }))}
          onCommit={(v) => commit(change({ feather: v }))}
        />
        {plate && (
          <p className="mt-2 text-faint">
            {grow === 'auto' ? 'Proposed' : 'Proposal'}: {suggested.toFixed(1)} px, from an edge measured {plate.softness.toFixed(1)} px
            soft.
          </p>
        )}
        {grow !== 'auto' && (
          <Button className="mt-2" onClick={() => commit(change({ grow: 'auto' }))}>
            Take the proposal
          </Button>
        )}
      </Part>
      <Part title="Fill" figure="smooth">
        <p className="text-faint">A membrane stretched from the rim over the hole. It has no texture: right where the blur hides it.</p>
      </Part>
    </>
  );
}

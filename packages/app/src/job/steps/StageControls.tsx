import type { Card } from '@ritaglio/core';
import { centred } from '@ritaglio/core';
import { Button, NumberControl, Part } from '../../ui/controls';
import { backgroundCard, editCard, moveCard, subjectCard } from '../edit';
import { useChange, useRecipe } from '../jobContext';
import { useJobPictures } from './PicturesControls';

/** What stands behind, and where everything stands. */
export function StageControls() {
  const recipe = useRecipe();
  const { commit } = useChange();
  const { pictures } = useJobPictures();
  const behind = backgroundCard(recipe);
  const front = subjectCard(recipe);
  const choices = [{ id: '', name: 'Its own plate' }, ...pictures.filter((p) => p.id !== recipe.subjects[0].shot)];
  const chosen = behind?.kind === 'picture' ? behind.picture : '';
  return (
    <>
      <Part title="Behind the subject">
        <div className="flex flex-col items-start gap-1.5" role="group" aria-label="Behind the subject">
          {choices.map((c) => (
            <Button
              key={c.id}
              strong={chosen === c.id}
              aria-pressed={chosen === c.id}
              className="max-w-full"
              onClick={() =>
                behind &&
                commit((r) =>
                  editCard(r, behind.id, ({ id, distance }) =>
                    c.id === ''
                      ? { kind: 'plate', subject: r.subjects[0].id, id, distance, placement: centred }
                      : { kind: 'picture', picture: c.id, id, distance, placement: centred },
                  ),
                )
              }
            >
              <span className="truncate">{c.name}</span>
            </Button>
          ))}
        </div>
        <p className="mt-2 text-faint">More are brought in at Pictures.</p>
      </Part>
      {behind && <CardPart title={behind.kind === 'plate' ? 'Plate' : 'Background'} card={behind} />}
      {front && <CardPart title="Subject" card={front} />}
    </>
  );
}

function CardPart({ title, card }: { title: string; card: Card }) {
  const { preview, commit } = useChange();
  const { frame } = useRecipe();
  const change = (part: Partial<Card['placement']>) => (r: Parameters<typeof editCard>[0]) =>
    editCard(r, card.id, (c) => ({ ...c, placement: { ...c.placement, ...part } }));
  const number = (key: 'x' | 'y' | 'scale') => ({
    value: key === 'scale' ? 100 * card.placement.scale : card.placement[key],
    normal: key === 'scale' ? 100 : 0,
    onPreview: (v: number) => preview(change({ [key]: key === 'scale' ? v / 100 : v })),
    onCommit: (v: number) => commit(change({ [key]: key === 'scale' ? v / 100 : v })),
  });
  return (
    <Part title={title} figure={`${card.distance.toFixed(2)} m`}>
      <NumberControl
        label="Distance"
        value={card.distance}
        normal={card.kind === 'subject' ? 3 : 20}
        min={0.3}
        max={200}
        step={0.01}
        digits={2}
        unit="m"
        logarithmic
        onPreview={(v) => preview((r) => moveCard(r, card.id, v))}
        onCommit={(v) => commit((r) => moveCard(r, card.id, v))}
      />
      <NumberControl label="Across" {...number('x')} min={-frame.width} max={frame.width} step={1} unit="px" />
      <NumberControl label="Down" {...number('y')} min={-frame.height} max={frame.height} step={1} unit="px" />
      <NumberControl label="Size" {...number('scale')} min={5} max={400} step={1} unit="%" logarithmic />
      <Button
        className="mt-2"
        aria-pressed={card.placement.flip}
        strong={card.placement.flip}
        onClick={() => commit(change({ flip: !card.placement.flip }))}
      >
        Flip
      </Button>
    </Part>
  );
}

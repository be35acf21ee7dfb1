import { centred, defaultCard, lampsFor } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { backgroundCard, editCard } from '../edit';
import { useChange, useRecipe } from '../jobContext';
import { CardList } from '../stage/CardList';
import { CardPart } from '../stage/CardPart';
import { FramePart } from '../stage/FramePart';
import { useJobPictures } from './PicturesControls';
import { say } from '../../words/say';

/** What stands behind, and where everything stands. */
export function StageControls() {
  const recipe = useRecipe();
  const { commit } = useChange();
  const { pictures } = useJobPictures();
  const behind = backgroundCard(recipe);
  const choices = [
    { id: '', name: say('Its own plate'), ...recipe.subjects[0].size },
    ...pictures.filter((p) => p.id !== recipe.subjects[0].shot),
  ];
  const chosen = behind?.kind === 'picture' ? behind.picture : '';
  return (
    <>
      <CardList />
      <CardPart />
      <Part title="Behind the subject">
        <div className="flex flex-col items-start gap-1.5" role="group" aria-label={say('Behind the subject')}>
          {choices.map((c) => (
            <Button
              key={c.id}
              strong={chosen === c.id}
              aria-pressed={chosen === c.id}
              className="max-w-full"
              onClick={() =>
                behind &&
                commit((r) =>
                  editCard(r, behind.id, (was) => {
                    // What was said of the other picture’s places does not hold for this one.
                    const base = {
                      ...defaultCard,
                      id: was.id,
                      distance: was.distance,
                      placement: centred,
                      hidden: was.hidden,
                      locked: was.locked,
                    };
                    const { least, size, ...usual } = lampsFor(c);
                    const lamps = { ...('lamps' in was ? { ...was.lamps, dropped: [], set: [] } : usual), least, size };
                    return c.id === ''
                      ? { ...base, kind: 'plate', subject: r.subjects[0].id, lamps }
                      : { ...base, kind: 'picture', picture: c.id, matte: null, lamps };
                  }),
                )
              }
            >
              <span className="truncate">{c.name}</span>
            </Button>
          ))}
        </div>
        <p className="mt-2 text-faint">{say('More are brought in at Pictures.')}</p>
      </Part>
      <FramePart />
    </>
  );
}

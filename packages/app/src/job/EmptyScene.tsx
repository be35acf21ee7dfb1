import type { SubjectRecipe } from '@ritaglio/core';
import { Button } from '../ui/Button';
import { useRecipe } from './jobContext';
import { useSubject } from './matte/useSubject';
import { useJobPictures } from './steps/PicturesControls';
import { say } from '../words/say';

/** The subject told from an empty picture of its scene, and that picture filling its hole. */
function byEmptyScene(subject: SubjectRecipe, picture: string): Pick<SubjectRecipe, 'cut' | 'difference' | 'plate'> {
  return {
    cut: 'difference',
    difference: { ...subject.difference, plate: picture },
    plate: { ...subject.plate, fill: { kind: 'photographed', picture } },
  };
}

/**
 * Offers a picture of the empty scene for matte and plate alike: the one that is chosen for either, or the only one of the job that could be
 * it.
 */
export function EmptySceneOffer() {
  const { subject, change } = useSubject();
  const { pictures } = useJobPictures();
  const recipe = useRecipe();
  const { fill } = subject.plate;
  const filling = fill.kind === 'photographed' ? fill.picture : null;
  // A picture that stands on the bench, or is a matte, is not the empty scene.
  const used = new Set<string>([
    subject.shot,
    ...recipe.mattes.map((m) => m.picture),
    ...recipe.cards.flatMap((c) => (c.kind === 'picture' ? [c.picture] : [])),
  ]);
  const free = pictures.filter((p) => !used.has(p.id));
  const id = subject.difference.plate ?? filling ?? (free.length === 1 ? free[0].id : undefined);
  const picture = pictures.find((p) => p.id === id);
  if (!picture || (subject.cut === 'difference' && subject.difference.plate === picture.id && filling === picture.id)) return null;
  return (
    <Button className="mt-1.5" onClick={() => change(byEmptyScene(subject, picture.id))}>
      {say('Take “{name}” for matte and plate', { name: picture.name })}
    </Button>
  );
}

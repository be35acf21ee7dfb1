import { clsx } from 'clsx';
import { Link } from 'react-router';
import { discOf } from './bench/cards';
import { editCard } from './edit';
import { useChange, useOpenJob, useProductsOfJob, useRecipe } from './jobContext';
import { counted, groundUnder, isFlat, type Recipe } from '@ritaglio/core';
import type { Figures } from '../worker/protocol';
import type { QuickJob } from '../data/quickJobs';
import { about, type Step } from './steps';
import { useView } from './viewStore';
import { Button } from '../ui/Button';
import { say } from '../words/say';

/** What is sensible next: a sentence, and the step it is done in. */
export interface Next {
  says: string;
  to?: Step;
  /** Something that one press does. */
  act?: { label: string; edit: (recipe: Recipe) => Recipe };
}

/** Above it a subject's lowest part hangs or flies rather than stands, as a share of the picture's height. */
const highestFoot = 0.55;
/** Blur of the plate from which its ground must be nearer than it, px. */
const blurred = 8;

/** Level ground under a subject that stands in its own photograph, where the plate is still flat and blurred as a whole. */
function groundUnderIt(recipe: Recipe, foot: number | undefined): Next['act'] {
  const subject = recipe.cards.find((c) => c.kind === 'subject' && !c.hidden);
  if (subject?.kind !== 'subject' || foot === undefined || foot < highestFoot) return undefined;
  const plate = recipe.cards.find((c) => c.kind === 'plate' && !c.hidden && c.subject === subject.subject);
  const size = recipe.subjects.find((s) => s.id === subject.subject)?.size;
  if (!plate || !size || !isFlat(plate.distances) || discOf(recipe, plate) < blurred) return undefined;
  const ground = groundUnder(foot * size.height, size.height, subject.distance);
  return {
    label: say('Ground under it'),
    edit: (r) => editCard(r, plate.id, (c) => ({ ...c, distances: { ...c.distances, ground } })),
  };
}

/** The next sensible thing to do in a step, by what has been measured. */
export function nextThing(step: Step, recipe: Recipe, figures: Figures, quick: QuickJob | undefined): Next | undefined {
  const cut = (figures.matte?.subject ?? 0) > 0.0002;
  const other = recipe.cards.some((c) => c.kind === 'picture' && !c.hidden);
  const beyondCut: Step = quick === 'blur' ? 'lens' : quick === undefined ? 'plate' : 'stage';
  switch (step) {
    case 'pictures':
      return { says: say('Next, say what the subject is.'), to: 'matte' };
    case 'matte':
      if (!figures.matte) return undefined;
      if (!cut && recipe.subjects[0].cut === 'screen') return { says: say('No screen was found: pick its colour, or cut by marks.') };
      if (!cut)
        return { says: say('Draw one stroke along the middle of the subject, or let it be found. Shift draws what is not subject.') };
      return { says: say('There is a cut. Where it is wrong, one more stroke mends it.'), to: beyondCut };
    case 'plate':
      return { says: say('What will be seen of it is listed at the right.'), to: quick === undefined ? 'stage' : 'lens' };
    case 'stage':
      if (quick !== undefined && quick !== 'blur' && !other)
        return { says: say('Choose what stands behind. Bring a picture in first, if there is none.'), to: 'pictures' };
      return { says: say('What is behind stands.'), to: quick === undefined ? 'lens' : 'match' };
    case 'lens': {
      const act = groundUnderIt(recipe, figures.matte?.foot);
      const says = act
        ? say('Does it stand on the ground? Right under it that is as sharp as it is.')
        : say('Pull the blur until it looks right.');
      return { says, to: quick === 'blur' ? 'proof' : 'match', ...(act && { act }) };
    }
    case 'match':
      return { says: say('One press matches what can be; the table shows what is left.'), to: 'proof' };
    case 'proof': {
      if (!figures.checks) return undefined;
      const { wrong, look } = counted(figures.checks, recipe.accepted);
      return {
        says: wrong + look > 0 ? say('Walk the places: mend each, or accept it.') : say('Nothing that could be measured is open.'),
        to: 'export',
      };
    }
    case 'export':
      return undefined;
  }
}

/** The strip that says it. */
export function NextThing({ step }: { step: Step }) {
  const { id } = useOpenJob();
  const recipe = useRecipe();
  const { figures } = useProductsOfJob();
  const quick = useView((s) => s.quick);
  const { commit } = useChange();
  const next = nextThing(step, recipe, figures, quick);
  if (!next) return null;
  return (
    <div className={clsx('flex items-center gap-2 border-b border-rule bg-tray px-4 py-1.5', next.act && 'flex-wrap justify-end')}>
      <p className={next.act ? 'basis-full' : 'grow'}>{next.says}</p>
      {next.act && <Button onClick={() => commit(next.act!.edit)}>{next.act.label}</Button>}
      {next.to && (
        <Link
          to={`/job/${id}/${next.to}`}
          className="inline-flex shrink-0 items-center border border-ink bg-ink px-2 py-0.5 font-semibold text-paper"
        >
          {about[next.to].name} ›
        </Link>
      )}
    </div>
  );
}

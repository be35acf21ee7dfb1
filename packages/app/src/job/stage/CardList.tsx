import { newRecipe, type SubjectRecipe } from '@ritaglio/core';
import { clsx } from 'clsx';
import { Eye, EyeOff, Lock, LockOpen, Trash2 } from 'lucide-react';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { Menu } from '../../ui/Menu';
import { nameOf, withCard, withoutCard, type NewCard, type Size } from '../bench/cards';
import { editCard } from '../edit';
import { useChange, useOpenJob, useRecipe } from '../jobContext';
import { useJobPictures } from '../steps/PicturesControls';
import { useViewOf } from '../viewStore';
import { figured, say } from '../../words/say';

function plainSubject(shot: string, { width, height }: Size): SubjectRecipe {
  return newRecipe('', shot, width, height).subjects[0];
}

/** All that stands on the bench, near to far, and what can be added. */
export function CardList() {
  const recipe = useRecipe();
  const { store } = useOpenJob();
  const { commit } = useChange();
  const { pictures } = useJobPictures();
  const { card: chosen, set } = useViewOf('card', 'set');
  const add = (what: NewCard): void => {
    const made = withCard(store.getState().recipe, what, plainSubject);
    commit(() => made.recipe);
    set({ card: made.id });
  };
  const near = [...recipe.cards].sort((a, b) => a.distance - b.distance);
  const turn = (id: string, part: 'locked' | 'hidden'): void => commit((r) => editCard(r, id, (c) => ({ ...c, [part]: !c[part] })));
  return (
    <Part title="On the bench" figure={say('{length} cards, near to far', { length: recipe.cards.length })}>
      <ul>
        {near.map((c) => (
          <li key={c.id} className={clsx('flex items-center gap-1.5 border-b border-rule py-0.5', c.hidden && 'text-faint')}>
            <button
              type="button"
              aria-pressed={chosen === c.id}
              className={clsx('min-w-0 flex-1 truncate px-1 text-left', chosen === c.id && 'bg-ink text-paper')}
              onClick={() => set({ card: c.id, benchTool: 'cards' })}
            >
              {nameOf(c)}
            </button>
            <span className="font-mono text-xs">{figured(c.distance, 2)} m</span>
            <button
              type="button"
              aria-label={say('Lock {nameOf}', { nameOf: nameOf(c) })}
              aria-pressed={c.locked}
              onClick={() => turn(c.id, 'locked')}
            >
              {c.locked ? <Lock size={14} /> : <LockOpen size={14} />}
            </button>
            <button
              type="button"
              aria-label={say('Hide {nameOf}', { nameOf: nameOf(c) })}
              aria-pressed={c.hidden}
              onClick={() => turn(c.id, 'hidden')}
            >
              {c.hidden ? <EyeOff size={14} /> : <Eye size={14} />}
            </button>
            <button
              type="button"
              aria-label={say('Take {nameOf} off the bench', { nameOf: nameOf(c) })}
              disabled={recipe.cards.length < 2}
              onClick={() => commit((r) => withoutCard(r, c.id))}
            >
              <Trash2 size={14} />
            </button>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button onClick={() => add({ kind: 'lettering' })}>{say('Lettering')}</Button>
        <Button onClick={() => add({ kind: 'glow' })}>{say('Glow')}</Button>
        <Menu
          label={say('Add a picture')}
          text={say('Picture …')}
          options={[
            ...pictures.flatMap((p) => [
              { value: `element ${p.id}`, label: say('{name}, as it is', { name: p.name }) },
              { value: `screen ${p.id}`, label: say('{name}, light on black', { name: p.name }) },
              { value: `multiply ${p.id}`, label: say('{name}, dark on white', { name: p.name }) },
              { value: `subject ${p.id}`, label: say('{name}, a subject to cut', { name: p.name }) },
            ]),
          ]}
          onChoose={(value) => {
            const [how, id] = [value.slice(0, value.indexOf(' ')), value.slice(value.indexOf(' ') + 1)];
            const p = pictures.find((q) => q.id === id);
            if (!p) return;
            const name = p.name.replace(/\.[^.]+$/, '');
            if (how === 'subject') add({ kind: 'subject', shot: id, size: p, name });
            else add({ kind: 'picture', picture: id, size: p, blend: how === 'element' ? 'normal' : (how as 'screen' | 'multiply'), name });
          }}
        />
      </div>
    </Part>
  );
}

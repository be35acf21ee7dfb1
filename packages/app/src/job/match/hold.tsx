import type { Recipe } from '@ritaglio/core';
import clsx from 'clsx';
import { renderer } from '../../worker/renderer';
import { refuse } from '../../ui/refuse';
import { useOpenJob } from '../jobContext';
import type { JobStore } from '../jobStore';
import { momentNow } from '../moments';
import { useView } from '../viewStore';
import { workingScale } from '../workingSide';
import { say } from '../../words/say';

/** Shows the finished picture of another recipe until it is let go. */
export async function holdWithout(store: JobStore, name: string, undone: (r: Recipe) => Recipe): Promise<void> {
  const { held, set } = useView.getState();
  if (held?.name === name) return;
  set({ held: { name } });
  const recipe = undone(momentNow(store.getState().recipe));
  const scale = workingScale(recipe);
  try {
    const bitmap = await renderer().finished(recipe, scale);
    if (useView.getState().held?.name === name) set({ held: { name, bitmap, scale } });
  } catch (error) {
    refuse(error);
  }
}

export function letGo(): void {
  useView.getState().set({ held: undefined });
}

/** Held, it shows the picture without a group; let go, with it. */
export function Without({ name, undone, disabled }: { name: string; undone: (r: Recipe) => Recipe; disabled?: boolean }) {
  const { store } = useOpenJob();
  const held = useView((s) => s.held?.name === name);
  const hold = (): void => void holdWithout(store, name, undone);
  return (
    <button
      type="button"
      aria-label={say('Hold: without {name}', { name })}
      title={say('Hold to see it without {name}', { name })}
      disabled={disabled}
      className={clsx(
        'border px-1.5 text-[11px] font-semibold',
        held ? 'border-ink bg-ink text-paper' : 'border-ink bg-paper',
        'disabled:opacity-40',
      )}
      onPointerDown={hold}
      onPointerUp={letGo}
      onPointerLeave={() => held && letGo()}
      onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && hold()}
      onKeyUp={letGo}
      onBlur={() => held && letGo()}
    >
      {say('before')}
    </button>
  );
}

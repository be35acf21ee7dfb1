import type { Recipe } from '@ritaglio/core';
import { temporal, type TemporalState } from 'zundo';
import { createStore, type StoreApi } from 'zustand';
import { store as kept } from '../data/store';

/** The state of an open job. */
export interface JobState {
  /** What is kept, with undo. */
  recipe: Recipe;
  /** The recipe while something is being dragged; not kept until it is let go. */
  draft?: Recipe;
  /** Shows a change without keeping it. */
  preview: (change: (recipe: Recipe) => Recipe) => void;
  /** Keeps a change. Nothing happens when it changes nothing. */
  commit: (change: (recipe: Recipe) => Recipe) => void;
}

type Kept = Pick<JobState, 'recipe'>;
export type JobStore = StoreApi<JobState> & { temporal: StoreApi<TemporalState<Kept>> };

/** The open job: its store, and a promise that all that was kept so far has reached the disk. */
export interface OpenJob {
  id: string;
  store: JobStore;
  settled: () => Promise<void>;
}

/** Reads a job with its whole history. @returns nothing when there is no such job */
export async function openJob(id: string): Promise<OpenJob | undefined> {
  const job = await kept.jobs.get(id);
  if (!job) return undefined;
  const states = await kept.states.where('job').equals(id).sortBy('number');
  const at = states.findIndex((s) => s.number === job.cursor);
  if (at < 0) return undefined;
  const store: JobStore = createStore<JobState>()(
    temporal(
      (set, get) => ({
        recipe: states[at].recipe,
        draft: undefined,
        preview: (change) => set({ draft: change(get().recipe) }),
        commit: (change) => {
          const recipe = change(get().recipe);
          set(JSON.stringify(recipe) === JSON.stringify(get().recipe) ? { draft: undefined } : { recipe, draft: undefined });
        },
      }),
      { partialize: ({ recipe }): Kept => ({ recipe }), equality: (a, b) => a.recipe === b.recipe },
    ),
  );
  store.temporal.setState({
    pastStates: states.slice(0, at).map(({ recipe }) => ({ recipe })),
    futureStates: states
      .slice(at + 1)
      .reverse()
      .map(({ recipe }) => ({ recipe })),
  });
  return { id, store, settled: keepHistory(id, store) };
}

/** Writes every state as it is made, and only what is new: undo and redo merely move the cursor. */
function keepHistory(id: string, store: JobStore): () => Promise<void> {
  const history = (): Recipe[] => {
    const { pastStates, futureStates } = store.temporal.getState();
    const all = [...pastStates, store.getState(), ...[...futureStates].reverse()];
    return all.map((s) => s.recipe as Recipe);
  };
  let written = history();
  let last: Promise<unknown> = Promise.resolve();
  store.subscribe((state, before) => {
    if (state.recipe === before.recipe) return;
    // The past is brought up to date right after this call, so it is looked at in the next turn.
    last = last
      .then(async () => {
        const now = history();
        const cursor = store.temporal.getState().pastStates.length;
        const changed = now.map((recipe, number) => ({ job: id, number, recipe })).filter((s) => written[s.number] !== s.recipe);
        await kept.transaction('rw', kept.jobs, kept.states, async () => {
          await kept.states.bulkPut(changed);
          await kept.states.where('[job+number]').between([id, now.length], [id, Infinity]).delete();
          await kept.jobs.update(id, { cursor, changed: Date.now(), name: now[cursor].name });
        });
        written = now;
      })
      .catch((error: unknown) => console.error('A change could not be kept.', error));
  });
  return () => last.then(() => undefined);
}

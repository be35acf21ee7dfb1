import { readRecipe, type Recipe } from '@ritaglio/core';
import { store, type KeptJob, type KeptState } from './store';
import { say } from '../words/say';

/** A job's recipes as they were made, and which is current. */
export interface History {
  states: { number: number; recipe: Recipe }[];
  /** Place of the current one. */
  at: number;
  /** What was found damaged and left out, as one sentence, or nothing. */
  note?: string;
}

/** A short digest of a recipe, by which a damaged one is known. */
export function sumOf(recipe: unknown): string {
  // Two multiplicative hashes over the text: not against forgers, only against flipped bits and torn writes.
  let [a, b] = [0x811c9dc5, 0x1b873593];
  const text = JSON.stringify(recipe);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ code, 0x85ebca6b) ^ (b >>> 13);
  }
  return (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0');
}

/** A state’s recipe, or nothing when it is damaged. */
function soundRecipe({ recipe, sum }: KeptState): Recipe | undefined {
  if (sum !== undefined && sumOf(recipe) !== sum) return undefined;
  try {
    return readRecipe(recipe);
  } catch {
    return undefined;
  }
}

/**
 * A job's history: the states that lead to the newest that was not undone, oldest first. States are only ever added, so what another
 * tab has written is never lost; a damaged or missing one is left out, and the rest stands.
 *
 * @returns nothing when there is no such job or not one sound state of it
 */
export async function readHistory(id: string): Promise<History | undefined> {
  const job = await store.jobs.get(id);
  if (!job) return undefined;
  const kept = await store.states.where('job').equals(id).sortBy('number');
  const sound = new Map<number, { number: number; recipe: Recipe; after: number | undefined }>();
  for (const state of kept) {
    const recipe = soundRecipe(state);
    if (recipe) sound.set(state.number, { number: state.number, recipe, after: state.after });
  }
  const before = (number: number): number | undefined => kept.reduce<number | undefined>((m, s) => (s.number < number && sound.has(s.number) ? s.number : m), undefined); // prettier-ignore
  const last = [...sound.keys()].at(-1);
  if (last === undefined) return undefined;
  const head = job.head ?? last;
  // Numbers have no gaps: what is not there was lost.
  const damaged = kept[kept.length - 1].number + 1 - sound.size;
  const states: History['states'] = [];
  for (let n: number | undefined = head; n !== undefined;) {
    const state = sound.get(n);
    if (state) {
      states.unshift({ number: state.number, recipe: state.recipe });
      n = state.after !== undefined && state.after < n ? state.after : before(n);
      continue;
    }
    // Where it came from went with it: whatever was made before it.
    n = before(n);
  }
  if (states.length === 0) states.push({ number: last, recipe: sound.get(last)!.recipe });
  const found = states.findIndex((s) => s.number === job.cursor);
  const at = found >= 0 ? found : Math.max(0, states.filter((s) => s.number < job.cursor).length - 1);
  if (damaged === 0 && found >= 0) return { states, at };
  return {
    states,
    at,
    note:
      damaged === 0
        ? say('The state this job was at is gone; this is the one before it.')
        : say(
            '{damaged, plural, one {One state of this job was damaged and is left out} other {# states of this job were damaged and are left out}}; all others are there.',
            { damaged },
          ),
  };
}

/**
 * Adds a state after another one, and makes it current.
 *
 * @param after number of the state it was made from; nothing for the first
 * @returns its number
 */
export function addState(id: string, recipe: Recipe, after: number | undefined): Promise<number> {
  const sum = sumOf(recipe);
  return store.transaction('rw', store.jobs, store.states, async () => {
    const last = await store.states.where('[job+number]').between([id, 0], [id, Infinity]).last();
    const number = last ? last.number + 1 : 0;
    // Never over another one.
    await store.states.add({ job: id, number, recipe, sum, ...(after !== undefined && { after }) });
    await mustUpdate(id, { cursor: number, head: number, changed: Date.now(), name: recipe.name });
    return number;
  });
}

/** Makes a state current that is there already: undo and redo. */
export async function moveTo(id: string, number: number, name: string): Promise<void> {
  await store.transaction('rw', store.jobs, () => mustUpdate(id, { cursor: number, changed: Date.now(), name }));
}

async function mustUpdate(id: string, change: Partial<KeptJob>): Promise<void> {
  if ((await store.jobs.update(id, change)) === 0 && !(await store.jobs.get(id))) {
    throw new GoneError(say('This job was removed in another tab.'));
  }
}

/** The job is not there any more. */
export class GoneError extends Error {
  override name = 'GoneError';
}

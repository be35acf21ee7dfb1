import { readRecipe, type Recipe } from '@ritaglio/core';
import { applyPatch, compare } from 'fast-json-patch';
import { store, type KeptJob, type KeptState } from './store';
import { say } from '../words/say';

/** A job's recipes as they were made, and which is current. */
export interface History {
  states: { number: number; recipe: Recipe }[];
  /** Place of the current one. */
  at: number;
  /** What further states may be told by. */
  base?: Base;
  /** What was found damaged and left out, as one sentence, or nothing. */
  note?: string;
}

/** A state that is kept whole; the next ones are told by what differs from it. */
export interface Base {
  number: number;
  /** As it is kept, whatever a newer program would make of it. */
  recipe: unknown;
  sum: string;
  /** States told by it so far. */
  patched: number;
}

/** So many states may be told by one that is whole: more, and a damaged one would take too much along. */
const mostPatched = 8;
/** A patch that is longer than this share of the recipe is none. */
const worthIt = 0.5;

/** A short digest of a recipe or a patch, by which a damaged one is known. */
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

/** The recipes of kept states by their numbers; those that are damaged, or told by one that is, are not among them. */
export function soundRecipes(kept: readonly KeptState[]): Map<number, Recipe> {
  const whole = new Map(kept.filter((s) => s.recipe && (s.sum === undefined || sumOf(s.recipe) === s.sum)).map((s) => [s.number, s]));
  const sound = new Map<number, Recipe>();
  for (const { number, patch, sum } of kept) {
    const base = whole.get(patch ? patch.base : number);
    if (!base || (patch && sumOf([base.sum, patch.changes]) !== sum)) continue;
    try {
      sound.set(number, readRecipe(patch ? applyPatch(base.recipe, patch.changes, false, false).newDocument : base.recipe));
    } catch {
      // It is told by whoever misses it.
    }
  }
  return sound;
}

/** How a state is kept: whole, or by what differs from one that is. */
function keptAs(recipe: Recipe, base: Base | undefined): Pick<KeptState, 'recipe' | 'patch'> & { sum: string } {
  if (base && base.patched < mostPatched) {
    const changes = compare(base.recipe as object, recipe);
    if (JSON.stringify(changes).length < worthIt * JSON.stringify(recipe).length) {
      return { patch: { base: base.number, changes }, sum: sumOf([base.sum, changes]) };
    }
  }
  return { recipe, sum: sumOf(recipe) };
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
  const all = new Map(kept.map((s) => [s.number, s]));
  const sound = soundRecipes(kept);
  const before = (number: number): number | undefined => kept.reduce<number | undefined>((m, s) => (s.number < number && sound.has(s.number) ? s.number : m), undefined); // prettier-ignore
  const last = [...sound.keys()].at(-1);
  if (last === undefined) return undefined;
  const head = job.head ?? last;
  // Numbers have no gaps: what is not there was lost.
  const damaged = kept[kept.length - 1].number + 1 - sound.size;
  const states: History['states'] = [];
  for (let n: number | undefined = head; n !== undefined;) {
    const recipe = sound.get(n);
    if (recipe) {
      states.unshift({ number: n, recipe });
      const after: number | undefined = all.get(n)!.after;
      n = after !== undefined && after < n ? after : before(n);
      continue;
    }
    // Where it came from went with it: whatever was made before it.
    n = before(n);
  }
  if (states.length === 0) states.push({ number: last, recipe: sound.get(last)! });
  const found = states.findIndex((s) => s.number === job.cursor);
  const at = found >= 0 ? found : Math.max(0, states.filter((s) => s.number < job.cursor).length - 1);
  const base = baseOf(states, all);
  if (damaged === 0 && found >= 0) return { states, at, ...base };
  return {
    states,
    at,
    ...base,
    note:
      damaged === 0
        ? say('The state this job was at is gone; this is the one before it.')
        : say(
            '{damaged, plural, one {One state of this job was damaged and is left out} other {# states of this job were damaged and are left out}}; all others are there.',
            { damaged },
          ),
  };
}

/** The last state of a history that is kept whole. */
function baseOf(states: History['states'], all: Map<number, KeptState>): Pick<History, 'base'> {
  const at = states.findLastIndex(({ number }) => all.get(number)?.recipe !== undefined && all.get(number)?.sum !== undefined);
  if (at < 0) return {};
  const { number, recipe, sum } = all.get(states[at].number)!;
  return { base: { number, recipe, sum: sum!, patched: states.length - 1 - at } };
}

/** What a further state follows. */
export interface Before {
  /** Number of the state it was made from; nothing for the first. */
  after?: number;
  /** The number it should get, if the newest one is known: then nothing is asked before it is written. One that is taken gives way. */
  next?: number;
  /** A whole state that it may be told by. */
  base?: Base;
}

/**
 * Adds a state after another one, and makes it current.
 *
 * @returns its number, and what the next one may be told by
 */
export async function addState(id: string, recipe: Recipe, { after, next, base }: Before): Promise<{ number: number; base: Base }> {
  const content = keptAs(recipe, base);
  // Never over another one.
  const add = (number: number): Promise<unknown> =>
    store.states.add({ job: id, number, ...content, ...(after !== undefined && { after }) });
  const number = await store.transaction('rw', store.jobs, store.states, async () => {
    // Both are asked for at once: each answer waits for its turn in a thread that may be busy.
    const written = next === undefined ? undefined : add(next).then(() => true, taken);
    const job = store.jobs.get(id);
    let number = next;
    if (number === undefined || !(await written)) {
      const last = await store.states.where('[job+number]').between([id, 0], [id, Infinity]).last();
      number = last ? last.number + 1 : 0;
      await add(number);
    }
    await mustPut(await job, { cursor: number, head: number, name: recipe.name });
    return number;
  });
  return {
    number,
    base: content.patch && base ? { ...base, patched: base.patched + 1 } : { number, recipe, sum: content.sum, patched: 0 },
  };
}

/** That there is a state of this number already. @throws any other reason */
function taken(error: Error): false {
  if (error.name === 'ConstraintError') return false;
  throw error;
}

/** Makes a state current that is there already: undo and redo. */
export async function moveTo(id: string, number: number, name: string): Promise<void> {
  await store.transaction('rw', store.jobs, async () => mustPut(await store.jobs.get(id), { cursor: number, name }));
}

async function mustPut(job: KeptJob | undefined, change: Partial<KeptJob>): Promise<void> {
  if (!job) throw new GoneError(say('This job was removed in another tab.'));
  await store.jobs.put({ ...job, ...change, changed: Date.now() });
}

/** The job is not there any more. */
export class GoneError extends Error {
  override name = 'GoneError';
}

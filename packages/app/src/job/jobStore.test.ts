import 'fake-indexeddb/auto';
import { newRecipe, type Recipe } from '@ritaglio/core';
import { store as kept } from '../data/store';
import { soundRecipes, sumOf } from '../data/history';
import { SharedTabs } from '../data/testTabs';
import { openJob, type OpenJob } from './jobStore';

const recipe = newRecipe('Trial', 'picture-1', 60, 40);
const named = (name: string) => (r: Recipe) => ({ ...r, name });

beforeEach(async () => {
  jest.restoreAllMocks();
  opened.splice(0).forEach((job) => job.close());
  await soon();
  shared = new SharedTabs();
  said.length = 0;
  await Promise.all([kept.jobs.clear(), kept.states.clear(), kept.pictures.clear()]);
  await kept.jobs.put({ id: 'job', name: 'Trial', changed: 1, cursor: 0, pictures: ['picture-1'] });
  await kept.states.put({ job: 'job', number: 0, recipe });
});

const said: string[] = [];
jest.mock('../ui/refuse', () => ({ ...jest.requireActual<object>('../ui/refuse'), refuse: (error: Error) => said.push(error.message) }));

let shared = new SharedTabs();
const opened: OpenJob[] = [];

async function open(): Promise<OpenJob> {
  const job = await openJob('job', shared.tabs);
  if (!job) throw new Error('the job did not open');
  opened.push(job);
  return job;
}

const soon = (ms = 30): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Waits for something to be so. */
async function until(test: () => boolean | Promise<boolean>): Promise<void> {
  for (let i = 0; i < 200; i++) {
    if (await test()) return;
    await soon(20);
  }
  throw new Error('it did not come about');
}

afterAll(() => opened.splice(0).forEach((job) => job.close()));

async function names(): Promise<string[]> {
  return [...soundRecipes(await kept.states.where('job').equals('job').sortBy('number')).values()].map((r) => r.name);
}

describe('an open job', () => {
  test('keeps every committed state, and which is current', async () => {
    const job = await open();
    job.store.getState().commit(named('one'));
    job.store.getState().commit(named('two'));
    await job.settled();
    expect(await names()).toEqual(['Trial', 'one', 'two']);
    expect(await kept.jobs.get('job')).toMatchObject({ cursor: 2, name: 'two' });
  });

  test('keeps nothing of a preview, and drops it at the next commit', async () => {
    const job = await open();
    job.store.getState().preview(named('dragged'));
    await job.settled();
    expect(job.store.getState().draft?.name).toBe('dragged');
    expect(await names()).toEqual(['Trial']);
    job.store.getState().commit(named('let go'));
    await job.settled();
    expect(job.store.getState().draft).toBeUndefined();
    expect(await names()).toEqual(['Trial', 'let go']);
  });

  test('a change that changes nothing is no state', async () => {
    const job = await open();
    job.store.getState().commit((r) => ({ ...r }));
    await job.settled();
    expect(await names()).toEqual(['Trial']);
    expect(job.store.temporal.getState().pastStates).toHaveLength(0);
  });

  test('undo and redo only move the cursor', async () => {
    const job = await open();
    job.store.getState().commit(named('one'));
    job.store.getState().commit(named('two'));
    job.store.temporal.getState().undo();
    await job.settled();
    expect(await names()).toEqual(['Trial', 'one', 'two']);
    expect((await kept.jobs.get('job'))?.cursor).toBe(1);
    job.store.temporal.getState().redo();
    await job.settled();
    expect((await kept.jobs.get('job'))?.cursor).toBe(2);
  });

  test('a commit after undo drops what could have been redone', async () => {
    const job = await open();
    for (const name of ['one', 'two', 'three']) job.store.getState().commit(named(name));
    job.store.temporal.getState().undo(2);
    job.store.getState().commit(named('another'));
    await job.settled();
    const { pastStates, futureStates } = job.store.temporal.getState();
    expect([pastStates.map((s) => s.recipe?.name), futureStates]).toEqual([['Trial', 'one'], []]);
    // The log only grows; what leads to the current state is opened again.
    expect(await names()).toEqual(['Trial', 'one', 'two', 'three', 'another']);
    job.close();
    await soon();
    const again = await open();
    expect(again.store.getState().recipe.name).toBe('another');
    expect(again.store.temporal.getState().pastStates.map((s) => s.recipe?.name)).toEqual(['Trial', 'one']);
  });

  test('opens again with its whole history', async () => {
    const first = await open();
    for (const name of ['one', 'two', 'three']) first.store.getState().commit(named(name));
    first.store.temporal.getState().undo();
    await first.settled();
    first.close();
    await soon();
    const again = await open();
    expect(again.store.getState().recipe.name).toBe('two');
    again.store.temporal.getState().redo();
    expect(again.store.getState().recipe.name).toBe('three');
    again.store.temporal.getState().undo(3);
    expect(again.store.getState().recipe).toEqual(recipe);
    await again.settled();
  });

  test('a number that is taken by now is not written over: the next one free is', async () => {
    const job = await open();
    job.store.getState().commit(named('one'));
    await job.settled();
    await kept.states.put({ job: 'job', number: 2, recipe: named('from elsewhere')(recipe), after: 0 });
    job.store.getState().commit(named('two'));
    job.store.getState().commit(named('three'));
    await job.settled();
    expect(await names()).toEqual(['Trial', 'one', 'from elsewhere', 'two', 'three']);
    expect(await kept.jobs.get('job')).toMatchObject({ cursor: 4, head: 4, name: 'three' });
    const again = await open();
    expect(again.store.temporal.getState().pastStates.map((s) => s.recipe?.name)).toEqual(['Trial', 'one', 'two']);
  });

  test('there is none where there is none', async () => {
    expect(await openJob('elsewhere', shared.tabs)).toBeUndefined();
    await kept.states.clear();
    expect(await openJob('job', shared.tabs)).toBeUndefined();
  });
});

describe('a damaged history', () => {
  const spoil = async (number: number): Promise<void> => {
    const state = (await kept.states.get(['job', number]))!;
    const change = { op: 'replace' as const, path: '/name', value: 'spoilt' };
    const spoilt = state.patch
      ? { patch: { ...state.patch, changes: [...state.patch.changes, change] } }
      : { recipe: { ...state.recipe!, name: 'spoilt' } };
    await kept.states.put({ ...state, ...spoilt });
  };
  /** A job that was worked on and closed. */
  const worked = async (...steps: string[]): Promise<void> => {
    const job = await open();
    for (const name of steps) job.store.getState().commit(named(name));
    await job.settled();
    job.close();
    await soon();
  };

  test('a state that was changed or is missing is left out with a sentence, and the rest opens', async () => {
    await worked('one', 'two', 'three', 'four');
    await spoil(2);
    await kept.states.delete(['job', 3]);
    const again = await open();
    expect(again.store.getState().recipe.name).toBe('four');
    expect(again.store.temporal.getState().pastStates.map((s) => s.recipe?.name)).toEqual(['Trial', 'one']);
    expect(again.keeping.getState().note).toBe('2 states of this job were damaged and are left out; all others are there.');
  });

  test('one that is kept whole takes those along that are told by it, and no others; what is made then is told by a sound one', async () => {
    const steps = Array.from({ length: 12 }, (_, i) => `step ${i + 1}`);
    await worked(...steps);
    const whole = (await kept.states.toArray()).filter((s) => s.recipe).map((s) => s.number);
    expect(whole).toEqual([0, 1, 10]);
    await spoil(10);
    const again = await open();
    expect(again.store.getState().recipe.name).toBe('step 9');
    expect(again.keeping.getState().note).toMatch('3 states');
    again.store.getState().commit(named('after all'));
    await again.settled();
    again.close();
    await soon();
    expect((await open()).store.getState().recipe.name).toBe('after all');
  });

  test('what differs little is kept as what differs, a fraction of the whole, and comes back the same', async () => {
    const marks = Array.from({ length: 40 }, (_, k) => ({ kind: 'inside' as const, radius: 5, points: [[k, 3], [k + 9, 20]] as [number, number][] })); // prettier-ignore
    const job = await open();
    const recipes: Recipe[] = [];
    for (let k = 1; k <= marks.length; k++) {
      job.store.getState().commit((r) => ({ ...r, subjects: [{ ...r.subjects[0], marks: marks.slice(0, k) }, ...r.subjects.slice(1)] }));
      recipes.push(job.store.getState().recipe);
    }
    await job.settled();
    const states = await kept.states.where('job').equals('job').sortBy('number');
    const size = (what: unknown): number => JSON.stringify(what).length;
    expect(states.reduce((sum, s) => sum + size(s), 0)).toBeLessThan(0.4 * recipes.reduce((sum, r) => sum + size(r), 0));
    expect([...soundRecipes(states).values()].slice(1)).toEqual(recipes);
  });

  test('when the current state is spoilt the one before it opens; a cursor that leads nowhere does no harm', async () => {
    await worked('one', 'two');
    await spoil(2);
    const again = await open();
    expect(again.store.getState().recipe.name).toBe('one');
    expect(again.keeping.getState().note).toMatch('One state of this job was damaged');
    again.close();
    await soon();
    await kept.jobs.update('job', { cursor: 77 });
    expect((await open()).store.getState().recipe.name).toBe('one');
  });

  test('a recipe that no program can read does not stop the others; sums tell recipes apart', async () => {
    await kept.states.put({ job: 'job', number: 1, recipe: { version: 99 } as never });
    const job = await open();
    expect(job.store.getState().recipe.name).toBe('Trial');
    expect(sumOf(recipe)).toBe(sumOf(JSON.parse(JSON.stringify(recipe))));
    expect(sumOf(recipe)).not.toBe(sumOf({ ...recipe, seed: recipe.seed + 1 }));
  });
});

describe('several tabs', () => {
  test('the second looks on, follows, cannot change, and takes over; the first then looks on', async () => {
    const [one, two] = [await open(), await open()];
    expect([one, two].map((j) => j.keeping.getState().writing)).toEqual([true, false]);
    two.store.getState().commit(named('from the second'));
    two.store.temporal.getState().undo();
    expect(said).toHaveLength(2);
    expect(said[0]).toMatch('open in another tab');
    one.store.getState().commit(named('from the first'));
    await one.settled();
    await until(() => two.store.getState().recipe.name === 'from the first');
    two.takeOver();
    await until(() => two.keeping.getState().writing && !one.keeping.getState().writing);
    two.store.getState().commit(named('now from the second'));
    await two.settled();
    await until(() => one.store.getState().recipe.name === 'now from the second');
    expect(await names()).toEqual(['Trial', 'from the first', 'now from the second']);
  });

  test('when the first is closed the second writes by itself, with what the first kept last', async () => {
    const [one, two] = [await open(), await open()];
    one.store.getState().commit(named('last words'));
    one.close();
    await until(() => two.keeping.getState().writing);
    expect(two.store.getState().recipe.name).toBe('last words');
  });

  test('three tabs that take over at random: every change that was taken is in the history exactly once', async () => {
    const tabs = [await open(), await open(), await open()];
    let seed = 5;
    const random = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647;
    const taken: string[] = [];
    for (let i = 0; i < 90; i++) {
      const tab = tabs[Math.floor(3 * random())];
      if (random() < 0.3) {
        tab.takeOver();
        if (random() < 0.5) await until(() => tab.keeping.getState().writing);
      }
      tab.store.getState().commit(named(`change ${i}`));
      if (tab.store.getState().recipe.name === `change ${i}`) taken.push(`change ${i}`);
      if (random() < 0.2) await soon(10 * random());
    }
    await Promise.all(tabs.map((t) => t.settled()));
    expect(taken.length).toBeGreaterThan(10);
    expect((await names()).slice(1).sort()).toEqual([...taken].sort());
    const chain = await open();
    expect(chain.keeping.getState().note).toBeUndefined();
    // None stands beside the others: what a tab took before it let go is what the next one went on from.
    const past = chain.store.temporal.getState().pastStates.map((s) => s.recipe?.name);
    expect([...past, chain.store.getState().recipe.name]).toEqual(['Trial', ...taken]);
  });
});

describe('writes that fail', () => {
  test('are told with their reason, tried again, and nothing is lost', async () => {
    const job = await open();
    const full = new DOMException('no room', 'QuotaExceededError');
    const add = jest.spyOn(kept.states, 'add').mockRejectedValue(full as never);
    for (const name of ['one', 'two', 'three']) job.store.getState().commit(named(name));
    await until(() => job.keeping.getState().reason !== undefined);
    expect(job.keeping.getState()).toMatchObject({ pending: 3, reason: 'the storage of this browser is full' });
    expect(await names()).toEqual(['Trial']);
    add.mockRestore();
    job.again();
    await job.settled();
    expect(job.keeping.getState()).toMatchObject({ pending: 0, reason: undefined });
    expect(await names()).toEqual(['Trial', 'one', 'two', 'three']);
    expect(await kept.jobs.get('job')).toMatchObject({ cursor: 3, name: 'three' });
  });

  test('every write in turn: whatever aborts, all changes are there in the end', async () => {
    const job = await open();
    const original = kept.states.add.bind(kept.states);
    let calls = 0;
    jest
      .spyOn(kept.states, 'add')
      .mockImplementation(((state: never) =>
        ++calls % 2 ? Promise.reject(new DOMException('aborted', 'AbortError')) : original(state)) as never);
    for (let i = 0; i < 5; i++) {
      job.store.getState().commit(named(`change ${i}`));
      job.again();
      await soon(5);
    }
    await until(() => (job.again(), job.keeping.getState().pending === 0));
    expect(await names()).toEqual(['Trial', ...[0, 1, 2, 3, 4].map((i) => `change ${i}`)]);
  });

  test('a job that was removed elsewhere says so and is not tried for ever', async () => {
    const job = await open();
    await kept.jobs.delete('job');
    job.store.getState().commit(named('too late'));
    await until(() => job.keeping.getState().reason !== undefined);
    expect(job.keeping.getState().reason).toBe('This job was removed in another tab.');
    expect(job.keeping.getState().pending).toBe(1);
  });
});

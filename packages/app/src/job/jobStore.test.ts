import 'fake-indexeddb/auto';
import { newRecipe, type Recipe } from '@ritaglio/core';
import { store as kept } from '../data/store';
import { openJob, type OpenJob } from './jobStore';

const recipe = newRecipe('Trial', 'picture-1', 60, 40);
const named = (name: string) => (r: Recipe) => ({ ...r, name });

beforeEach(async () => {
  await Promise.all([kept.jobs.clear(), kept.states.clear(), kept.pictures.clear()]);
  await kept.jobs.put({ id: 'job', name: 'Trial', changed: 1, cursor: 0, pictures: ['picture-1'] });
  await kept.states.put({ job: 'job', number: 0, recipe });
});

async function open(): Promise<OpenJob> {
  const job = await openJob('job');
  if (!job) throw new Error('the job did not open');
  return job;
}

async function names(): Promise<string[]> {
  return (await kept.states.where('job').equals('job').sortBy('number')).map((s) => s.recipe.name);
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
    expect(await names()).toEqual(['Trial', 'one', 'another']);
  });

  test('opens again with its whole history', async () => {
    const first = await open();
    for (const name of ['one', 'two', 'three']) first.store.getState().commit(named(name));
    first.store.temporal.getState().undo();
    await first.settled();
    const again = await open();
    expect(again.store.getState().recipe.name).toBe('two');
    again.store.temporal.getState().redo();
    expect(again.store.getState().recipe.name).toBe('three');
    again.store.temporal.getState().undo(3);
    expect(again.store.getState().recipe).toEqual(recipe);
    await again.settled();
  });

  test('there is none where there is none, nor where its state is missing', async () => {
    expect(await openJob('elsewhere')).toBeUndefined();
    await kept.jobs.update('job', { cursor: 7 });
    expect(await openJob('job')).toBeUndefined();
  });
});

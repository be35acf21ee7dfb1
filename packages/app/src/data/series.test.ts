import 'fake-indexeddb/auto';
import { newRecipe, type Check } from '@ritaglio/core';
import { asJob, doubtfulFirst, doubtOf, letGoOf, type SeriesShot } from './series';
import { store } from './store';

const check = (verdict: Check['verdict']): Check => ({ id: 'cast-gap', verdict, places: [] });
const shot = (name: string, verdicts: Check['verdict'][], more: Partial<SeriesShot> = {}): SeriesShot => ({
  ...{ name, picture: `picture of ${name}`, recipe: newRecipe(name, `picture of ${name}`, 60, 40), taken: true },
  checks: verdicts.map(check),
  ...more,
});

test('the doubtful come first: what failed, then what is wrong, then what is worth a look; else as they came', () => {
  const shots = [shot('fine', ['good', 'unknown']), shot('look', ['look', 'look']), shot('also fine', ['good']), shot('wrong', ['wrong']), shot('none', [], { failed: 'no subject' })]; // prettier-ignore
  expect(doubtfulFirst(shots).map((s) => s.name)).toEqual(['none', 'wrong', 'look', 'fine', 'also fine']);
  expect(doubtOf(shots[1])).toEqual({ wrong: 0, look: 2 });
  expect(doubtOf({})).toEqual({ wrong: 0, look: 0 });
});

test('a shot becomes a job of its own with a name apart; pictures that no job holds are let go', async () => {
  for (const id of ['picture of a', 'sky', 'picture of b']) await store.pictures.put({ id, name: id, blob: new Blob(), width: 60, height: 40, notes: [] }); // prettier-ignore
  const first = await asJob(shot('a', []), ['sky']);
  const second = await asJob(shot('a', []), ['sky']);
  expect([(await store.jobs.get(first))!.name, (await store.jobs.get(second))!.name]).toEqual(['a', 'a 2']);
  await letGoOf(['picture of a', 'picture of b', 'sky']);
  expect((await store.pictures.toArray()).map((p) => p.id).sort()).toEqual(['picture of a', 'sky']);
});

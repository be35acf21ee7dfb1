import 'fake-indexeddb/auto';
import { newRecipe } from '@ritaglio/core';
import { Dexie } from 'dexie';

/** A recipe as version 4 wrote it. */
function ofVersion4(): Record<string, unknown> {
  const recipe = JSON.parse(JSON.stringify(newRecipe('Kept', 'shot', 30, 20))) as Record<string, unknown> & {
    cards: Record<string, unknown>[];
  };
  delete recipe.finish;
  const cards = recipe.cards.map((card) => {
    for (const key of ['grade', 'detail', 'limit']) delete card[key];
    return { ...card, look: { warmth: 20, exposure: 0, saturation: 1 } };
  });
  return { ...recipe, cards, version: 4, match: { cast: 0.5, tone: 0 } };
}

test('jobs and takes that an older program kept are brought up to this one', async () => {
  const old = new Dexie('ritaglio');
  old.version(1).stores({ jobs: 'id, changed, demo', states: '[job+number], job', pictures: 'id' });
  old.version(2).stores({ takes: 'id, job' });
  old.version(3).upgrade(() => undefined);
  await old.table('states').put({ job: 'j', number: 0, recipe: ofVersion4() });
  await old.table('takes').put({ id: 't', job: 'j', name: 'first', made: 1, recipe: ofVersion4() });
  old.close();
  const { store } = await import('./store');
  const state = await store.states.get(['j', 0]);
  const take = await store.takes.get('t');
  for (const recipe of [state?.recipe, take?.recipe]) {
    expect(recipe?.version).toBe(5);
    expect(recipe?.match.strengths.cast).toBe(0.5);
    expect(recipe?.cards.map((c) => c.grade.temperature)).toEqual([20, 20]);
  }
});

import 'fake-indexeddb/auto';
import { newRecipe, type Mark } from '@ritaglio/core';
import { store as kept } from '../../data/store';
import { openJob, type OpenJob } from '../jobStore';
import { useView } from '../viewStore';
import { dropProposal, leaveOut, nextProposal, propose, proposeGaps, takeProposal } from './proposals';

const list: Mark[][] = [[{ kind: 'inside', radius: 1, points: [[1, 1]] }], [{ kind: 'inside', radius: 1, points: [[2, 2]] }]];

let opened: OpenJob | undefined;
async function open(): Promise<OpenJob> {
  opened = (await openJob('j'))!;
  return opened;
}

beforeEach(async () => {
  await opened?.settled();
  opened?.close();
  await kept.states.clear();
  const recipe = newRecipe('A', 'shot', 30, 20);
  await kept.jobs.put({ id: 'j', name: 'A', changed: 1, cursor: 0, pictures: [] });
  await kept.states.put({ job: 'j', number: 0, recipe: { ...recipe, subjects: [{ ...recipe.subjects[0], cut: 'screen' }] } });
});

test('a proposal is shown without being kept, the next one wraps around, dropping leaves nothing', async () => {
  const { store } = await open();
  propose(store, list, 0);
  expect(store.getState().draft?.subjects[0]).toMatchObject({ cut: 'marks', marks: list[0] });
  expect(store.getState().recipe.subjects[0].marks).toEqual([]);
  propose(store, list, 3);
  expect(useView.getState().proposals?.at).toBe(1);
  expect(store.getState().draft?.subjects[0].marks).toEqual(list[1]);
  dropProposal(store);
  expect([store.getState().draft, useView.getState().proposals]).toEqual([undefined, undefined]);
  expect(store.temporal.getState().pastStates).toHaveLength(0);
});

test('taking one keeps it as marks, once, and undo takes it off', async () => {
  const { store } = await open();
  propose(store, list, 1);
  takeProposal(store);
  takeProposal(store);
  expect(store.getState().recipe.subjects[0]).toMatchObject({ cut: 'marks', marks: list[1] });
  expect(store.temporal.getState().pastStates).toHaveLength(1);
  store.temporal.getState().undo();
  expect(store.getState().recipe.subjects[0]).toMatchObject({ cut: 'screen', marks: [] });
});

test('gaps are shown together, left out one by one, and what is left is kept at once', async () => {
  const { store } = await open();
  const gap = (x: number): Mark => ({ kind: 'outside', radius: 1, points: [[x, x]] });
  proposeGaps(store, [gap(1), gap(2), gap(3)]);
  expect(store.getState().draft?.subjects[0].marks).toHaveLength(3);
  nextProposal(store);
  leaveOut(store);
  expect(store.getState().draft?.subjects[0].marks).toEqual([gap(1), gap(3)]);
  takeProposal(store);
  expect(store.getState().recipe.subjects[0].marks).toEqual([gap(1), gap(3)]);
  proposeGaps(store, [gap(4)]);
  leaveOut(store);
  expect([store.getState().draft, useView.getState().proposals]).toEqual([undefined, undefined]);
});

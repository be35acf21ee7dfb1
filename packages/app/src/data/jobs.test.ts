import 'fake-indexeddb/auto';
import { newRecipe, picturesOf } from '@ritaglio/core';
import { writeJob } from '@ritaglio/formats';
import { archiveOf, openFile, removeJob } from './jobs';
import { store } from './store';

const inspected: string[] = [];
jest.mock('../worker/renderer', () => ({
  renderer: () => ({
    inspect: async (name: string, blob: Blob) => {
      inspected.push(name);
      return blob.size < 4 ? { refusal: `“${name}” is not a picture.` } : { width: 30, height: 20, notes: [] };
    },
  }),
}));

const file = (name: string, text: string): File => new File([text], name);

beforeEach(async () => {
  inspected.length = 0;
  await Promise.all([store.jobs.clear(), store.states.clear(), store.pictures.clear()]);
});

describe('jobs of this browser', () => {
  test('a dropped picture begins a job under its name', async () => {
    const id = await openFile(file('evening at the pier.jpg', 'some picture'));
    const job = await store.jobs.get(id);
    expect(job).toMatchObject({ name: 'evening at the pier', cursor: 0 });
    const [state] = await store.states.where('job').equals(id).toArray();
    expect(state.recipe!.frame).toEqual({ width: 30, height: 20, x: 0, y: 0, turn: 0 });
    expect(state.recipe!.subjects[0].size).toEqual({ width: 30, height: 20 });
    expect(picturesOf(state.recipe!)).toEqual(job?.pictures);
  });

  test('the same content is kept once, whatever it is called', async () => {
    await openFile(file('a.jpg', 'the same bytes'));
    await openFile(file('b.jpg', 'the same bytes'));
    expect(await store.pictures.count()).toBe(1);
    expect(await store.jobs.count()).toBe(2);
    expect(inspected).toEqual(['a.jpg']);
  });

  test('what is refused leaves nothing behind', async () => {
    await expect(openFile(file('bad.jpg', 'no'))).rejects.toThrow('“bad.jpg” is not a picture.');
    expect([await store.jobs.count(), await store.pictures.count(), await store.states.count()]).toEqual([0, 0, 0]);
  });

  test('removing a job leaves the pictures another job holds', async () => {
    const first = await openFile(file('a.jpg', 'the same bytes'));
    const second = await openFile(file('b.jpg', 'the same bytes'));
    await removeJob(first);
    expect(await store.pictures.count()).toBe(1);
    expect(await store.states.where('job').equals(first).count()).toBe(0);
    await removeJob(second);
    expect(await store.pictures.count()).toBe(0);
  });

  test('a job archive brings the recipe and the pictures back under the hash of their content', async () => {
    const recipe = { ...newRecipe('Carried', 'old-name', 30, 20), seed: 9 };
    const bytes = writeJob({
      recipe,
      pictures: [{ id: 'old-name', name: 'shot.jpg', bytes: new TextEncoder().encode('a carried picture') }],
    });
    const id = await openFile(new File([bytes as Uint8Array<ArrayBuffer>], 'carried.zip'));
    const [state] = await store.states.where('job').equals(id).toArray();
    const [picture] = await store.pictures.toArray();
    expect(picture.name).toBe('shot.jpg');
    expect(state.recipe!.seed).toBe(9);
    expect(picturesOf(state.recipe!)).toEqual([picture.id]);
    expect(picture.id).not.toBe('old-name');
  });

  test('saving and opening a job gives the same recipe', async () => {
    const first = await openFile(file('shot.jpg', 'a picture of one’s own'));
    const [before] = await store.states.where('job').equals(first).toArray();
    // The stand-in store does not give blobs back as they were.
    const held = await store.pictures.toArray();
    jest
      .spyOn(store.pictures, 'bulkGet')
      .mockResolvedValueOnce(held.map((p) => ({ ...p, blob: new Blob(['a picture of one’s own']) })) as never);
    const again = await openFile(new File([await archiveOf(before.recipe!)], 'saved.zip'));
    const [after] = await store.states.where('job').equals(again).toArray();
    expect(after.recipe!).toEqual(before.recipe!);
  });
});

import { newRecipe } from '@ritaglio/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readJob, writeJob } from './job';

const recipe = newRecipe('Kept', 'shot', 30, 20);
const pictures = [{ id: 'shot', name: 'shot.jpg', bytes: strToU8('a picture') }];
const takes = [1.4, 2.8].map((fNumber) => ({ name: `f/${fNumber}`, recipe: { ...recipe, lens: { ...recipe.lens, fNumber } } }));

describe('takes in a job archive', () => {
  test('come back in their order, under their names', () => {
    const read = readJob('job.zip', writeJob({ recipe, pictures, takes }));
    expect(read.takes).toEqual(takes);
    expect(read.recipe).toEqual(recipe);
  });

  test('a job without any has none, and the same job gives the same bytes', () => {
    expect(readJob('job.zip', writeJob({ recipe, pictures })).takes).toEqual([]);
    expect(writeJob({ recipe, pictures, takes })).toEqual(writeJob({ recipe, pictures, takes }));
  });

  test('a take of an older program is brought up to this one', () => {
    const files = unzipSync(writeJob({ recipe, pictures, takes }));
    const name = Object.keys(files).find((f) => f.startsWith('takes/'))!;
    const take = JSON.parse(strFromU8(files[name])) as { recipe: { frame: object; version: number } };
    const old = { ...take.recipe, version: 3, frame: { width: 30, height: 20 } };
    files[name] = strToU8(JSON.stringify({ name: 'older', recipe: old }));
    const [read] = readJob('job.zip', zipSync(files)).takes!;
    expect(read.name).toBe('older');
    expect(read.recipe.version).toBe(recipe.version);
  });

  test('one that is no JSON is refused with the archive’s name', () => {
    const files = unzipSync(writeJob({ recipe, pictures, takes }));
    const broken = zipSync({ ...files, 'takes/003.json': strToU8('{') });
    expect(() => readJob('mine.zip', broken)).toThrow(/“mine\.zip”: its takes\/003\.json is not valid JSON/);
  });
});

/** @jest-environment node */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { newRecipe } from '@ritaglio/core';
import { writeJob } from '@ritaglio/formats';
import { encode } from 'fast-png';
import { jobFrom } from './jobs';

const folder = mkdtempSync(join(tmpdir(), 'ritaglio-jobs-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const grey = (value: number): Uint8Array => encode({ width: 4, height: 3, data: new Uint8Array(36).fill(value), channels: 3 });
const recipe = newRecipe('Toy', 'toy', 4, 3);

/** A recipe file with its picture in a folder below. */
function beside(name: string, value: number): { path: string; picture: string } {
  const path = join(folder, `${name}.json`);
  const picture = join(folder, 'pictures', `${name}.png`);
  mkdirSync(join(folder, 'pictures'), { recursive: true });
  writeFileSync(picture, grey(value));
  writeFileSync(path, JSON.stringify({ recipe, pictures: [{ id: 'toy', file: `pictures/${name}.png` }] }));
  return { path, picture };
}

test('a picture is known by what its file holds, beside a recipe and in an archive', async () => {
  const [one, other] = [await jobFrom(beside('one', 100).path), await jobFrom(beside('other', 101).path)];
  const archive = join(folder, 'one.zip');
  writeFileSync(archive, writeJob({ recipe, pictures: [{ id: 'toy', name: 'one.png', bytes: grey(100) }] }));
  const packed = await jobFrom(archive);
  expect(packed.source.key('toy')).toBe(one.source.key('toy'));
  expect(other.source.key('toy')).not.toBe(one.source.key('toy'));
  for (const { source, nameOf } of [one, packed]) {
    expect(nameOf('toy')).toMatch(/one\.png$/);
    const { r, width, height } = await source.load('toy', 1);
    expect([width, height]).toEqual([4, 3]);
    expect(r[0]).toBeCloseTo(((100 / 255 + 0.055) / 1.055) ** 2.4, 5);
  }
});

test('a file that is missing is named at once; one that is changed meanwhile is refused when it is read', async () => {
  const gone = beside('gone', 90);
  rmSync(gone.picture);
  await expect(jobFrom(gone.path)).rejects.toThrow(/gone\.png/);
  const changed = beside('changed', 90);
  const { source } = await jobFrom(changed.path);
  writeFileSync(changed.picture, grey(91));
  await expect(source.load('toy', 1)).rejects.toThrow(/changed\.png” was changed while it was worked with/);
});

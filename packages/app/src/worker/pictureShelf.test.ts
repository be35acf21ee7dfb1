import type { Samples } from '@ritaglio/core';
import type { Codec } from '@ritaglio/formats';
import { PictureShelf, type OpenVideo } from './pictureShelf';

/** A codec that makes up pictures of 10 × 10 px and counts how often it is asked. */
function counting(): { codec: Codec; asked: () => number } {
  let asked = 0;
  const samples: Samples = { width: 10, height: 10, channels: 3, data: new Uint8Array(300).fill(128) };
  const codec: Codec = {
    decode: () => Promise.resolve((asked++, samples)),
    encodeJpeg: () => Promise.reject(new Error('not asked')),
  };
  return { codec, asked: () => asked };
}

/** The head of a GIF of 10 × 10 px: enough to be taken for one. */
const gif = new Blob([
  new Uint8Array([0x47, 0x49, 0x46, 0x38, 0x39, 0x61, 10, 0, 10, 0, 0, 0, 0, 0x2c, 0, 0, 0, 0, 10, 0, 10, 0, 0, 2, 2, 0x44, 1, 0, 0x3b]),
]);

/** A video whose frames are as bright as their numbers. */
const video = (): Promise<OpenVideo> =>
  Promise.resolve({
    frame: (i) => Promise.resolve({ width: 4, height: 2, channels: 3, data: new Uint8Array(24).fill(i) }),
  });

function shelf(limit: number): { shelf: PictureShelf; asked: () => number } {
  const { codec, asked } = counting();
  const made = new PictureShelf(codec, limit, { font: () => undefined, video });
  for (const id of ['a', 'b', 'c']) made.add(id, `${id}.gif`, gif);
  return { shelf: made, asked };
}

test('a picture is decoded once, also when it is asked for twice at the same time', async () => {
  const { shelf: s, asked } = shelf(1e6);
  await Promise.all([s.size('a'), s.size('a')]);
  await s.load('a', 0.5);
  expect(asked()).toBe(1);
});

test('what was used longest ago is let go when there is too much', async () => {
  const { shelf: s, asked } = shelf(700);
  await s.size('a');
  await s.size('b');
  await s.size('a');
  await s.size('c');
  expect(asked()).toBe(3);
  await s.size('a');
  expect(asked()).toBe(3);
  await s.size('b');
  expect(asked()).toBe(4);
});

test('a picture that is gone is told, and may come back', async () => {
  const { shelf: s } = shelf(1e6);
  await expect(s.size('d')).rejects.toThrow('not in this browser’s store any more');
  s.add('d', 'd.gif', gif);
  await expect(s.size('d')).resolves.toMatchObject({ width: 10 });
});

test('frames of a video are named within its file', async () => {
  const { shelf: s } = shelf(1e6);
  s.add('v', 'v.webm', new Blob([]));
  expect((await s.size('v#7')).data[0]).toBe(7);
  expect(await s.load('v#9', 0.5)).toMatchObject({ width: 2, height: 1 });
  await expect(s.size('w#1')).rejects.toThrow('not in this browser’s store');
});

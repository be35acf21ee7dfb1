/** @jest-environment node */
import { defaultContext, makePicture, newRecipe, ProductMemory, type Context, type PictureSource } from '@ritaglio/core';
import { roughSubject, viewOf, type Making } from './views';

const [width, height] = [80, 60];

/** A red disc before grey, with a hole in the picture itself at its corner. */
function scene(): PictureSource {
  const picture = makePicture(width, height, 1);
  for (let p = 0; p < width * height; p++) {
    const disc = Math.hypot((p % width) - 40, Math.floor(p / width) - 30) < 16;
    [picture.r[p], picture.g[p], picture.b[p]] = disc ? [0.6, 0.05, 0.05] : [0.2, 0.2, 0.2];
  }
  picture.a![0] = 0;
  return { key: (id) => id, load: () => Promise.resolve(picture), size: () => Promise.resolve({ width, height }) };
}

const plain = newRecipe('Disc', 'disc', width, height);
const [subject] = plain.subjects;
const recipe = {
  ...plain,
  subjects: [
    {
      ...subject,
      marks: [
        { kind: 'inside' as const, radius: 5, points: [[36, 30], [44, 30]] as [number, number][] }, // prettier-ignore
        { kind: 'outside' as const, radius: 3, points: [[5, 5], [75, 5], [75, 55], [5, 55]] as [number, number][] }, // prettier-ignore
      ],
    },
  ],
};
const context: Context = defaultContext();
const making: Making = { pictures: scene(), memory: new ProductMemory(1e8) };
const wanted = { recipe, subject: subject.id };
const opacityOf = (rgba: Uint8ClampedArray, x: number, y: number): number => rgba[4 * (y * width + x) + 3];

test.each(['rough', 'sharp'])('the cut subject is clear where it was cut out: %s', async (how) => {
  const view = how === 'rough' ? await roughSubject(wanted, making, context) : await viewOf(wanted, 'subject', making, context);
  const rgba = view.rgba();
  expect([view.width, view.height]).toEqual([width, height]);
  expect([opacityOf(rgba, 40, 30), opacityOf(rgba, 10, 40), opacityOf(rgba, 70, 10)]).toEqual([255, 0, 0]);
});

test('the shot is shown whole, whatever opacity it came with', async () => {
  const rgba = (await viewOf(wanted, 'shot', making, context)).rgba();
  expect([opacityOf(rgba, 0, 0), opacityOf(rgba, 40, 30)]).toEqual([255, 255]);
});

test('a view of the same product is told to be the same, and of another to be another', async () => {
  const [a, b] = [await viewOf(wanted, 'matte', making, context), await viewOf(wanted, 'matte', making, context)];
  expect(a.of).toBe(b.of);
  expect((await viewOf(wanted, 'subject', making, context)).of).not.toBe(a.of);
});

import {
  fromSamples,
  defaultContext,
  readRecipe,
  render,
  resizePicture,
  scaledSize,
  toRgba8,
  type PictureSource,
  type Samples,
} from '@ritaglio/core';
import { readOpenRaster, writeOpenRaster, type RasterLayer } from '@ritaglio/formats';
import { onCanvas, recipeOfLayers } from './layers';

const [width, height] = [24, 16];
const rgba = (w: number, h: number, pixel: (x: number, y: number) => [number, number, number, number]): Samples => ({
  ...{ width: w, height: h, channels: 4 },
  data: Uint8Array.from({ length: 4 * w * h }, (_, i) => pixel((i >> 2) % w, Math.floor((i >> 2) / w))[i & 3]),
});
const layer = (name: string, samples: Samples, more: Partial<RasterLayer> = {}): RasterLayer => ({ name, samples, x: 0, y: 0, opacity: 1, blend: 'normal', hidden: false, ...more }); // prettier-ignore

test('a layered picture comes in as cards that give the same finished picture within a code', async () => {
  const ground = layer('Ground', rgba(width, height, (x, y) => [40 + 5 * x, 90 + 4 * y, 120, 255])); // prettier-ignore
  const ball = layer('Ball', rgba(8, 8, (x, y) => [200, 60, 40, Math.hypot(x - 4, y - 4) < 3 ? 255 : 90]), { x: 10, y: 5 }); // prettier-ignore
  const glow = layer(
    'Glow',
    rgba(width, height, (x) => [x * 4, 20, 10, 200]),
    { blend: 'screen', opacity: 0.7 },
  );
  const gone = layer(
    'Gone',
    rgba(width, height, () => [255, 255, 255, 255]),
    { hidden: true },
  );
  const layers = [ground, ball, glow, gone];
  const recipe = recipeOfLayers('Layers', 'merged', { width, height }, layers.map((l, i) => ({ ...l, picture: `p${i}` }))); // prettier-ignore
  expect(readRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
  const pictures = new Map(layers.map((l, i) => [`p${i}`, onCanvas(l, width, height)]));
  pictures.set('merged', onCanvas(ground, width, height));
  const source: PictureSource = {
    key: (id) => id,
    load: (id, scale) => {
      const p = fromSamples(pictures.get(id)!);
      const size = scaledSize(p.width, p.height, scale);
      return Promise.resolve(resizePicture(p, size.width, size.height));
    },
  };
  const made = toRgba8(await render(recipe, source, 'composite', defaultContext()));
  // Written with that as the merged picture, read, and made once more.
  const merged: Samples = { width, height, channels: 3, data: Uint8Array.from(made.filter((_, i) => i % 4 < 3)) };
  const back = readOpenRaster('a.ora', writeOpenRaster({ width, height, layers }, merged, merged));
  back.layers.forEach((l, i) => pictures.set(`p${i}`, onCanvas(l, width, height)));
  const again = toRgba8(await render(recipe, source, 'composite', defaultContext()));
  again.forEach((v, i) => i % 4 < 3 && expect(Math.abs(v - back.merged!.data[3 * (i >> 2) + (i % 4)])).toBeLessThanOrEqual(1));
  // The ball lies where its layer puts it, over the ground.
  expect(made[4 * (9 * width + 14)]).toBeGreaterThan(made[4 * (9 * width + 4)]);
});

test('what of a layer lies beyond its canvas is cut off', () => {
  const canvas = onCanvas(
    layer(
      'Big',
      rgba(6, 6, (x, y) => [x, y, 0, 255]),
      { x: -2, y: 1 },
    ),
    4,
    3,
  );
  expect([...canvas.data.slice(0, 16)]).toEqual(new Array(16).fill(0));
  expect([...canvas.data.slice(16, 24)]).toEqual([2, 0, 0, 255, 3, 0, 0, 255]);
});

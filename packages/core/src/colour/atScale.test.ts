import fc from 'fast-check';
import { planesOf } from '../raster/plane';
import { seeded } from '../raster/random';
import { resizePicture, scaledSize } from '../raster/resize';
import { pictureAtScale } from './atScale';
import { straightened } from './premultiplied';
import { fromSamples, type Samples } from './srgb';

const samples = fc
  .record({
    width: fc.integer({ min: 1, max: 40 }),
    height: fc.integer({ min: 1, max: 400 }),
    channels: fc.integer({ min: 1, max: 4 }),
    deep: fc.boolean(),
    space: fc.constantFrom('srgb' as const, 'display-p3' as const),
    seed: fc.nat(1000),
  })
  .map(({ width, height, channels, deep, space, seed }): Samples => {
    const random = seeded(seed);
    const length = width * height * channels;
    const data = deep ? new Uint16Array(length) : new Uint8Array(length);
    for (let i = 0; i < length; i++) data[i] = Math.floor((deep ? 65536 : 256) * random());
    return { width, height, channels, data, space };
  });

test('read a few rows at a time a picture is what it is read as a whole and reduced, to the bit', () => {
  const multiplied = fc.constantFrom(undefined, '#000000', '#8040c0');
  fc.assert(
    fc.property(samples, fc.double({ min: 0.02, max: 1, noNaN: true }), multiplied, (s, scale, over) => {
      const size = scaledSize(s.width, s.height, scale);
      const whole = resizePicture(fromSamples(over ? straightened(s, over) : s), size.width, size.height);
      const got = pictureAtScale(s, scale, over);
      expect([got.width, got.height]).toEqual([size.width, size.height]);
      expect(planesOf(got)).toEqual(planesOf(whole));
    }),
    { numRuns: 60 },
  );
});

test('no more than a part of a large picture is there as numbers at a time', () => {
  const [width, height] = [300, 4000];
  const data = new Uint8Array(3 * width * height).fill(128);
  const largest = { rows: 0 };
  const { subarray } = data;
  data.subarray = (from = 0, to = data.length): Uint8Array<ArrayBuffer> => {
    largest.rows = Math.max(largest.rows, (to - from) / (3 * width));
    return subarray.call(data, from, to) as Uint8Array<ArrayBuffer>;
  };
  const small = pictureAtScale({ width, height, channels: 3, data }, 0.125);
  expect([small.width, small.height]).toEqual([38, 500]);
  expect(largest.rows).toBeGreaterThan(0);
  expect(largest.rows).toBeLessThan(height / 5);
});

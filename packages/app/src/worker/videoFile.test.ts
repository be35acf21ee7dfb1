import { rateOf } from './videoFile';

jest.mock('mediabunny', () => ({}));

const times = (count: number, frames: number, seconds: number, rounded: boolean): number[] =>
  Array.from({ length: count }, (_, i) => {
    const t = (i * seconds) / frames;
    return rounded ? Math.round(t * 1000) / 1000 : t;
  });

test.each([
  [12, 1],
  [24, 1],
  [25, 1],
  [60, 1],
  [24000, 1001],
  [30000, 1001],
  [60000, 1001],
])('a rate of %i in %i seconds is found, also from times that are kept to a thousandth', (frames, seconds) => {
  expect(rateOf(times(600, frames, seconds, false))).toEqual({ frames, seconds });
  expect(rateOf(times(1200, frames, seconds, true))).toEqual({ frames, seconds });
});

test('an uncommon rate is told as it is, and one frame has a rate as well', () => {
  const { frames, seconds } = rateOf(times(400, 17, 2, false));
  expect(frames / seconds).toBeCloseTo(8.5, 3);
  expect(rateOf([0])).toEqual({ frames: 25, seconds: 1 });
});

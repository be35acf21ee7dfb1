import { seeded } from '../raster/random';
import type { Picture } from '../raster/plane';
import { pictureFrom, planeFrom } from '../testing/scenes';
import { blurToAdd, measureBlur } from './blurMeasure';

/** Facades with windows: edges a good way apart, at several contrasts. */
const town = (grain = 0): Picture => {
  const random = seeded(4);
  const noise = (): number => (random() + random() - 1) * grain;
  return pictureFrom(420, 320, (x, y) => {
    const [u, v] = [Math.floor(x / 105), Math.floor(y / 80)];
    const wall = 0.12 + 0.09 * ((u * 2 + v * 3) % 5);
    const light = x % 105 > 50 && y % 80 > 38 ? wall + 0.3 : wall;
    return [light + noise(), light + noise(), light + noise()];
  });
};

/** The same seen through a disc, written out: sums of shifted copies, one a row of the disc. */
function through(p: Picture, diameter: number): Picture {
  const [w, h] = [p.width, p.height];
  const radius = diameter / 2;
  const rows: [number, number][] = [];
  for (let dy = -Math.floor(radius); dy <= radius; dy++) rows.push([dy, Math.floor(Math.sqrt(radius * radius - dy * dy))]);
  const sums = new Float64Array((w + 1) * h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) sums[y * (w + 1) + x + 1] = sums[y * (w + 1) + x] + p.r[y * w + x];
  const area = rows.reduce((t, [, half]) => t + 2 * half + 1, 0);
  const out = planeFrom(w, h, (x, y) => {
    let sum = 0;
    for (const [dy, half] of rows) {
      const row = Math.min(h - 1, Math.max(0, y + dy)) * (w + 1);
      const [from, to] = [Math.max(0, x - half), Math.min(w, x + half + 1)];
      sum += ((sums[row + to] - sums[row + from]) * (2 * half + 1)) / (to - from);
    }
    return sum / area;
  }).data;
  return { width: w, height: h, r: out, g: out, b: out };
}

describe('measuring blur', () => {
  test.each([6, 10, 16, 24])('a disc of %d px is found within 15 %%', (diameter) => {
    const found = measureBlur(through(town(), diameter))!;
    expect(Math.abs(found.diameter / diameter - 1)).toBeLessThan(0.15);
    expect(found.sigma).toBeCloseTo(found.diameter / 4, 6);
  });

  test('grain on top of a blurred town does not make it sharp', () => {
    const blurred = through(town(), 16);
    const random = seeded(9);
    const noisy = blurred.r.map((v) => v + (random() + random() - 1) * 0.02);
    const found = measureBlur({ ...blurred, r: noisy, g: noisy, b: noisy })!;
    expect(Math.abs(found.diameter / 16 - 1)).toBeLessThan(0.2);
  });

  test.each([20, 30])(
    'a single horizon behind a disc of %d px is found in a region drawn around it, and grain alone is not',
    (diameter) => {
      const random = seeded(3);
      const noise = (): number => (random() + random() + random() - 1.5) * 0.01;
      const horizon = through(pictureFrom(420, 320, (_, y) => (y < 160 ? [0.6, 0.6, 0.6] : [0.1, 0.1, 0.1])), diameter); // prettier-ignore
      const grainy = horizon.r.map((v) => v + noise());
      const region = planeFrom(420, 320, (x, y) => (Math.abs(x - 210) < 90 && Math.abs(y - 160) < 60 ? 1 : 0));
      const found = measureBlur({ ...horizon, r: grainy, g: grainy, b: grainy }, region)!;
      expect(Math.abs(found.diameter / diameter - 1)).toBeLessThan(0.2);
      const wall = planeFrom(420, 320, () => 0.3 + noise()).data;
      expect(measureBlur({ width: 420, height: 320, r: wall, g: wall, b: wall }, region)).toBeUndefined();
    },
  );

  test('a sharp town is sharp, a bare wall says nothing', () => {
    // A pixel of its own width, and what grain adds, are not nothing.
    expect(measureBlur(town(0.004))!.diameter).toBeLessThan(3.2);
    expect(measureBlur(pictureFrom(80, 60, () => [0.3, 0.3, 0.3]))).toBeUndefined();
  });

  test('only where there is weight', () => {
    const [sharp, soft] = [town(), through(town(), 16)];
    const both = pictureFrom(420, 320, (x, y) => {
      const v = (x < 210 ? sharp : soft).r[y * 420 + x];
      return [v, v, v];
    });
    const right = planeFrom(420, 320, (x) => (x > 230 ? 1 : 0));
    expect(Math.abs(measureBlur(both, right)!.diameter / 16 - 1)).toBeLessThan(0.2);
  });

  test('spreads add as squares', () => {
    expect(blurToAdd(3, 5)).toBeCloseTo(4, 6);
    expect(blurToAdd(6, 5)).toBe(0);
  });
});

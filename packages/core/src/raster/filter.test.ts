import fc from 'fast-check';
import { planeFrom, sum } from '../testing/scenes';
import { gaussian } from './filter';
import { seeded } from './random';

/** The same blur by its definition: every pixel within three deviations along both axes, borders repeated. */
function plainly(p: { width: number; height: number; data: Float32Array }, sigma: number): number[] {
  const radius = Math.max(1, Math.ceil(3 * sigma));
  const taps = Array.from({ length: 2 * radius + 1 }, (_, k) => Math.exp((-0.5 * (k - radius) ** 2) / (sigma * sigma)));
  const total = sum(taps);
  const clip = (v: number, size: number): number => Math.min(size - 1, Math.max(0, v));
  return Array.from(p.data, (_, i) => {
    const [x, y] = [i % p.width, Math.floor(i / p.width)];
    let found = 0;
    for (let dy = -radius; dy <= radius; dy++) {
      const row = clip(y + dy, p.height) * p.width;
      for (let dx = -radius; dx <= radius; dx++) {
        found += taps[dy + radius] * taps[dx + radius] * p.data[row + clip(x + dx, p.width)];
      }
    }
    return found / (total * total);
  });
}

describe('a Gaussian blur', () => {
  test('is the weighted mean of what is around each pixel, whatever the size, borders repeated', () => {
    const sizes = fc.record({
      width: fc.integer({ min: 1, max: 37 }),
      height: fc.integer({ min: 1, max: 20 }),
      sigma: fc.double({ min: 0.2, max: 4, noNaN: true }),
      seed: fc.integer(),
    });
    fc.assert(
      fc.property(sizes, ({ width, height, sigma, seed }) => {
        const random = seeded(seed);
        const plane = planeFrom(width, height, () => random() - 0.3);
        const wanted = plainly(plane, sigma);
        gaussian(plane, sigma).data.forEach((v, p) => expect(Math.abs(v - wanted[p])).toBeLessThan(1e-5));
      }),
      { numRuns: 60 },
    );
  });

  test('of a tall plane has no seams where its bands meet', () => {
    for (const sigma of [0.7, 15]) {
      const ramp = planeFrom(9, 500, (x, y) => x + 0.5 * y);
      const out = gaussian(ramp, sigma);
      const reach = Math.ceil(3 * sigma);
      for (let y = reach; y < 500 - reach; y++) {
        const own = out.data[y * 9 + 4];
        expect(Math.abs(own - 0.5 * y - out.data[reach * 9 + 4] + 0.5 * reach)).toBeLessThan(2e-3);
      }
      const random = seeded(2);
      const noise = planeFrom(9, 500, random);
      const rows = { width: 9, height: 120, data: noise.data.slice(9 * 100, 9 * 220) };
      const [whole, part] = [gaussian(noise, sigma).data, gaussian(rows, sigma).data];
      for (let y = reach; y < 120 - reach; y++) expect(Math.abs(part[9 * y + 5] - whole[9 * (y + 100) + 5])).toBeLessThan(1e-6);
    }
  });

  test('by nothing is the plane itself', () => {
    const plane = planeFrom(4, 3, (x) => x);
    expect(gaussian(plane, 0)).toBe(plane);
  });
});

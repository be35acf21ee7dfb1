import fc from 'fast-check';
import { bytesFrom, inArenaNow } from '../../runtime/arena';
import { borderOf } from '../cut/roughCut';
import { surelyIn, surelyOut, undecided } from './trimap';
import { regionRuns } from '../../raster/components';
import { bothOf, differing, maskOfCode, placesOf } from '../../raster/mask';
import { grownMask } from '../../raster/morphology';
import { nearWay } from '../../raster/nearWay';
import { widened } from '../../raster/widened';

/** Masks with long stretches of the same, so that sixteen pixels at a time are looked at in all ways. */
const masks = fc
  .record({
    width: fc.integer({ min: 1, max: 70 }),
    height: fc.integer({ min: 1, max: 7 }),
    runs: fc.array(fc.tuple(fc.nat(40), fc.nat(3)), { minLength: 1, maxLength: 20 }),
  })
  .map(({ width, height, runs }) => {
    const codes = new Uint8Array(width * height);
    for (let p = 0, i = 0; p < codes.length; p += runs[i++ % runs.length][0] + 1) {
      codes.fill(runs[i % runs.length][1], p, p + runs[i % runs.length][0] + 1);
    }
    return { width, height, codes };
  });

/** The same of another picture of the same size. */
const twoMasks = fc.tuple(masks, fc.array(fc.nat(3), { minLength: 1, maxLength: 50 })).map(([one, others]) => ({
  ...one,
  other: one.codes.map((c, p) => (p % 37 < 20 ? c : others[p % others.length])),
}));

/** What a test says of each pixel, as bytes. */
function eachOf(length: number, is: (p: number) => boolean): number[] {
  return Array.from({ length }, (_, p) => (is(p) ? 1 : 0));
}

describe('sixteen pixels at a time come out as one by one', () => {
  test('places, codes, and numbers of places', () => {
    fc.assert(
      fc.property(masks, ({ codes }) => {
        expect([...placesOf(codes)]).toEqual([...codes.keys()].filter((p) => codes[p] > 0));
        expect([...maskOfCode(codes, 3)]).toEqual(eachOf(codes.length, (p) => codes[p] === 3));
        const node = new Int32Array(codes.length);
        const count = inArenaNow((arena) => {
          const at = arena.alloc(node.byteLength);
          const found = arena.run.numberPixels(arena.copyIn(codes), codes.length, at);
          arena.copyOut(at, node);
          return found;
        });
        let next = 0;
        expect([...node]).toEqual([...codes].map((c) => (c > 0 ? next++ : -1)));
        expect(count).toBe(next);
      }),
    );
  });

  test('what two masks share and where two pictures differ', () => {
    fc.assert(
      fc.property(twoMasks, fc.array(fc.nat(400), { maxLength: 4 }), ({ codes, other }, set) => {
        expect([...bothOf(codes, other)]).toEqual([...codes].map((c, p) => (other[p] ? c : 0)));
        const [numbers, zeros] = [new Float32Array(codes.length), new Float32Array(codes.length)];
        for (const p of set) if (p < numbers.length) numbers[p] = NaN;
        const found = differing({ codes, numbers }, { codes: other, numbers: zeros });
        expect([...found]).toEqual(eachOf(codes.length, (p) => codes[p] !== other[p] || Number.isNaN(numbers[p])));
      }),
    );
  });

  test('growing by a disc and by a square, and borders', () => {
    fc.assert(
      fc.property(masks, fc.integer({ min: 1, max: 9 }), ({ width, height, codes }, reach) => {
        const set = placesOf(codes);
        const away = (p: number, q: number): [number, number] => [
          Math.abs((p % width) - (q % width)),
          Math.abs(Math.floor(p / width) - Math.floor(q / width)),
        ];
        const near = (p: number, within: (dx: number, dy: number) => boolean): boolean => set.some((q) => within(...away(p, q)));
        const disc = eachOf(codes.length, (p) => near(p, (dx, dy) => dx * dx + dy * dy <= (reach + 0.5) ** 2));
        expect([...grownMask(codes, width, height, reach + 0.5)]).toEqual(disc);
        expect([...widened(codes, width, height, reach)]).toEqual(
          eachOf(codes.length, (p) => near(p, (dx, dy) => Math.max(dx, dy) <= reach)),
        );
        const label = maskOfCode(codes, 1);
        const isBorder = (p: number): boolean => label.some((l, q) => l !== label[p] && away(p, q)[0] + away(p, q)[1] === 1);
        expect([...borderOf(label, width, height)]).toEqual(eachOf(codes.length, isBorder));
      }),
      { numRuns: 40 },
    );
  });

  test('what is known of a pixel: its mark, else undecided where there is doubt, else the cut', () => {
    fc.assert(
      fc.property(twoMasks, ({ codes: seeds, other }) => {
        const n = seeds.length;
        const [along, doubtful, label] = [1, 2, 3].map((code) => maskOfCode(other, code));
        const trimap = bytesFrom(n, (arena, out) =>
          arena.run.bandTrimap(n, arena.copyIn(seeds), arena.copyIn(along), arena.copyIn(doubtful), arena.copyIn(label), out),
        );
        const plain = [...seeds].map((code, p) => {
          if (code === 1 || code === 2) return code === 1 ? surelyIn : surelyOut;
          if (code === 3 || along[p] || doubtful[p]) return undecided;
          return label[p] ? surelyIn : surelyOut;
        });
        expect([...trimap]).toEqual(plain);
      }),
    );
  });

  test('regions of numbers between two limits are those of the mask of these', () => {
    fc.assert(
      fc.property(masks, ({ width, height, codes }) => {
        const values = Float32Array.from(codes, (c) => c / 4);
        const limits = [
          { above: 0.25, below: Infinity, is: (c: number) => c > 1 },
          { above: -Infinity, below: 0.75, is: (c: number) => c < 3 },
          { above: 0, below: 0.5, is: (c: number) => c === 1 },
        ];
        for (const { above, below, is } of limits) {
          const mask = codes.map((c) => (is(c) ? 1 : 0));
          expect(regionRuns({ values, above, below }, width, height)).toEqual(regionRuns(mask, width, height));
        }
      }),
    );
  });
});

describe('the pixels near a straight way', () => {
  const place = fc.double({ min: -10, max: 50, noNaN: true });
  const whole = fc.integer({ min: -10, max: 50 });
  const point = fc.oneof(fc.tuple(place, place), fc.tuple(whole, whole));

  test('are all whose middles lie within reach, and a thin slanting way has few others', () => {
    fc.assert(
      fc.property(
        point,
        point,
        fc.oneof(fc.constant(0.5), fc.constant(2), fc.double({ min: 0.3, max: 12, noNaN: true })),
        (a, b, reach) => {
          const [width, height] = [40, 36];
          const { top, ends } = nearWay(...a, ...b, reach, width, height);
          const visited = new Uint8Array(width * height);
          for (let i = 0; i < ends.length / 2; i++) visited.fill(1, (top + i) * width + ends[2 * i], (top + i) * width + ends[2 * i + 1]);
          const length2 = (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2;
          for (let p = 0; p < visited.length; p++) {
            const [x, y] = [(p % width) + 0.5 - a[0], Math.floor(p / width) + 0.5 - a[1]];
            const t = length2 > 0 ? Math.min(1, Math.max(0, (x * (b[0] - a[0]) + y * (b[1] - a[1])) / length2)) : 0;
            const away = Math.hypot(x - t * (b[0] - a[0]), y - t * (b[1] - a[1]));
            if (away <= reach) expect(visited[p]).toBe(1);
            // The corners of the square around a point are the farthest that are looked at.
            else if (visited[p]) expect(away).toBeLessThan(2.5 * reach + 1e-3);
          }
        },
      ),
    );
  });

  test('outside the picture there are none', () => {
    for (const y of [-20, 80]) expect(nearWay(3, y, 30, y, 5, 40, 36).ends.filter((_, i) => i % 2)).toEqual(new Int32Array(0));
    const { ends } = nearWay(-50, 5, -60, 20, 5, 40, 36);
    for (let i = 0; i < ends.length; i += 2) expect(ends[i]).toBe(ends[i + 1]);
  });
});

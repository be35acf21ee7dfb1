import fc from 'fast-check';
import { inArenaNow } from '../../runtime/arena';
import { defaultContext } from '../../runtime/context';
import { encodedLight, perceived } from '../../colour/perceived';
import { oklabOf } from '../../colour/oklab';
import { encodeSrgb } from '../../colour/srgb';
import { seeded } from '../../raster/random';
import { pictureFrom } from '../../testing/scenes';
import { fitColourModel, unlikeliness, type Features } from './colourModel';
import { colourEvidence } from './evidence';
import { borderOf, enlarge } from './roughCut';

const context = defaultContext();

/** Two clouds of colours, one of them busy. */
function clouds(width: number, height: number, seed: number): Features {
  const random = seeded(seed);
  const plane = (of: (side: number) => number): Float32Array =>
    Float32Array.from({ length: width * height }, (_, p) => of(p % 2) + 0.2 * (random() - 0.5));
  return { width, height, l: plane((s) => 0.4 + 0.1 * s), a: plane((s) => 0.05 * s), b: plane(() => 0), busy: plane((s) => 0.1 + 0.1 * s) };
}

describe('compiled code does what its words say', () => {
  test('evidence is the difference of how unlikely a pixel is under two models, within its ends, where it is asked for', async () => {
    for (const busy of [true, false]) {
      const all = clouds(40, 30, 3);
      const lab: Features = busy ? all : { width: 40, height: 30, l: all.l, a: all.a, b: all.b };
      const half = (side: number): Int32Array => Int32Array.from({ length: 600 }, (_, i) => 2 * i + side);
      const models = { inside: fitColourModel(lab, half(1), 4), outside: fitColourModel(lab, half(0), 6) };
      const wanted = Uint8Array.from({ length: 1200 }, (_, p) => (p % 3 === 0 ? 0 : 1));
      const told = await colourEvidence(lab, models, context, wanted);
      const of = (model: (typeof models)['inside'], p: number): number =>
        unlikeliness(model, lab.l[p], lab.a[p], lab.b[p], lab.busy?.[p] ?? 0, Infinity);
      for (let p = 0; p < 1200; p++) {
        const plain = Math.max(-8, Math.min(8, of(models.outside, p) - of(models.inside, p)));
        expect(told[p]).toBeCloseTo(wanted[p] ? plain : 0, 5);
      }
    }
  });

  test('clusters are those of Lloyd’s rounds', () => {
    const random = seeded(8);
    const points = Float64Array.from({ length: 4 * 300 }, () => random());
    const centres = points.slice(0, 20);
    const member = new Uint8Array(300);
    const moved = centres.slice();
    inArenaNow((arena) => {
      const [at, to, sums, found] = [arena.copyIn(points), arena.copyIn(moved), arena.alloc(200), arena.alloc(300)];
      arena.run.cluster(300, at, 5, to, 3, sums, found);
      arena.copyOut(to, moved);
      arena.copyOut(found, member);
    });
    const own = Array.from({ length: 5 }, (_, c) => [...centres.slice(4 * c, 4 * c + 4)]);
    const nearest = (i: number): number => {
      const away = own.map((c) => c.reduce((s, v, k) => s + (v - points[4 * i + k]) ** 2, 0));
      return away.indexOf(Math.min(...away));
    };
    let members: number[] = [];
    for (let round = 0; round < 3; round++) {
      members = Array.from({ length: 300 }, (_, i) => nearest(i));
      own.forEach((c, k) => {
        const mine = members.flatMap((m, i) => (m === k ? [i] : []));
        if (mine.length > 0) c.forEach((_, d) => (c[d] = mine.reduce((s, i) => s + points[4 * i + d], 0) / mine.length));
      });
    }
    expect([...member]).toEqual(members);
    own.flat().forEach((v, i) => expect(moved[i]).toBeCloseTo(v, 10));
  });

  test('a picture is perceived and encoded as each of its colours is', async () => {
    const random = seeded(5);
    const shot = pictureFrom(60, 40, () => [random() ** 3, random(), 1.4 * random() ** 2]);
    const { lab, light } = await perceived(shot, context);
    for (let p = 0; p < shot.r.length; p++) {
      const [l, a, b] = oklabOf(shot.r[p], shot.g[p], shot.b[p]);
      expect(Math.max(Math.abs(lab.l[p] - l), Math.abs(lab.a[p] - a), Math.abs(lab.b[p] - b))).toBeLessThan(4e-4);
      expect(Math.abs(light.b[p] - encodeSrgb(shot.b[p]))).toBeLessThan(2e-3);
    }
    expect(await encodedLight(shot, context)).toEqual(light);
  });

  test('a border lies on both sides of every change', () => {
    const sizes = fc.tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 9 }), fc.array(fc.nat(80), { maxLength: 20 }));
    fc.assert(
      fc.property(sizes, ([width, height, set]) => {
        const label = new Uint8Array(width * height);
        for (const p of set) if (p < label.length) label[p] = 1;
        const side = (x: number, y: number): number | undefined =>
          x < 0 || y < 0 || x >= width || y >= height ? undefined : label[y * width + x];
        borderOf(label, width, height).forEach((border, p) => {
          const [x, y] = [p % width, Math.floor(p / width)];
          const beside = [side(x - 1, y), side(x + 1, y), side(x, y - 1), side(x, y + 1)];
          expect(border).toBe(beside.some((s) => s !== undefined && s !== label[p]) ? 1 : 0);
        });
      }),
    );
  });

  test('an enlarged separation keeps its share and its straight edges', () => {
    const label = Uint8Array.from({ length: 20 * 10 }, (_, p) => (p % 20 < 8 ? 1 : 0));
    const large = enlarge({ label, width: 20, height: 10 }, 50, 25);
    for (let y = 0; y < 25; y++) expect(large.subarray(50 * y, 50 * (y + 1)).reduce((s, v) => s + v, 0)).toBe(20);
    expect(enlarge({ label, width: 20, height: 10 }, 20, 10)).toEqual(label);
  });
});

import { distanceTo, gaussian, makePicture, planesOf, seeded, type Mark, type Picture, type Plane } from '@ritaglio/core';
import { anyLight, clearLayer, clouds, drawPolygon, drawStrand, spread, type Layer } from './layer';
import { codesOf, firstMarks, makeLesson, mendingMarks, type Lesson } from './lesson';
import { makeGround } from './ground';

const sum = (data: Float32Array): number => data.reduce((total, v) => total + v, 0);
const even = (width: number, height: number): Plane => ({ width, height, data: new Float32Array(width * height).fill(1) });

describe('drawing', () => {
  test.each([
    [6, 0],
    [3, 0.5],
    [0.6, 0.5],
    [0.6, 1.1],
  ])('a line %d px wide, turned by %d, covers its length times its width', (wide, turn) => {
    const layer = clearLayer(120, 120);
    const long = 60;
    const points = Array.from({ length: 11 }, (_, i) => {
      const t = (i / 10 - 0.5) * long;
      return [60 + t * Math.cos(turn), 60 + t * Math.sin(turn)] as const;
    });
    drawStrand(layer, { points, widths: [wide, wide], light: [1, 0.5, 0.2], bright: [1, 1] });
    // The ends are round.
    const whole = wide * long + (Math.PI * wide ** 2) / 4;
    expect(Math.abs(sum(layer.a) / whole - 1)).toBeLessThan(0.16);
    expect(sum(layer.g)).toBeCloseTo(0.5 * sum(layer.a), 1);
  });

  test('a line that becomes brighter and thinner does so evenly', () => {
    const layer = clearLayer(80, 20);
    const points = [
      [0, 10],
      [80, 10],
    ] as const;
    drawStrand(layer, { points, widths: [8, 2], light: [1, 1, 1], bright: [0.2, 1] });
    const across = (x: number): number => Array.from({ length: 20 }, (_, y) => layer.a[y * 80 + x]).reduce((a, b) => a + b, 0);
    expect(across(20)).toBeCloseTo(6.5, 0);
    expect(across(60)).toBeCloseTo(3.5, 0);
    expect(layer.r[10 * 80 + 40]).toBeCloseTo(0.6, 1);
  });

  test('what is half opaque lets half of what is below through', () => {
    const layer = clearLayer(10, 10);
    const square = [
      [2, 2],
      [8, 2],
      [8, 8],
      [2, 8],
    ] as const;
    drawPolygon(layer, square, [0.8, 0, 0], even(10, 10));
    drawPolygon(layer, square, [0, 0.4, 0], even(10, 10), 0.5);
    expect(layer.r[55]).toBeCloseTo(0.4, 5);
    expect(layer.g[55]).toBeCloseTo(0.2, 5);
    expect(layer.a[55]).toBe(1);
    expect(layer.a[0]).toBe(0);
  });

  test('a polygon partly or wholly beyond the picture is cut at its border', () => {
    const layer = clearLayer(10, 10);
    drawPolygon(
      layer,
      [
        [-5, -5],
        [5, -5],
        [5, 5],
        [-5, 5],
      ],
      [1, 1, 1],
      even(10, 10),
    );
    expect(sum(layer.a)).toBeCloseTo(25, 3);
    drawPolygon(
      layer,
      [
        [20, 20],
        [30, 20],
        [30, 30],
      ],
      [1, 1, 1],
      even(10, 10),
    );
    expect(sum(layer.a)).toBeCloseTo(25, 3);
  });

  test('clouds are around one and never dark to nothing; colours are lights', () => {
    const random = seeded(3);
    const { data } = clouds(90, 60, 30, 0.6, 0.4, random);
    expect(sum(data) / data.length).toBeCloseTo(1, 0);
    expect(Math.min(...data)).toBeGreaterThanOrEqual(0.05 - 1e-6);
    expect(Math.max(...data) - Math.min(...data)).toBeGreaterThan(0.3);
    for (let i = 0; i < 100; i++) {
      expect(anyLight(random).every((v) => v > 0 && v < 2)).toBe(true);
      const v = spread(random, 2, 50);
      expect(v >= 2 && v <= 50).toBe(true);
    }
  });
});

const photos = [1, 2, 3].map((seed) => {
  const random = seeded(seed);
  const p = makePicture(240, 160);
  for (const plane of [p.r, p.g, p.b]) for (let i = 0; i < plane.length; i++) plane[i] = 0.5 * random();
  return p;
});

describe('a lesson', () => {
  const lessons = [2, 5, 9].map((seed): Lesson => makeLesson(720, 480, photos, seeded(seed)));

  test('comes out the same from the same seed', () => {
    const again = makeLesson(720, 480, photos, seeded(2));
    expect(again.shot).toEqual(lessons[0].shot);
    expect(again.truth).toEqual(lessons[0].truth);
  });

  test('has a subject, a ground, and something between', () => {
    for (const { truth, shot } of lessons) {
      const share = (test: (v: number) => boolean): number => truth.data.filter(test).length / truth.data.length;
      expect(share((v) => v === 1)).toBeGreaterThan(0.02);
      expect(share((v) => v === 0)).toBeGreaterThan(0.1);
      expect(share((v) => v > 0 && v < 1)).toBeGreaterThan(0.005);
      for (const plane of planesOf(shot)) expect(plane.data.every((v) => v >= 0 && v <= 1)).toBe(true);
    }
  });

  test('shows nothing but the subject where that is opaque', () => {
    for (const { truth, shot, front } of lessons) {
      let worst = 0;
      truth.data.forEach((a, p) => {
        if (a === 1) worst = Math.max(worst, Math.abs(shot.g[p] - Math.min(1, front.g[p])));
      });
      // Noise, and a trace of the ground below four thousandths.
      expect(worst).toBeLessThan(0.12);
    }
  });

  test('is stored as 8-bit codes', () => {
    const codes = codesOf({
      width: 1,
      height: 2,
      r: Float32Array.of(0, 1),
      g: Float32Array.of(1, 0),
      b: Float32Array.of(0.2158605, 0),
    } as Picture);
    expect([...codes]).toEqual([0, 255, 128, 255, 0, 0]);
  });

  test('every ground is opaque and is light', () => {
    for (let seed = 0; seed < 6; seed++) {
      const ground = makeGround(150, 100, photos, seeded(seed));
      expect([ground.width, ground.height]).toEqual([150, 100]);
      if (ground.a) expect(Math.min(...(ground as Layer).a)).toBeGreaterThan(0.99);
      expect(sum(ground.g)).toBeGreaterThan(0);
    }
  });
});

describe('the made-up user', () => {
  const width = 900;
  const height = 600;
  const disc = (radius: number): Float32Array =>
    Float32Array.from({ length: width * height }, (_, p) =>
      Math.min(1, Math.max(0, (radius - Math.hypot((p % width) - 450, Math.floor(p / width) - 300)) / 12 + 0.5)),
    );
  const truth = { width, height, data: disc(160) };

  /** Share of a mark's points for which the truth is so. */
  const holds = (marks: Mark[], kind: Mark['kind'], test: (a: number) => boolean): boolean =>
    marks.filter((m) => m.kind === kind).every((m) => m.points.every(([x, y]) => test(truth.data[Math.floor(y) * width + Math.floor(x)])));

  test('first marks well inside and outside, and over what is soft', () => {
    let edges = 0;
    for (let seed = 0; seed < 5; seed++) {
      const marks = firstMarks(truth, seeded(seed));
      expect(marks.some((m) => m.kind === 'inside') && marks.some((m) => m.kind === 'outside')).toBe(true);
      expect(holds(marks, 'inside', (a) => a === 1)).toBe(true);
      expect(holds(marks, 'outside', (a) => a === 0)).toBe(true);
      edges += marks.filter((m) => m.kind === 'edge').length;
    }
    expect(edges).toBeGreaterThan(20);
  });

  test('then mends what is wrong, and nothing where all is right', () => {
    expect(mendingMarks(truth, truth, 20, seeded(1))).toEqual([]);
    const larger = mendingMarks({ width, height, data: disc(200) }, truth, 20, seeded(1));
    expect(larger.length).toBeGreaterThan(5);
    expect(larger.filter((m) => m.kind === 'inside')).toEqual([]);
    expect(holds(larger, 'outside', (a) => a === 0)).toBe(true);
    const smaller = mendingMarks({ width, height, data: disc(120) }, truth, 7, seeded(1));
    expect(smaller).toHaveLength(7);
    expect(holds(smaller, 'inside', (a) => a === 1)).toBe(true);
  });

  test('asks to solve what is soft and was taken as sure', () => {
    const soft = gaussian({ width, height, data: disc(160) }, 14);
    const wide = { ...soft, data: soft.data.map((v) => (v < 0.01 ? 0 : v > 0.99 ? 1 : v)) };
    const hard = { ...wide, data: wide.data.map((v) => (v > 0.5 ? 1 : 0)) };
    const marks = mendingMarks(hard, wide, 20, seeded(1));
    expect(marks.length).toBe(20);
    expect(marks.every((m) => m.kind === 'edge')).toBe(true);
    const border = distanceTo(
      Uint8Array.from(wide.data, (v) => (v > 0 && v < 1 ? 1 : 0)),
      width,
      height,
    ).data;
    expect(marks.every((m) => border[m.points[0][1] * width + m.points[0][0]] === 0)).toBe(true);
  });
});

import fc from 'fast-check';
import { makePicture, withOpacity, type Picture } from '../raster/plane';
import { gaussian } from '../raster/filter';
import { soften } from '../raster/soften';
import { largestDifference, pictureFrom, planeFrom, softDisc } from '../testing/scenes';
import { throughAir } from './air';
import { contactShadow, defaultContact, shaded } from './contact';
import { angleBetween, lightOnOutline, lightOverall } from './lightDirection';
import { shineColour, shone } from './shine';
import { gapsOf, isWide } from './sides';
import { measureTone } from './tone';
import { defaultSurround, surrounded } from './wrap';

/** A matt ball under one light and an even one. */
function ball(angle: number): Picture {
  const [lx, ly, lz] = [Math.cos((angle * Math.PI) / 180) * 0.8, Math.sin((angle * Math.PI) / 180) * 0.8, 0.6];
  return pictureFrom(160, 160, (x, y) => {
    const [u, v] = [(x + 0.5 - 80) / 60, (80 - y - 0.5) / 60];
    const w = Math.sqrt(Math.max(0, 1 - u * u - v * v));
    const lit = 0.1 + 0.7 * Math.max(0, u * lx + v * ly + w * lz);
    return [lit, 0.8 * lit, 0.6 * lit];
  });
}

describe('light direction', () => {
  test('of a matt ball is found from any side', () => {
    const round = softDisc(160, 160, 80, 80, 60, 2);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 359 }), (angle) => {
        const found = lightOnOutline(ball(angle), round)!;
        expect(angleBetween(found.angle, angle)).toBeLessThan(6);
        expect(found.certainty).toBeGreaterThan(0.7);
      }),
      { numRuns: 12 },
    );
  });

  test('of nothing is nothing; an even picture says nothing', () => {
    expect(
      lightOnOutline(
        ball(10),
        planeFrom(160, 160, () => 0),
      ),
    ).toBeUndefined();
    expect(lightOverall(pictureFrom(60, 40, () => [0.4, 0.4, 0.4]))).toBeUndefined();
  });

  test('of a whole picture is where it gets brighter', () => {
    const found = lightOverall(pictureFrom(90, 90, (x, y) => [0.1 + (x + 90 - y) / 300, 0.1 + (x + 90 - y) / 300, 0.2]))!;
    expect(angleBetween(found.angle, 45)).toBeLessThan(6);
  });

  test('angles are compared the short way round', () => {
    expect(angleBetween(350, 20)).toBe(30);
    expect(angleBetween(10, 190)).toBe(180);
  });
});

describe('air', () => {
  const p = pictureFrom(6, 2, (x) => [x / 5, 0.2, 0.1]);

  test('clear is the very picture; half at 100 m is half of the air’s light', () => {
    expect(throughAir(p, 50, 0, [1, 1, 1])).toBe(p);
    expect(throughAir(p, 100, 0.5, [1, 1, 1]).g[0]).toBeCloseTo(0.6, 6);
    expect(throughAir(p, 200, 0.5, [1, 1, 1]).g[0]).toBeCloseTo(0.8, 6);
  });

  test('contrast falls with distance, never rises', () => {
    const far = throughAir(
      p,
      planeFrom(6, 2, (x) => 40 * x),
      0.6,
      [0.5, 0.6, 0.7],
    );
    expect(far.b[0]).toBeCloseTo(0.1, 6);
    for (let x = 1; x < 6; x++) expect(far.b[x]).toBeGreaterThan(far.b[x - 1]);
  });
});

describe('surroundings', () => {
  const matte = softDisc(80, 80, 40, 40, 24, 3);
  const subject = withOpacity(
    pictureFrom(80, 80, () => [0.1, 0.1, 0.1]),
    matte,
  );
  const behind = pictureFrom(80, 80, () => [0.2, 0.4, 0.9]);

  test('none is the very subject', () => expect(surrounded(subject, behind, defaultSurround, [1, 1, 1], 1)).toBe(subject));

  test('wrap brightens the edge and leaves the middle', () => {
    const out = surrounded(subject, behind, { ...defaultSurround, wrap: { width: 4, strength: 1 } }, [1, 1, 1], 1);
    expect(out.b[40 * 80 + 18]).toBeGreaterThan(0.3);
    expect(out.b[40 * 80 + 40]).toBeCloseTo(0.1, 3);
    expect(out.a).toBe(matte.data);
    const dim = surrounded(
      subject,
      pictureFrom(80, 80, () => [0, 0, 0]),
      { ...defaultSurround, wrap: { width: 4, strength: 1 } },
      [1, 1, 1],
      1,
    );
    expect(largestDifference(dim.r, subject.r)).toBe(0);
  });

  test('ambient colours mid-tones at their own luminance, not black or white', () => {
    const tones = withOpacity(pictureFrom(3, 1, (x) => [[0, 0, 0], [0.2, 0.2, 0.2], [1, 1, 1]][x] as [number, number, number]), planeFrom(3, 1, () => 1)); // prettier-ignore
    const out = surrounded(tones, makePicture(3, 1), { ...defaultSurround, ambient: { colour: 'auto', strength: 1 } }, [0.9, 0.3, 0.1], 1);
    expect(out.r[1]).toBeGreaterThan(out.b[1] + 0.1);
    expect(0.2126 * out.r[1] + 0.7152 * out.g[1] + 0.0722 * out.b[1]).toBeCloseTo(0.2, 3);
    expect([out.r[0], out.b[0]]).toEqual([0, 0]);
    expect(out.b[2]).toBeCloseTo(1, 5);
  });

  test('a wide softening is a Gaussian’s', () => {
    const spot = planeFrom(120, 90, (x, y) => (x > 40 && x < 70 && y > 30 && y < 60 ? 1 : 0));
    expect(largestDifference(soften(spot, 11).data, gaussian(spot, 11).data)).toBeLessThan(0.02);
    expect(largestDifference(soften(spot, 1.5).data, gaussian(spot, 1.5).data)).toBe(0);
  });
});

describe('contact', () => {
  const post = planeFrom(120, 120, (x, y) => (x >= 50 && x < 60 && y >= 40 && y < 100 ? 1 : 0));
  const reach = (direction: number): { left: number; right: number; below: number } => {
    const s = contactShadow(post, { ...defaultContact, direction, length: 0.6, softness: 6 }, 1);
    const sum = (from: (x: number, y: number) => boolean): number =>
      s.data.reduce((t, v, i) => t + (from(i % 120, Math.floor(i / 120)) ? v : 0), 0);
    return { left: sum((x) => x < 48), right: sum((x) => x >= 62), below: sum((_, y) => y > 106) };
  };

  test('falls where it is told, and touches the feet', () => {
    const [right, left, front] = [reach(20), reach(160), reach(-60)];
    expect(right.right).toBeGreaterThan(4 * right.left + 1);
    expect(left.left).toBeGreaterThan(4 * left.right + 1);
    expect(front.below).toBeGreaterThan(10 * right.below + 1);
    const s = contactShadow(post, { ...defaultContact, softness: 8 }, 1);
    expect(s.data[99 * 120 + 55]).toBeGreaterThan(0.2);
    expect(Math.max(...s.data)).toBeLessThanOrEqual(1);
  });

  test('of nothing is nothing, and takes light in its strength', () => {
    const none = contactShadow(
      planeFrom(20, 20, () => 0),
      defaultContact,
      1,
    );
    expect(Math.max(...none.data)).toBe(0);
    const out = shaded(
      pictureFrom(2, 1, () => [0.5, 0.5, 0.5]),
      planeFrom(2, 1, (x) => x),
      0.5,
    );
    expect([...out.r]).toEqual([0.5, 0.25]);
  });
});

test('a shine has the place’s own colour, is strongest there and nothing at its radius', () => {
  const p = pictureFrom(60, 40, (x, y) => (Math.hypot(x - 20, y - 20) < 3 ? [1, 0.6, 0.2] : [0.05, 0.05, 0.05]));
  const colour = shineColour(p, [20.5, 20.5], 6);
  expect(colour[0]).toBeCloseTo(1, 6);
  expect(colour[2]).toBeCloseTo(0.2, 6);
  const out = shone(p, [20.5, 20.5], 15, colour, 0.5);
  expect(out.r[20 * 60 + 24] - p.r[20 * 60 + 24]).toBeGreaterThan(out.r[20 * 60 + 30] - p.r[20 * 60 + 30]);
  expect(out.r[20 * 60 + 45]).toBe(p.r[20 * 60 + 45]);
  expect(shone(p, [20, 20], 15, colour, 0)).toBe(p);
});

test('gaps have both sides, their tolerance, and none where a side is not known', () => {
  const tone = measureTone(pictureFrom(40, 40, (x) => [x / 40, x / 50, x / 60]));
  const side = {
    tone,
    light: { angle: 350, certainty: 1 },
    grain: { level: 1, byTone: new Array<number>(9).fill(1), tone: 50, size: 0, blocks: 9 },
  };
  const other = { tone: { ...tone, middle: tone.middle + 20 }, light: { angle: 30, certainty: 1 } };
  const gaps = Object.fromEntries(gapsOf(side, other).map((g) => [g.name, g]));
  expect(gaps.middle.gap).toBeCloseTo(20, 6);
  expect(isWide(gaps.middle)).toBe(true);
  expect(gaps.light.gap).toBe(40);
  expect(isWide(gaps.light)).toBe(false);
  expect(gaps.grain.gap).toBeUndefined();
  expect(isWide(gaps.blur)).toBe(false);
  const unknown = gapsOf({ tone: { ...tone, weight: 0 } }, other);
  expect(unknown.every((g) => g.gap === undefined)).toBe(true);
});

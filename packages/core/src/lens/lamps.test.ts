import { defaultContext } from '../runtime/context';
import type { Picture } from '../raster/plane';
import { pictureFrom, planeFrom, sum } from '../testing/scenes';
import { defocus } from './defocus';
import { findLamps, liftOf, defaultLamps, lampsFor, seenLamps, sizeClasses } from './lamps';
import { opticsOf, type Optics } from './thinLens';

const context = defaultContext();
const optics: Optics = opticsOf({ focalLength: 85, sensorWidth: 36, fNumber: 1.4, focus: 3 }, 488);

describe('lamps', () => {
  const night = (lights: [number, number, number][]): Picture =>
    pictureFrom(200, 150, (x, y) => {
      for (const [cx, cy, r] of lights) {
        const away = Math.hypot(x + 0.5 - cx, y + 0.5 - cy);
        if (away < r) return [1, 1, 1];
        if (away < r + 1.5) return [0.5, 0.25, 0.05];
      }
      return [0.02, 0.02, 0.03];
    });

  test('are found by brightness and size, with their place and size', () => {
    const picture = night([[40, 50, 4], [120, 80, 7], [180, 20, 1]]); // prettier-ignore
    const { lamps, sizes } = findLamps(picture, defaultLamps, context);
    expect(sizes).toHaveLength(3);
    expect(lamps).toHaveLength(2);
    expect([lamps[1].x, lamps[1].y]).toEqual([expect.closeTo(40, 0), expect.closeTo(50, 0)]);
    expect(Math.abs(lamps[0].radius - 7)).toBeLessThan(0.3);
    // Its own colour is that of its rim: warm.
    expect(lamps[0].colour[0]).toBeGreaterThan(1.2 * lamps[0].colour[2]);
  });

  test('a bright sky is no lamp, nor is a streak, nor a light in a bright room', () => {
    const sky = pictureFrom(200, 150, (_, y) => (y < 60 ? [1, 1, 1] : [0.05, 0.05, 0.05]));
    expect(findLamps(sky, defaultLamps, context).lamps).toHaveLength(0);
    const streak = pictureFrom(200, 150, (x, y) => (y > 70 && y < 75 && x > 50 && x < 90 ? [1, 1, 1] : [0, 0, 0]));
    expect(findLamps(streak, defaultLamps, context).lamps).toHaveLength(0);
    const room = pictureFrom(200, 150, (x, y) => (Math.hypot(x - 50, y - 50) < 5 ? [1, 1, 1] : [0.78, 0.78, 0.78]));
    expect(findLamps(room, defaultLamps, context).lamps).toHaveLength(0);
  });

  test('a lit window is no lamp, a lamp of its size is one', () => {
    const lit = pictureFrom(200, 150, (x, y) => {
      if (x >= 40 && x < 54 && y >= 40 && y < 52) return [1, 0.98, 0.9];
      return Math.hypot(x - 120, y - 60) < 7 ? [1, 1, 1] : [0.05, 0.04, 0.05];
    });
    const { lamps, sizes } = findLamps(lit, defaultLamps, context);
    expect(sizes).toHaveLength(2);
    expect(lamps.map((l) => Math.round(l.x / 10))).toEqual([12]);
  });

  test('a lamp whose rim says nothing takes the hue that the others have in common', () => {
    const bare: [number, number, number] = [100, 120, 5];
    const dots: [number, number, number][] = [[30, 30, 5], [80, 30, 5], [130, 30, 5], bare]; // prettier-ignore
    const lights = pictureFrom(200, 150, (x, y) => {
      for (const dot of dots) {
        const away = Math.hypot(x + 0.5 - dot[0], y + 0.5 - dot[1]);
        if (away < dot[2]) return [1, 1, 1];
        if (away < dot[2] + 1.5 && dot !== bare) return [0.7, 0.4, 0.1];
      }
      return [0.02, 0.02, 0.02];
    });
    const warmth = findLamps(lights, defaultLamps, context).lamps.map((l) => ({ y: l.y, ratio: l.colour[0] / l.colour[2] }));
    expect(warmth).toHaveLength(4);
    expect(warmth.find((l) => l.y > 100)!.ratio).toBeGreaterThan(1.5);
    const alone = findLamps(night([[60, 60, 5]]), { ...defaultLamps, colour: 0 }, context).lamps; // prettier-ignore
    expect(alone[0].colour[0] / alone[0].colour[2]).toBeCloseTo(1, 6);
  });

  test('found at half the size they lie at the same place of the full picture', () => {
    const half = night([[30, 40, 5]]);
    const [lamp] = findLamps(half, defaultLamps, { scale: 0.5 }).lamps;
    expect([lamp.x, lamp.y, lamp.radius]).toEqual([expect.closeTo(60, 0), expect.closeTo(80, 0), expect.closeTo(10, 0)]);
  });

  test('dropped ones shed nothing, lifted ones as much as stops say, discs hold it', async () => {
    const picture = night([[60, 60, 4], [140, 60, 4]]); // prettier-ignore
    const params = { ...defaultLamps, lift: 3, colour: 0, dropped: [[60, 60]] as [number, number][] };
    const all = findLamps(picture, params, context);
    const found = all.lamps;
    expect(found.filter((l) => l.dropped)).toHaveLength(1);
    const seen = seenLamps(all, params, (x, y) => ({ x, y, size: 1 }));
    expect(seen).toHaveLength(1);
    const black = pictureFrom(200, 150, () => [0, 0, 0]);
    const out = await defocus(black, 1e4, optics, context, seen);
    // 2³ − 1 times the light of a white disc of its area; eight times white, it clips a little beyond its own rim.
    expect(found[0].radius - seen[0].radius).toBeCloseTo(0.25 * Math.sqrt(2 * Math.log(4)), 6);
    expect(sum(out.g) / (7 * Math.PI * seen[0].radius ** 2)).toBeCloseTo(1, 1);
    expect(out.g[60 * 200 + 140]).toBeGreaterThan(0.1);
    expect(out.g[60 * 200 + 60]).toBe(0);
  });

  test('their lift is proposed at night and left alone by day, and lower when some of them are bright enough already', () => {
    const lights: [number, number, number][] = [[40, 50, 4], [120, 80, 5], [160, 40, 4]]; // prettier-ignore
    const dark = findLamps(night(lights), defaultLamps, context);
    expect(dark.proposed).toBeGreaterThan(5);
    expect(liftOf(defaultLamps, dark)).toBe(dark.proposed);
    expect(liftOf({ lift: 2 }, dark)).toBe(2);
    expect(findLamps(night([]), defaultLamps, context).proposed).toBe(0);
    expect(findLamps(night(lights.slice(0, 1)), defaultLamps, context).proposed).toBe(dark.proposed);
    // White buttons on a dark coat before a bright wall.
    const day = night(lights);
    for (const c of [day.r, day.g, day.b]) for (let p = 0; p < c.length; p++) if (p % 200 < 30 || p % 200 > 170) c[p] = 0.8;
    const shown = findLamps(day, defaultLamps, context);
    expect(shown.lamps.length).toBeGreaterThan(0);
    expect(shown.proposed).toBe(0);
  });

  test('above the upper limit nothing counts', () => {
    const lights = pictureFrom(200, 150, (x, y) => {
      if (Math.hypot(x - 50, y - 60) < 6) return [0.9, 0.9, 0.9];
      return Math.hypot(x - 120, y - 60) < 6 ? [1, 1, 1] : [0.02, 0.02, 0.02];
    });
    const at = (to: number): number[] => findLamps(lights, { ...defaultLamps, from: 90, to }, context).lamps.map((l) => Math.round(l.x / 10)); // prettier-ignore
    expect(at(100).sort()).toEqual([12, 5]);
    expect(at(98)).toEqual([5]);
  });

  test('a lamp behind something sharp does not show through it', async () => {
    const distance = planeFrom(200, 150, (x) => (x < 100 ? 3 : 1e4));
    const lamp = { x: 103, y: 75, radius: 2, softness: 0, light: [100, 100, 100] as [number, number, number] };
    const out = await defocus(pictureFrom(200, 150, () => [0, 0, 0]), distance, optics, context, [lamp]); // prettier-ignore
    expect(out.r[75 * 200 + 97]).toBeLessThan(0.02);
    expect(out.r[75 * 200 + 104]).toBeGreaterThan(0.5);
  });

  test('set by hand they have the size and colour they are given', () => {
    const lamp = { x: 10, y: 20, size: 6, colour: '#ff0000', softness: 0.5, lift: 2 };
    const [seen] = seenLamps({ lamps: [], proposed: 0 }, { ...defaultLamps, set: [lamp] }, (x, y) => ({ x: x / 2, y: y / 2, size: 0.5 }));
    expect(seen).toEqual({ x: 5, y: 10, radius: 1.5, softness: 0.5, light: [4, 0, 0] });
  });

  test('sizes fall into classes, the last open', () => {
    expect(sizeClasses([1, 3, 5, 5, 99], [0, 4, 8])).toEqual([2, 2, 1]);
  });
});

test('what counts as a lamp grows with the picture, so that the same scene has the same ones at any size', () => {
  expect(lampsFor({ width: 1200, height: 1800 })).toEqual(defaultLamps);
  expect(lampsFor({ width: 6000, height: 4000 })).toMatchObject({ least: 13.5, size: 120 });
  // A night of 6000 px: lamps 50 px wide, and glints of 6.
  const large = pictureFrom(600, 200, (x, y) => {
    const away = (cx: number): number => Math.hypot(x - cx, y - 100);
    return away(100) < 25 || away(300) < 24 || away(450) < 3 ? [1, 1, 1] : [0.02, 0.02, 0.03];
  });
  const found = findLamps(large, lampsFor({ width: 6000, height: 4000 }), context).lamps;
  expect(found.map((l) => Math.round(l.x / 100))).toEqual([1, 3]);
});

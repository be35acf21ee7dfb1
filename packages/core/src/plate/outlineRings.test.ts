import { softDisc } from '../testing/scenes';
import { seeded } from '../raster/random';
import { contrastOf, facingShare, outlineOf, together } from './outlineRings';

const [width, height] = [1200, 400];
const disc = softDisc(width, height, 600, 200, 90, 1);
const outline = outlineOf(disc, 46);

describe('rings around an outline', () => {
  test('distances and ways out are those of the disc', () => {
    for (let i = 0; i < outline.places.length; i += 97) {
      const [x, y] = [(outline.places[i] % width) - 599.5, Math.floor(outline.places[i] / width) - 199.5];
      const r = Math.hypot(x, y);
      expect(Math.abs(outline.away[i] - (r - 90))).toBeLessThan(1);
      // Close to the edge the way out is only known by whole pixels.
      expect(outline.outX[i] * (x / r) + outline.outY[i] * (y / r)).toBeGreaterThan(outline.away[i] < 4 ? 0.85 : 0.97);
    }
  });

  test('a step beside the outline is measured as it is, in any noise, and what crosses the outline alike is none', () => {
    const random = seeded(7);
    const noise = Float32Array.from(outline.places, () => 0.1 * (random() - 0.5));
    const step = together(
      outline,
      contrastOf(outline, (i) => noise[i] + (outline.away[i] < 5 ? 0.2 : 0), [0, 5], [10, 20]),
    );
    expect(step.mean).toBeCloseTo(0.2, 2);
    expect(step.score).toBeGreaterThan(10);
    const across = together(
      outline,
      contrastOf(outline, (i) => noise[i] + (outline.places[i] % width) / 1200, [0, 5], [10, 20]),
    );
    expect(Math.abs(across.mean)).toBeLessThan(0.01);
  });

  test('busy ground counts for less than quiet ground', () => {
    const random = seeded(9);
    const busy = Float32Array.from(outline.places, () => random() - 0.5);
    const isLeft = (i: number): boolean => outline.places[i] % width < 600;
    const { weight, difference } = contrastOf(outline, (i) => (isLeft(i) ? busy[i] : 0), [0, 5], [10, 20]);
    const weightOf = (facing: number): number => {
      const told = [...weight].filter((_, s) => outline.facing[s] === facing && !Number.isNaN(difference[s]));
      return told.reduce((sum, w) => sum + w, 0) / told.length;
    };
    expect(weightOf(0)).toBeGreaterThan(10 * weightOf(4));
  });

  test('a piece counts for the side that it faces, not for the other', () => {
    expect(facingShare(2, 2)).toBeCloseTo(1, 9);
    expect(facingShare(4, 2)).toBeCloseTo(0, 9);
    expect(facingShare(6, 2)).toBe(0);
    expect(facingShare(6, undefined)).toBe(1);
  });
});

import { makePicture, seeded } from '@ritaglio/core';
import { makeSubject } from './subject';

const behind = makePicture(60, 40);
const subjects = [1, 4, 6, 11].map((seed) => makeSubject(900, 600, 0.5, behind, seeded(seed)));

test('a subject is the same from the same seed and another from another', () => {
  expect(makeSubject(900, 600, 0.5, behind, seeded(4))).toEqual(subjects[1]);
  expect(subjects[0].a).not.toEqual(subjects[1].a);
});

test('its light is multiplied by its opacity, which is solid somewhere and none elsewhere', () => {
  for (const { a, r, g, b } of subjects) {
    expect(a.every((v) => v >= 0 && v <= 1 + 1e-6)).toBe(true);
    for (const plane of [r, g, b]) expect(plane.every((v, p) => v >= 0 && (a[p] > 0 || v === 0))).toBe(true);
    const share = (test: (v: number) => boolean): number => a.filter(test).length / a.length;
    expect(share((v) => v > 0.999)).toBeGreaterThan(0.01);
    expect(share((v) => v === 0)).toBeGreaterThan(0.2);
    // Strands, wires and rims: neither one nor the other.
    expect(share((v) => v > 0.02 && v < 0.98)).toBeGreaterThan(0.002);
  }
});

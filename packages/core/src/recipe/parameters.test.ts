import * as v from 'valibot';
import { asShown, boundsOf, held, parameters, type Parameter, type ParameterKey } from './parameters';
import { newRecipe, readRecipe, type Recipe } from './recipe';

const keys = Object.keys(parameters) as ParameterKey[];

describe.each(keys)('%s', (key) => {
  const p: Parameter = parameters[key];
  const { least, most } = boundsOf(key);

  test('begins within its slider’s reach, and the slider reaches no farther than what can be held', () => {
    expect(least).toBeLessThanOrEqual(p.min);
    expect(p.min).toBeLessThan(p.max);
    expect(p.max).toBeLessThanOrEqual(most);
    expect(p.default).toBeGreaterThanOrEqual(least);
    expect(p.default).toBeLessThanOrEqual(most);
    expect(p.step).toBeGreaterThan(0);
    if (p.scale === 'logarithmic') expect(p.min).toBeGreaterThan(0);
  });

  test('is told in a name and one whole sentence, and its step is seen', () => {
    expect(p.label).toMatch(/^\p{Lu}/u);
    expect(p.help).toMatch(/^\p{Lu}.{12,140}\.$/u);
    expect(Math.round(p.step * (p.times ?? 1) * 10 ** (p.digits ?? 0))).toBeGreaterThanOrEqual(1);
  });

  test('is held up to its bounds and not beyond', () => {
    const fits = (value: number): boolean => v.safeParse(held(key), value).success;
    const bit = 1e-6 * Math.max(1, most - least);
    expect([fits(p.default), fits(most), fits(most + bit), fits(least - bit), fits(Number.NaN), fits(Infinity)]).toEqual([true, true, false, false, false, false]); // prettier-ignore
    expect(fits(least)).toBe(!p.above);
  });
});

test('recipes hold what the table says, place by place', () => {
  const plain = newRecipe('Ball', 'ball', 300, 200);
  const put: [ParameterKey, (value: number) => Recipe][] = [
    ['lens.fNumber', (fNumber) => ({ ...plain, lens: { ...plain.lens, fNumber } })],
    ['aperture.squeeze', (squeeze) => ({ ...plain, lens: { ...plain.lens, aperture: { ...plain.lens.aperture, squeeze } } })],
    ['grade.temperature', (temperature) => ({ ...plain, finish: { ...plain.finish, grade: { ...plain.finish.grade, temperature } } })],
    ['vignette.width', (width) => ({ ...plain, finish: { ...plain.finish, vignette: { ...plain.finish.vignette, width } } })],
    ['contact.length', (length) => ({ ...plain, match: { ...plain.match, contact: { ...plain.match.contact, length } } })],
    ['plate.grow', (grow) => ({ ...plain, subjects: plain.subjects.map((s) => ({ ...s, plate: { ...s.plate, grow } })) })],
    ['trim.shift', (shift) => ({ ...plain, subjects: plain.subjects.map((s) => ({ ...s, trim: { ...s.trim, shift } })) })],
    ['card.blur', (blur) => ({ ...plain, cards: plain.cards.map((c) => ({ ...c, blur })) })],
    ['camera.z', (z) => ({ ...plain, camera: { ...plain.camera, z } })],
  ];
  for (const [key, recipe] of put) {
    const { least, most } = boundsOf(key);
    for (const value of [least, most]) expect(readRecipe(recipe(value))).toEqual(recipe(value));
    expect(() => readRecipe(recipe(most + 1))).toThrow(/The recipe is not right at /);
    expect(() => readRecipe(recipe(least - 1))).toThrow(/The recipe is not right at /);
  }
});

test('values are shown with their units, shares as hundredths', () => {
  expect([asShown('lens.fNumber', 2.83), asShown('card.opacity', 0.255), asShown('lens.focus', 3), asShown('aperture.blades', 7)]).toEqual([
    'f/2.8',
    '26 %',
    '3.00 m',
    '7',
  ]);
});

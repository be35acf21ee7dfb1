import {
  isPlainGrade,
  makePicture,
  measureTone,
  newRecipe,
  defaultCard,
  defaultGrade,
  readRecipe,
  toneProperties,
  type Recipe,
  type Side,
  type Tone,
} from '@ritaglio/core';
import fc from 'fast-check';
import { editSubject, openSubject } from '../edit';
import { useView } from '../viewStore';
import { movedPoint, withPoint } from './CurvesPart';
import { gradeWords } from './MatchPart';
import { gapRows, gradeSentence, hindrance, isMatched, matchedAll, toggled, unmatched } from './matching';
import { within } from '../useEdit';
import { ofAdjustments, ofFinish, ofMatch, without } from './parts';

jest.mock('../../worker/renderer', () => ({ renderer: () => ({}) }));

const recipe = newRecipe('Trial', 'shot', 300, 200);
const grey = (v: number): Tone => {
  const p = makePicture(16, 16);
  for (const c of [p.r, p.g, p.b]) c.fill(v);
  return measureTone(p);
};
const grain = (level: number): Side['grain'] => ({ level, byTone: new Array<number>(9).fill(level), tone: 50, size: 0.5, blocks: 40 });
const sides = (subject: Partial<Side>, background: Partial<Side>) => ({
  banding: { share: 0, places: [] },
  ownPlate: false,
  subject: { tone: grey(0.3), ...subject },
  background: { tone: grey(0.3), ...background },
});
const blur = (diameter: number): Side['blur'] => ({ diameter, sigma: diameter / 4, edges: 90 });

describe('the table of gaps', () => {
  test('equal sides have none, and what is not known is told so', () => {
    const rows = gapRows(sides({}, {}));
    expect(rows).toHaveLength(10);
    for (const r of rows.filter((r) => r.known)) expect([r.name, r.wide, Number.parseFloat(r.gap)]).toEqual([r.name, false, 0]);
    expect(rows.filter((r) => !r.known).map((r) => r.name)).toEqual(['blur', 'grain', 'light']);
  });

  test('a dark side against a light one is out of tolerance in lightness only', () => {
    const wide = gapRows(sides({ tone: grey(0.02) }, { tone: grey(0.6) })).filter((r) => r.wide);
    expect(wide.map((r) => r.name)).toEqual(['black', 'middle', 'white']);
  });

  test('of one photograph only blur and grain are judged', () => {
    const rows = gapRows({ ...sides({ tone: grey(0.02), grain: grain(1) }, { tone: grey(0.6), grain: grain(0.1) }), ownPlate: true });
    expect(rows.filter((r) => r.wide).map((r) => r.name)).toEqual(['grain']);
    expect(rows.filter((r) => !r.natural).map((r) => r.name)).toEqual(['blur', 'grain']);
  });

  test('casts are told as shifts from daylight', () => {
    const cast = gapRows(sides({}, {})).find((r) => r.name === 'cast')!;
    expect(Math.abs(Number.parseFloat(cast.subject.replace('−', '-')))).toBeLessThanOrEqual(2);
  });
});

describe('one press', () => {
  const measured = sides({ blur: blur(1), grain: grain(0.5) }, { blur: blur(5), grain: grain(0.1) });

  test.each(toneProperties.map((name) => [name]))('%s is matched, and no longer', (name) => {
    const on = toggled(recipe, name, measured);
    expect(isMatched(on, name)).toBe(true);
    expect(toneProperties.filter((k) => on.match.strengths[k] > 0)).toEqual([name]);
    expect(toggled(on, name, measured)).toEqual(recipe);
  });

  test('grain is put back; blur goes to the subject, spreads added as squares; light turns the background round', () => {
    expect(toggled(recipe, 'grain', measured).finish.grain.back).toBe(1);
    const soft = toggled(recipe, 'blur', measured);
    expect(soft.cards.find((c) => c.kind === 'subject')?.blur).toBeCloseTo(Math.sqrt(24), 1);
    expect(isMatched(soft, 'blur')).toBe(true);
    expect(toggled(soft, 'blur', measured)).toEqual(recipe);
    const flipped = toggled(recipe, 'light', measured);
    expect(flipped.cards.map((c) => [c.kind, c.placement.flip])).toEqual([
      ['plate', true],
      ['subject', false],
    ]);
  });

  test('what cannot be matched says why', () => {
    expect(hindrance(measured, 'blur')).toBeUndefined();
    expect(hindrance(sides({ blur: blur(5) }, { blur: blur(1) }), 'blur')).toMatch(/softer side/);
    expect(hindrance(sides({}, {}), 'blur')).toMatch(/no edges/);
    expect(hindrance(sides({}, {}), 'grain')).toMatch(/flat enough/);
    expect(hindrance(sides({}, {}), 'light')).toMatch(/light comes from/);
    expect(hindrance(sides({ tone: { ...grey(0.2), weight: 0 } }, {}), 'cast')).toMatch(/nothing to measure/);
    expect(hindrance(measured, 'cast')).toBeUndefined();
  });

  test('all at once is a valid recipe and put back again as it was', () => {
    const all = matchedAll(recipe, false);
    expect(readRecipe(JSON.parse(JSON.stringify(all)))).toEqual(JSON.parse(JSON.stringify(all)));
    expect(toneProperties.every((k) => isMatched(all, k)) && isMatched(all, 'grain')).toBe(true);
    expect([all.match.strengths.cast, all.match.strengths.contrast]).toEqual([1, 1 / 3]);
    expect(unmatched(all)).toEqual(recipe);
  });

  test('between two sides of one photograph only grain is moved', () => {
    const all = matchedAll(recipe, true);
    expect(toneProperties.filter((k) => isMatched(all, k))).toEqual([]);
    expect(isMatched(all, 'grain')).toBe(true);
  });

  test('what a grade does is said in a sentence', () => {
    expect(gradeSentence('The subject', defaultGrade)).toBe('The subject stays as it is.');
    expect(gradeSentence('The subject', { ...defaultGrade, temperature: -100 })).toBe('The subject becomes much cooler.');
    expect(gradeSentence('It', { ...defaultGrade, temperature: 12, black: 4, contrast: -0.2 })).toBe(
      'It becomes a little warmer, paler in the blacks and flatter.',
    );
  });

  test('a solved grade is told in figures, and only those that say something', () => {
    expect(gradeWords(defaultGrade)).toBe('nothing to move');
    expect(gradeWords({ ...defaultGrade, temperature: -30.4, saturation: 0.9, exposure: 0.001 })).toBe('−30 mired, −10 % saturation');
  });
});

describe('parts of the recipe', () => {
  const card = recipe.cards[0].id;

  test('are read and written where they are, and nothing else is', () => {
    const wrapped = ofMatch('wrap').write(recipe, { width: 5, strength: 0.5 });
    expect({ ...wrapped, match: recipe.match }).toEqual(recipe);
    expect(ofFinish('dither').read(ofFinish('dither').write(recipe, true))).toBe(true);
    const grade = within(ofAdjustments(card), 'grade');
    const warm = grade.write(recipe, { ...grade.read(recipe), temperature: 30 });
    expect(warm.cards.map((c) => c.grade.temperature)).toEqual([30, 0]);
    expect(warm.finish).toEqual(recipe.finish);
    expect(within(ofAdjustments('whole'), 'grade').write(recipe, grade.read(warm)).finish.grade.temperature).toBe(30);
  });

  test('without all of the step, only drawn references are left of it', () => {
    const region = { radius: 1, filled: true, points: [[0, 0], [9, 0], [9, 9]] as [number, number][] }; // prettier-ignore
    const drawn: Recipe = { ...recipe, match: { ...recipe.match, references: { subject: region, background: null } } };
    const busy = ofAdjustments(card).write(matchedAll(drawn, false), {
      ...ofAdjustments(card).read(recipe),
      grade: { ...recipe.finish.grade, exposure: 1 },
    });
    expect(without.all(busy)).toEqual(drawn);
    expect(isPlainGrade(ofAdjustments(card).read(without.grade(card)(busy)).grade)).toBe(true);
    expect(without.match(busy).match.strengths.cast).toBe(0);
    expect(without.grain(busy).finish.grain.back).toBe(0);
    expect(without.surround(busy).match.strengths).toEqual(busy.match.strengths);
    expect(without.vignette(busy)).toEqual(busy);
  });
});

describe('points of a curve', () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true });

  test('stay in order and never fall, wherever they are dragged or set', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(share, share, fc.nat(8), share, share), { maxLength: 12 }), (steps) => {
        let points: [number, number][] = [[0, 0], [1, 1]]; // prettier-ignore
        for (const [x, y, at, mx, my] of steps) {
          points = withPoint(points, x, y).points;
          points = movedPoint(points, at % points.length, mx, my);
          for (let i = 1; i < points.length; i++) {
            expect(points[i][0]).toBeGreaterThan(points[i - 1][0] - 1e-9);
            expect(points[i][1]).toBeGreaterThanOrEqual(points[i - 1][1] - 1e-9);
          }
          expect(points.flat().every((v) => v >= 0 && v <= 1)).toBe(true);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('a press beside a point takes that one', () => {
    expect(withPoint([[0, 0], [0.5, 0.5], [1, 1]], 0.51, 0.7)).toEqual({ points: [[0, 0], [0.5, 0.5], [1, 1]], at: 1 }); // prettier-ignore
    expect(withPoint([[0, 0], [1, 1]], 0.25, 0.5).at).toBe(1); // prettier-ignore
  });
});

test('the open subject is the chosen one, or the first, and only it is edited', () => {
  const second = { ...recipe.subjects[0], id: 'subject-2' };
  const two: Recipe = {
    ...recipe,
    subjects: [...recipe.subjects, second],
    cards: [...recipe.cards, { ...defaultCard, id: 's2', kind: 'subject', subject: 'subject-2', distance: 4 }],
  };
  expect(openSubject(two).id).toBe('subject-1');
  useView.setState({ subject: 'subject-2' });
  const edited = editSubject(two, (s) => ({ ...s, shot: 'other' }));
  expect(edited.subjects.map((s) => s.shot)).toEqual(['shot', 'other']);
  useView.setState({ subject: 'gone' });
  expect(openSubject(two).id).toBe('subject-1');
  useView.setState({ subject: undefined });
});

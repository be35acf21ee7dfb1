import { defaultContext } from '../../runtime/context';
import { ballScene } from '../../testing/scenes';
import { closesSubject, markedInside, markedOutside, rasterMarks, unmarked, type Mark } from './marks';
import { matte } from '../matte';
import { withSides } from './trace';
import { noTrim } from '../edit/trim';

const context = defaultContext();
const box = (x0: number, y0: number, x1: number, y1: number): [number, number][] => [[x0, y0], [x1, y0], [x1, y1], [x0, y1]]; // prettier-ignore

describe('a loop', () => {
  const loop: Mark = { kind: 'loop', radius: 3, points: box(10, 10, 50, 40) };

  test('marks what is outside all loops, and leaves open what is within', () => {
    const codes = rasterMarks([loop, { ...loop, points: box(60, 10, 75, 30) }], 80, 60, 1);
    const at = (x: number, y: number): number => codes[y * 80 + x];
    expect([at(5, 5), at(30, 25), at(55, 20), at(68, 20), at(68, 50)]).toEqual([
      markedOutside,
      unmarked,
      markedOutside,
      unmarked,
      markedOutside,
    ]);
  });

  test('lies below all other marks, whenever it was drawn', () => {
    const dot: Mark = { kind: 'inside', radius: 3, points: [[70, 50]] };
    expect(rasterMarks([dot, loop], 80, 60, 1)).toEqual(rasterMarks([loop, dot], 80, 60, 1));
    expect(rasterMarks([dot, loop], 80, 60, 1)[50 * 80 + 70]).toBe(markedInside);
  });

  test('alone finds a ball on a plain ground', async () => {
    const { shot, matte: truth } = ballScene(160, 120, 2);
    const found = await matte(shot, { marks: [{ kind: 'loop', radius: 3, points: box(24, 8, 136, 112) }], trim: noTrim }, context);
    const wrong = found.matte.data.reduce((n, v, p) => n + (v > 0.5 === truth.data[p] > 0.5 ? 0 : 1), 0);
    expect(wrong / truth.data.length).toBeLessThan(0.02);
    expect(found.note).toBeUndefined();
  });
});

describe('a trace', () => {
  test('closed marks its inside, leaves its line open, and marks a rim outside', () => {
    const codes = rasterMarks([{ kind: 'trace', radius: 1, points: [...box(20, 15, 60, 45), [20, 15]], filled: true }], 80, 60, 1);
    const at = (x: number, y: number): number => codes[y * 80 + x];
    expect([at(40, 30), at(20, 30), at(17, 30), at(5, 30)]).toEqual([markedInside, unmarked, markedOutside, unmarked]);
  });

  test('open becomes a stroke on each side, inside where that is likelier, whichever way it was drawn', () => {
    const line: Mark = { kind: 'trace', radius: 1, points: [[40, 5], [40, 15], [40, 25], [40, 35]] }; // prettier-ignore
    const likely = { width: 80, height: 60, scale: 1, chanceAt: (x: number) => (x < 40 ? 0.9 : 0.2) };
    for (const points of [line.points, [...line.points].reverse()]) {
      const sides = withSides([{ ...line, points }], likely);
      expect(sides.map((m) => m.kind).sort()).toEqual(['inside', 'outside']);
      for (const { kind, points: moved } of sides) for (const [x] of moved) expect(x < 40).toBe(kind === 'inside');
    }
    expect(withSides([line], { ...likely, chanceAt: () => 0.5 })).toEqual([]);
  });

  test('closed says where the subject is, open does not', () => {
    const trace: Mark = { kind: 'trace', radius: 1, points: box(1, 1, 9, 9) };
    expect([closesSubject(trace), closesSubject({ ...trace, filled: true })]).toEqual([false, true]);
  });
});

test('a closed outside mark clears what is in it, also where inside was marked before', async () => {
  const { shot } = ballScene(160, 120, 2);
  const inside: Mark = { kind: 'inside', radius: 20, points: [[80, 60]] };
  const hole: Mark = { kind: 'outside', radius: 1, points: box(74, 54, 86, 66), filled: true };
  const found = await matte(shot, { marks: [inside, { kind: 'outside', radius: 5, points: [[10, 10]] }, hole], trim: noTrim }, context);
  expect(found.matte.data[60 * 160 + 80]).toBe(0);
  expect(found.matte.data[60 * 160 + 64]).toBe(1);
});

import { newRecipe, readRecipe, type Recipe } from './recipe';
import { forShot } from './series';

const first = newRecipe('Set', 'one', 1800, 1200);
const job: Recipe = {
  ...first,
  frame: { ...first.frame, width: 1200, x: -60 },
  accepted: [{ check: 'banding', word: 'dusk', figure: 1 }],
  subjects: [
    {
      ...first.subjects[0],
      marks: [{ kind: 'inside', radius: 5, points: [[4, 4]] }],
      hand: [{ tip: 'clear', radius: 4, hardness: 0.5, opacity: 1, points: [[9, 9]] }],
      garbage: [{ kind: 'rectangle', x: 0, y: 0, width: 9, height: 9 }],
      plate: { ...first.subjects[0].plate, fill: { kind: 'patch', tries: 4, taken: 3 }, retouch: [{ tip: 'paint', radius: 4, hardness: 1, opacity: 1, points: [[5, 5]], colour: '#ffffff' }] },
    },
  ],
  cards: first.cards.map((c) => ({ ...c, placement: { ...c.placement, x: 100, y: -40 } })),
}; // prettier-ignore

test('what belongs to the look stays, what was drawn on the old shot goes', () => {
  const marks: typeof job.subjects[0]['marks'] = [{ kind: 'inside', radius: 9, points: [[50, 50]] }]; // prettier-ignore
  const other = forShot(job, 'two', { width: 900, height: 600 }, marks);
  const [s] = other.subjects;
  expect(s).toMatchObject({ shot: 'two', size: { width: 900, height: 600 }, marks, hand: [], garbage: [], with: [] });
  expect(s.plate).toMatchObject({ retouch: [], fill: { kind: 'patch', tries: 1, taken: 1 } });
  expect(other.frame).toMatchObject({ width: 600, height: 600, x: -30 });
  expect(other.lens).toEqual({ ...job.lens, across: 900 });
  expect(other.cards[0].placement).toMatchObject({ x: 50, y: -20 });
  expect(other.accepted).toEqual([]);
  expect(other.finish).toBe(job.finish);
  expect(readRecipe(JSON.parse(JSON.stringify(other)))).toEqual(other);
});

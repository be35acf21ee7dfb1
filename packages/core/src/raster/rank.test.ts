import fc from 'fast-check';
import { rankOf } from './rank';

// Without a negative nothing, which is in no order beside nothing.
const numbers = fc.array(
  fc.double({ min: -1e3, max: 1e3, noNaN: true }).map((v) => v + 0),
  { minLength: 1, maxLength: 60 },
);

test('the value at a place is the one that would stand there in order; only the first so many count', () => {
  fc.assert(
    fc.property(numbers, fc.nat(), fc.nat(), (list, some, place) => {
      const count = 1 + (some % list.length);
      const k = place % count;
      const inOrder = Float64Array.from(list.slice(0, count)).sort();
      const values = Float64Array.from(list);
      expect(rankOf(values, k, count)).toBe(inOrder[k]);
      // They are put in some other order, and none is lost; the rest stays as it is.
      expect(values.slice(0, count).sort()).toEqual(inOrder);
      expect([...values.slice(count)]).toEqual(list.slice(count));
      // What stands before it is not more, what stands behind not less: a median of two takes the largest before.
      const at = rankOf(values, k, count);
      expect(values.slice(0, k).every((v) => v <= at) && values.slice(k, count).every((v) => v >= at)).toBe(true);
    }),
  );
});

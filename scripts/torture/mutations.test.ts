/** @jest-environment node */
import { mutatedKinds, mutations } from './mutations';

test.each(mutatedKinds)('a damaged %s is refused with a sentence or read as it was, at once', async (kind) => {
  const { tried, refused, read, wrong, uncaught, longest } = await mutations(kind, 120, 7);
  expect({ uncaught, wrong }).toEqual({ uncaught: [], wrong: 0 });
  expect(refused + read).toBe(tried);
  expect(refused).toBeGreaterThan(20);
  expect(longest).toBeLessThan(2000);
});

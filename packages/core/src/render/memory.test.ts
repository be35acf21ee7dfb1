import fc from 'fast-check';
import { keyOf, ProductMemory } from './memory';

const later = <T>(value: T): Promise<T> => new Promise((resolve) => setTimeout(() => resolve(value), 5));
const aborted = (): Error => Object.assign(new Error('cancelled'), { name: 'AbortError' });

test('what is asked for three times at once is made once', async () => {
  const memory = new ProductMemory();
  let made = 0;
  const make = (): Promise<{ n: number }> => later({ n: ++made });
  const got = await Promise.all([1, 2, 3].map(() => memory.get('a', make)));
  expect(made).toBe(1);
  expect(new Set(got).size).toBe(1);
});

test('when whoever began it gives it up, it is made for who still waits', async () => {
  const memory = new ProductMemory();
  const first = memory.get('a', async () => {
    await later(0);
    throw aborted();
  });
  const second = memory.get('a', () => later('made'));
  await expect(first).rejects.toThrow('cancelled');
  expect(await second).toBe('made');
  expect(memory.size).toBe(1);
});

test('a fault is told to all who wait, and leaves nothing behind', async () => {
  const memory = new ProductMemory();
  const fail = async (): Promise<never> => {
    await later(0);
    throw new Error('broken');
  };
  const got = await Promise.allSettled([memory.get('a', fail), memory.get('a', fail)]);
  expect(got.map((g) => g.status)).toEqual(['rejected', 'rejected']);
  expect([memory.size, memory.used]).toEqual([0, 0]);
  expect(await memory.get('a', () => later(1))).toBe(1);
});

test('a buffer that several products hold counts once, until the last of them is dropped', async () => {
  const memory = new ProductMemory(1000);
  const shared = new Float32Array(50);
  await memory.get('a', () => later({ r: shared }));
  await memory.get('b', () => later({ plane: { data: shared }, own: new Uint8Array(100) }));
  expect(memory.used).toBe(300);
  // The oldest go first, here both: what is kept last is kept whatever it takes.
  await memory.get('c', () => later(new Uint8Array(950)));
  expect([memory.size, memory.used]).toEqual([1, 950]);
});

test('keys are the same for what is written as the same JSON, and only for that', () => {
  const json = fc.jsonValue({ maxDepth: 4 });
  fc.assert(fc.property(json, json, (a, b) => (keyOf(a) === keyOf(b)) === (JSON.stringify(a) === JSON.stringify(b)) && keyOf(a) === keyOf(structuredClone(a)))); // prettier-ignore
  const long = { marks: Array.from({ length: 50 }, (_, i) => ({ kind: 'inside', points: [[i, 1], [2, 3]] })) }; // prettier-ignore
  expect(keyOf([long, 1])).toBe(keyOf([structuredClone(long), 1]));
  expect(keyOf({ ...long, left: undefined })).toBe(keyOf(long));
  expect(keyOf({ marks: [...long.marks.slice(1), long.marks[0]] })).not.toBe(keyOf(long));
});

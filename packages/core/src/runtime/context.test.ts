import { isAbort, pause, defaultContext } from './context';

const later = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

describe('a pause', () => {
  test('lets a message in, so that work can be cancelled while it runs', async () => {
    const controller = new AbortController();
    setTimeout(() => controller.abort(), 5);
    const work = async (): Promise<void> => {
      for (;;) await pause(defaultContext({ signal: controller.signal }));
    };
    const error: unknown = await work().catch((e: unknown) => e);
    expect(isAbort(error)).toBe(true);
  });

  test('throws at once when it is already over, whatever the reason given', async () => {
    for (const reason of [undefined, 'enough', new Error('another request')]) {
      const controller = new AbortController();
      controller.abort(reason);
      const error: unknown = await pause(defaultContext({ signal: controller.signal })).catch((e: unknown) => e);
      expect(isAbort(error)).toBe(true);
    }
  });

  test('tells how far it is, but not at every call', async () => {
    const told: [string, number][] = [];
    const context = defaultContext({ progress: (what, fraction) => told.push([what, fraction]) });
    await later(30);
    for (let k = 0; k < 1000; k++) await pause(context, 'Counting', k / 1000);
    expect(told.length).toBeGreaterThan(0);
    expect(told.length).toBeLessThan(1000);
    expect(told[0][0]).toBe('Counting');
  });
});

test('only an abort is an abort', () => {
  expect(isAbort(new Error('no'))).toBe(false);
  expect(isAbort(undefined)).toBe(false);
  expect(isAbort({ name: 'AbortError' })).toBe(true);
});

test('a plain context is full size and can be changed', () => {
  expect(defaultContext()).toEqual({ scale: 1, seed: 1 });
  expect(defaultContext({ scale: 0.25 }).scale).toBe(0.25);
});

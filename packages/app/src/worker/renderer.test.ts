/** @jest-environment node */
import { onForgotten, renderer, RendererStopped, whileAlive } from './renderer';

/** A worker that can be ended from outside; the other side of Comlink is not there. */
class FakeWorker extends EventTarget {
  static made: FakeWorker[] = [];
  ended = false;
  onping: (() => Promise<true>) | undefined;
  constructor() {
    super();
    FakeWorker.made.push(this);
  }
  terminate(): void {
    this.ended = true;
  }
}

jest.mock('comlink', () => ({ wrap: (worker: FakeWorker) => ({ ping: () => worker.onping?.() ?? Promise.resolve(true) }) }));

beforeEach(() => {
  jest.useFakeTimers();
  (globalThis as { Worker?: unknown }).Worker = FakeWorker;
});
afterEach(() => jest.useRealTimers());

const never = new Promise<never>(() => undefined);

test('work that ends is given back; one worker serves all', async () => {
  expect(renderer()).toBe(renderer());
  await expect(whileAlive(Promise.resolve(7))).resolves.toBe(7);
  await expect(whileAlive(Promise.reject(new Error('its own fault')))).rejects.toThrow('its own fault');
});

test('a worker that a fault ends is told, and the next one begins with nothing', async () => {
  const told: string[] = [];
  onForgotten(() => told.push('forgotten'));
  const before = renderer();
  const waiting = whileAlive(never);
  FakeWorker.made.at(-1)!.dispatchEvent(new Event('error'));
  await expect(waiting).rejects.toThrow(RendererStopped);
  expect(told).toEqual(['forgotten']);
  expect(FakeWorker.made.at(-1)!.ended).toBe(true);
  expect(renderer()).not.toBe(before);
});

test('one that does not answer any more is given up; one that is slow but answers is not', async () => {
  renderer();
  const worker = FakeWorker.made.at(-1)!;
  let answer: (v: true) => void = () => undefined;
  worker.onping = () => new Promise((resolve) => (answer = resolve));
  const slow = whileAlive(never);
  let ended = false;
  slow.catch(() => (ended = true));
  await jest.advanceTimersByTimeAsync(40_000);
  answer(true);
  await jest.advanceTimersByTimeAsync(44_000);
  expect(ended).toBe(false);
  await jest.advanceTimersByTimeAsync(60_000);
  await expect(slow).rejects.toThrow('does not answer any more');
  expect(worker.ended).toBe(true);
});

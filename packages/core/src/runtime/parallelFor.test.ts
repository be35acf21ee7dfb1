import { halfPool } from '../testing/pool';
import { isAbort, defaultContext } from './context';
import { copyOf, toShared, sharedFloats, takeParts, parallelFor, type WorkerPool, type Kernel } from './parallelFor';

interface Squares {
  from: Float32Array;
  to: Float32Array;
}
const squares: Kernel<Squares> = {
  name: 'squares',
  begin:
    ({ from, to }) =>
    (i) => {
      to[i] = from[i] ** 2;
    },
};
const failing: Kernel<Squares> = {
  name: 'failing',
  begin: () => () => {
    throw new Error('broken part');
  },
};
const kernels = [squares, failing] as Kernel<never>[];
const five = Float32Array.from([1, 2, 3, 4, 5]);

describe('working together', () => {
  test('all parts are done once, alone or with help', async () => {
    for (const pool of [undefined, halfPool(kernels)]) {
      const context = defaultContext({ ...(pool && { pool }) });
      const job = { from: toShared(five, context), to: sharedFloats(5, context) };
      await parallelFor(squares, job, 5, context);
      expect([...job.to]).toEqual([1, 4, 9, 16, 25]);
      if (pool) expect(pool.done.squares).toBe(3);
    }
  });

  test('what the pool has not finished is waited for, and its fault is told', async () => {
    let told = false;
    const late: WorkerPool = {
      size: 1,
      async runTask({ job, count }) {
        const i = Atomics.add(count, 0, 1);
        await new Promise((resolve) => setTimeout(resolve, 30));
        told = true;
        (job as Squares).to[i] = 7;
        Atomics.add(count, 1, 1);
      },
    };
    const context = defaultContext({ pool: late });
    const job = { from: toShared(five, context), to: sharedFloats(5, context) };
    await parallelFor(squares, job, 5, context);
    expect(told).toBe(true);
    expect(job.to[0]).toBe(7);
    const broken: WorkerPool = {
      size: 1,
      runTask({ count }) {
        Atomics.add(count, 0, 1);
        return Promise.reject(new Error('thread lost'));
      },
    };
    await expect(parallelFor(squares, job, 5, defaultContext({ pool: broken }))).rejects.toThrow('thread lost');
    await expect(parallelFor(failing, job, 5, context)).rejects.toThrow('broken part');
  });

  test('an abort ends it, and leaves no parts for others', async () => {
    const controller = new AbortController();
    let task: Int32Array | undefined;
    const pool: WorkerPool = {
      size: 1,
      runTask({ count }) {
        task = count;
        return new Promise(() => undefined);
      },
    };
    controller.abort();
    const error: unknown = await parallelFor(
      squares,
      { from: five, to: five.slice() },
      5,
      defaultContext({ pool, signal: controller.signal }),
    ).catch((e: unknown) => e);
    expect(isAbort(error)).toBe(true);
    expect(task![0]).toBe(5);
  });

  test('a thread takes what is left, does nothing when it comes late, and knows only its kernels', async () => {
    const job = { from: five, to: new Float32Array(5) };
    const count = Int32Array.from([3, 3, 0]);
    await takeParts(kernels, { kernel: 'squares', job, parts: 5, count });
    expect([...job.to]).toEqual([0, 0, 0, 16, 25]);
    expect(count[1]).toBe(5);
    await takeParts(kernels, { kernel: 'failing', job, parts: 5, count });
    await expect(takeParts(kernels, { kernel: 'cubes', job, parts: 5, count })).rejects.toThrow('cubes');
  });

  test('a part may go in steps, and a helper hears that its work is given up', async () => {
    const heard: boolean[] = [];
    const stepping: Kernel<Squares> = {
      name: 'stepping',
      begin: ({ from, to }, { signal }) => {
        return async (i) => {
          await Promise.resolve();
          heard.push(signal?.aborted ?? false);
          to[i] = from[i] ** 2;
        };
      },
    };
    const job = { from: five, to: new Float32Array(5) };
    await parallelFor(stepping, job, 5, defaultContext());
    expect([...job.to]).toEqual([1, 4, 9, 16, 25]);
    expect(heard).toEqual(Array(5).fill(false));
    const count = Int32Array.from([4, 4, 1]);
    await takeParts([stepping] as Kernel<never>[], { kernel: 'stepping', job, parts: 5, count });
    expect(heard[5]).toBe(true);
    const pool: WorkerPool = { size: 1, runTask: (task) => new Promise(() => (told = task.count)) };
    let told: Int32Array | undefined;
    await expect(parallelFor(failing, job, 5, defaultContext({ pool }))).rejects.toThrow('broken part');
    expect([...told!]).toEqual([5, 0, 1]);
  });

  test('memory is only shared when there is somebody to share it with', () => {
    const alone = defaultContext();
    expect(toShared(five, alone)).toBe(five);
    const context = defaultContext({ pool: halfPool(kernels) });
    const shared = toShared(five, context);
    expect([...shared]).toEqual([...five]);
    expect(toShared(shared, context)).toBe(shared);
    for (const data of [five, shared]) {
      const copy = copyOf(data);
      expect([copy.buffer.constructor, [...copy]]).toEqual([data.buffer.constructor, [...data]]);
      expect(copy).not.toBe(data);
    }
  });
});

import { defaultContext, pause, type Context } from './context';

/** Work in parts that can be done in any order and by any thread, each writing where no other does. */
export interface Kernel<Job> {
  /** By which another thread knows it. */
  name: string;
  /**
   * Makes what one thread needs for its parts; returns what does one part, at once or in steps. Job must be plain data, large arrays in
   * shared memory.
   *
   * @param context of the thread: a helper has no helpers, and its signal tells that the work is of no use any more
   */
  begin(job: Job, context: Context): (part: number) => void | Promise<void>;
}

/** What another thread is told, to take its share of a kernel's parts. */
export interface Task {
  kernel: string;
  job: unknown;
  parts: number;
  /** The next part that nobody has taken, how many are done, and 1 when the work is given up; in shared memory. */
  count: Int32Array;
}

/** Further threads that work on shared memory. */
export interface WorkerPool {
  /** How many there are besides the caller's own. */
  readonly size: number;
  /** Has one of them take parts until none is left. */
  runTask(task: Task): Promise<void>;
}

/** Takes parts of a kernel until none is left; what the threads of a pool run. @throws RangeError when there is no such kernel */
export async function takeParts(kernels: Kernel<never>[], { kernel: name, job, parts, count }: Task): Promise<void> {
  const kernel = kernels.find((k) => k.name === name);
  if (!kernel) throw new RangeError(`“${name}” is no kernel`);
  // Whoever comes late need not get ready.
  if (Atomics.load(count, 0) >= parts) return;
  const signal = { get aborted() { return Atomics.load(count, 2) === 1; } } as AbortSignal; // prettier-ignore
  const part = kernel.begin(job as never, defaultContext({ signal }));
  for (let i = Atomics.add(count, 0, 1); i < parts; i = Atomics.add(count, 0, 1)) {
    await part(i);
    Atomics.add(count, 1, 1);
  }
}

/**
 * Does all parts of a kernel, with the pool's help if there is one: the result is the same bytes.
 *
 * @param from progress before the first part, `to` after the last
 * @throws AbortError, at once; what others have begun then goes on for one part and is of no use
 */
export async function parallelFor<Job>(
  kernel: Kernel<Job>,
  job: Job,
  parts: number,
  context: Context,
  what?: string,
  from = 0,
  to = 1,
): Promise<void> {
  const { pool } = context;
  const count = pool ? new Int32Array(new SharedArrayBuffer(12)) : new Int32Array(3);
  const helping = pool ? Math.min(pool.size, parts - 1) : 0;
  const others = Promise.all(Array.from({ length: helping }, () => pool!.runTask({ kernel: kernel.name, job, parts, count })));
  // Told below, if it matters.
  others.catch(() => undefined);
  try {
    const part = kernel.begin(job, context);
    for (let i = Atomics.add(count, 0, 1); i < parts; i = Atomics.add(count, 0, 1)) {
      await part(i);
      Atomics.add(count, 1, 1);
      await pause(context, what, from + ((to - from) * i) / parts);
    }
  } catch (error) {
    Atomics.store(count, 0, parts);
    Atomics.store(count, 2, 1);
    throw error;
  }
  if (Atomics.load(count, 1) < parts) await others;
}

/** Room for numbers that every thread of the pool sees. */
export function sharedFloats(n: number, { pool }: Context): Float32Array {
  return pool ? new Float32Array(new SharedArrayBuffer(4 * n)) : new Float32Array(n);
}

/** The same for whole numbers. */
export function sharedNumbers(n: number, { pool }: Context): Int32Array {
  return pool ? new Int32Array(new SharedArrayBuffer(4 * n)) : new Int32Array(n);
}

/** The same for small ones, 0 to 255. */
export function sharedBytes(n: number, { pool }: Context): Uint8Array {
  return pool ? new Uint8Array(new SharedArrayBuffer(n)) : new Uint8Array(n);
}

/** The same for codes of sixteen bits. */
export function sharedCodes(n: number, { pool }: Context): Uint16Array {
  return pool ? new Uint16Array(new SharedArrayBuffer(2 * n)) : new Uint16Array(n);
}

/** The same numbers where every thread of the pool sees them; the array itself where it is seen already. */
export function toShared(data: Float32Array, context: Context): Float32Array {
  if (!context.pool || data.buffer instanceof SharedArrayBuffer) return data;
  const out = sharedFloats(data.length, context);
  out.set(data);
  return out;
}

/** A copy in memory of the same kind: what every thread of the pool sees need not be copied once more for them. */
export function copyOf(data: Float32Array): Float32Array {
  const isSeen = typeof SharedArrayBuffer !== 'undefined' && data.buffer instanceof SharedArrayBuffer;
  const out = isSeen ? new Float32Array(new SharedArrayBuffer(data.byteLength)) : new Float32Array(data.length);
  out.set(data);
  return out;
}

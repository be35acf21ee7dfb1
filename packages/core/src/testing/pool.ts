import { defaultContext } from '../runtime/context';
import type { WorkerPool, Kernel } from '../runtime/parallelFor';

/**
 * A pool of one in the same thread, that does the first half of all parts before the caller does the rest. It is given
 * what a message would carry: plain data copied, shared memory shared.
 */
export function halfPool(kernels: Kernel<never>[]): WorkerPool & { done: Record<string, number> } {
  const done: Record<string, number> = {};
  return {
    size: 1,
    done,
    async runTask(task) {
      const { kernel: name, job, parts, count } = structuredClone(task);
      const part = kernels.find((k) => k.name === name)!.begin(job as never, defaultContext());
      // Taken before anything is waited for: the caller begins at once.
      const own = Array.from({ length: Math.ceil(parts / 2) }, () => Atomics.add(count, 0, 1));
      for (const i of own) {
        await part(i);
        Atomics.add(count, 1, 1);
        done[name] = (done[name] ?? 0) + 1;
      }
    },
  };
}

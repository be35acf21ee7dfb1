import type { Crew, Kernel } from '../context/together';

/**
 * A crew of one in the same thread, that does the first half of all parts before the caller does the rest. It is given
 * what a message would carry: plain data copied, shared memory shared.
 */
export function halfCrew(kernels: Kernel<never>[]): Crew & { done: Record<string, number> } {
  const done: Record<string, number> = {};
  return {
    size: 1,
    done,
    join(shift) {
      const { kernel: name, job, parts, count } = structuredClone(shift);
      const part = kernels.find((k) => k.name === name)!.begin(job as never);
      for (let k = 0; k < parts / 2; k++) {
        part(Atomics.add(count, 0, 1));
        Atomics.add(count, 1, 1);
        done[name] = (done[name] ?? 0) + 1;
      }
      return Promise.resolve();
    },
  };
}

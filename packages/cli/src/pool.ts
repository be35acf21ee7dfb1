import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { WorkerPool, Task } from '@ritaglio/core';
import { wrap } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';

/** One thread for each core, four at most. */
export function mostThreads(): number {
  return Math.min(4, availableParallelism());
}

/** Threads beside this one; they keep the process alive only while they work. */
export function nodePool(size = mostThreads() - 1): WorkerPool | undefined {
  if (size < 1) return undefined;
  const threads = Array.from({ length: size }, () => {
    const worker = new Worker(new URL('../bin/thread.mjs', import.meta.url), { execArgv: [] });
    const remote = wrap<{ runTask(task: Task): void }>(nodeEndpoint(worker));
    worker.unref();
    // One that is gone takes what it had begun with it: nobody waits for it.
    const gone = new Promise<never>((_, reject) => {
      worker.once('error', reject);
      worker.once('exit', () => reject(new Error('a helper thread stopped')));
    });
    gone.catch(() => undefined);
    return { worker, remote, gone, busy: 0 };
  });
  let turn = 0;
  return {
    size,
    async runTask(task) {
      const thread = threads[turn++ % size];
      thread.busy++;
      thread.worker.ref();
      try {
        await Promise.race([thread.remote.runTask(task), thread.gone]);
      } finally {
        if (--thread.busy === 0) thread.worker.unref();
      }
    },
  };
}

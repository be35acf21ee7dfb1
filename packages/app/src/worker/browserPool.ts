import type { WorkerPool, Task } from '@ritaglio/core';
import * as Comlink from 'comlink';

/** Helpers of the renderer, one for each further core up to three; nothing where memory cannot be shared. */
export function browserPool(): WorkerPool | undefined {
  const size = Math.min(3, navigator.hardwareConcurrency - 1);
  if (!self.crossOriginIsolated || size < 1) return undefined;
  const threads = Array.from({ length: size }, (_, i) => {
    const worker = new Worker(new URL('./pool.worker.ts', import.meta.url), { type: 'module', name: `pool ${i + 1}` });
    // One that is gone takes what it had begun with it: nobody waits for it.
    const gone = new Promise<never>((_resolve, reject) => {
      worker.addEventListener('error', (event) => reject(new Error(`a helper thread stopped (${event.message})`)));
    });
    gone.catch(() => undefined);
    return { remote: Comlink.wrap<{ runTask(task: Task): void }>(worker), gone };
  });
  let turn = 0;
  return {
    size,
    runTask: (task) => {
      const { remote, gone } = threads[turn++ % size];
      return Promise.race([remote.runTask(task), gone]);
    },
  };
}

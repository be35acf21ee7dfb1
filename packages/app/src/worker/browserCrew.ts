import type { Crew, Shift } from '@ritaglio/core';
import * as Comlink from 'comlink';

/** Helpers of the renderer, one for each further core up to three; nothing where memory cannot be shared. */
export function browserCrew(): Crew | undefined {
  const size = Math.min(3, navigator.hardwareConcurrency - 1);
  if (!self.crossOriginIsolated || size < 1) return undefined;
  const threads = Array.from({ length: size }, (_, i) => {
    const worker = new Worker(new URL('./crew.worker.ts', import.meta.url), { type: 'module', name: `crew ${i + 1}` });
    // One that is gone takes what it had begun with it: nobody waits for it.
    const gone = new Promise<never>((_resolve, reject) => {
      worker.addEventListener('error', (event) => reject(new Error(`a helper thread stopped (${event.message})`)));
    });
    gone.catch(() => undefined);
    return { remote: Comlink.wrap<{ join(shift: Shift): void }>(worker), gone };
  });
  let turn = 0;
  return {
    size,
    join: (shift) => {
      const { remote, gone } = threads[turn++ % size];
      return Promise.race([remote.join(shift), gone]);
    },
  };
}

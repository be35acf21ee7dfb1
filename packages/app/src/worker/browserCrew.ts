import type { Crew, Shift } from '@ritaglio/core';
import * as Comlink from 'comlink';

/** Helpers of the renderer, one for each further core up to three; nothing where memory cannot be shared. */
export function browserCrew(): Crew | undefined {
  const size = Math.min(3, navigator.hardwareConcurrency - 1);
  if (!self.crossOriginIsolated || size < 1) return undefined;
  const threads = Array.from({ length: size }, (_, i) =>
    Comlink.wrap<{ join(shift: Shift): void }>(
      new Worker(new URL('./crew.worker.ts', import.meta.url), { type: 'module', name: `crew ${i + 1}` }),
    ),
  );
  let turn = 0;
  return { size, join: (shift) => threads[turn++ % size].join(shift) };
}

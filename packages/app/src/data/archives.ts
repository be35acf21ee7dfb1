import * as Comlink from 'comlink';
import { archiveWork } from '../worker/archiveWork';

type Work = typeof archiveWork;

/** Has something done with an archive in a thread of its own, which ends with it: so does all the memory that it took. */
export async function withArchives<T>(work: (archives: Comlink.Remote<Work> | Work) => Promise<T>): Promise<T> {
  if (typeof Worker === 'undefined') return work(archiveWork);
  const worker = new Worker(new URL('../worker/archive.worker.ts', import.meta.url), { type: 'module', name: 'archives' });
  const fell = new Promise<never>((_, reject) =>
    worker.addEventListener('error', (e) => reject(new Error(e.message || 'what reads archives has stopped'))),
  );
  try {
    return await Promise.race([work(Comlink.wrap<Work>(worker)), fell]);
  } finally {
    worker.terminate();
  }
}

import * as Comlink from 'comlink';
import type { Renderer } from './render.worker';

/** The worker that computes has stopped: it ran out of memory, or a fault ended it. */
export class RendererStopped extends Error {
  override name = 'RendererStopped';
}

interface Running {
  worker: Worker;
  remote: Comlink.Remote<Renderer>;
  /** Rejects when the worker is given up. */
  stopped: Promise<never>;
  stop: (why: string) => void;
}

let running: Running | undefined;
/** Told when a new worker begins, which knows nothing yet. */
const forgotten: (() => void)[] = [];

/** How often a worker at work is asked whether it is there, and how long it may take to say so, ms. */
const askEvery = 5000;
const patience = 45_000;

function start(): Running {
  const worker = new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module', name: 'renderer' });
  let reject: (error: Error) => void = () => undefined;
  const stopped = new Promise<never>((_, no) => (reject = no));
  stopped.catch(() => undefined);
  const begun: Running = {
    worker,
    remote: Comlink.wrap<Renderer>(worker),
    stopped,
    stop: (why) => {
      if (running !== begun) return;
      running = undefined;
      worker.terminate();
      forgotten.forEach((tell) => tell());
      reject(new RendererStopped(why));
    },
  };
  worker.addEventListener('error', () => begun.stop('a fault ended it'));
  worker.addEventListener('messageerror', () => begun.stop('it sent what cannot be read'));
  return begun;
}

// A page that goes while its threads are being called up would take the browser's whole process along, and the page that comes in it: they
// end first.
globalThis.addEventListener?.('pagehide', () => running?.worker.terminate());

/** The one background renderer of this tab; a new one after it has stopped. */
export function renderer(): Comlink.Remote<Renderer> {
  running ??= start();
  return running.remote;
}

/** Has something done whenever a renderer has stopped. */
export function onForgotten(tell: () => void): void {
  forgotten.push(tell);
}

/** Waits for work of the renderer, and asks now and then whether it is still there. @throws RendererStopped when it is not */
export async function whileAlive<T>(work: Promise<T>): Promise<T> {
  const of = running;
  if (!of) return work;
  let done = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const ask = async (): Promise<void> => {
    const late = setTimeout(() => of.stop('it does not answer any more'), patience);
    await of.remote.ping().catch(() => undefined);
    clearTimeout(late);
    if (!done) timer = setTimeout(() => void ask(), askEvery);
  };
  timer = setTimeout(() => void ask(), askEvery);
  try {
    return await Promise.race([work, of.stopped]);
  } finally {
    done = true;
    clearTimeout(timer);
  }
}

import type { WorkerPool } from './parallelFor';

/** What every stage is given besides its inputs and parameters. */
export interface Context {
  /** Pixels of this rendering per pixel of the full-size shot, in (0, 1]. Lengths in a recipe are multiplied by it. */
  scale: number;
  /** Seed of every random choice; the same seed gives the same bytes. */
  seed: number;
  /** Aborting it makes the running stage reject with an `AbortError` at its next pause. */
  signal?: AbortSignal;
  /** Told what is being computed and how far it is, 0 to 1. */
  progress?: (what: string, fraction: number) => void;
  /** Threads that help; without them all is done in this one. */
  pool?: WorkerPool;
}

/** A context for full-size work with nobody watching. */
export function defaultContext(overrides: Partial<Context> = {}): Context {
  return { scale: 1, seed: 1, ...overrides };
}

/** Longest stretch of work between two chances to be cancelled, in milliseconds. */
const stretch = 24;
let lastPause = 0;

/**
 * Let the outside world in, now and then. Heavy loops await this between rows or iterations: at most every
 * 24 ms it gives the event loop one turn, so that a message carrying an abort can arrive, and then throws
 * the signal's reason if there was one. Between those turns it costs one clock reading.
 *
 * @throws the signal's reason (an `AbortError`) when aborted
 */
export async function pause(context: Context, what?: string, fraction?: number): Promise<void> {
  if (context.signal?.aborted) throw abortReason(context.signal);
  const now = Date.now();
  if (now - lastPause < stretch) return;
  if (what !== undefined) context.progress?.(what, fraction ?? 0);
  await nextTurn();
  lastPause = Date.now();
  if (context.signal?.aborted) throw abortReason(context.signal);
}

/** True for the error that an abort causes, which is not a fault. */
export function isAbort(error: unknown): boolean {
  return typeof error === 'object' && error !== null && (error as { name?: unknown }).name === 'AbortError';
}

function abortReason(signal: AbortSignal): unknown {
  if (isAbort(signal.reason)) return signal.reason;
  const error = new Error('cancelled');
  error.name = 'AbortError';
  return error;
}

const waiting: (() => void)[] = [];
let channel: MessageChannel | undefined;

/** One turn of the event loop, without the 4 ms that nested timers cost. */
function nextTurn(): Promise<void> {
  if (typeof setImmediate === 'function') return new Promise((resolve) => setImmediate(resolve));
  if (!channel) {
    channel = new MessageChannel();
    channel.port1.onmessage = () => waiting.shift()?.();
    // An idle channel must not keep a process alive that has nothing else to do.
    (channel.port1 as { unref?: () => void }).unref?.();
  }
  const { port2 } = channel;
  return new Promise((resolve) => {
    waiting.push(resolve);
    port2.postMessage(0);
  });
}

import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** What large pictures take is collected when the process holds so much more than after the last time, or so much at a turn, bytes. */
const more = 100e6;
const much = 1e9;

let collect: (() => void) | undefined;
/** What the process held after the last time, bytes. */
let held = 0;

/**
 * Lets go of pictures that are of no use any more. The engine sees their small handles only, and would let gigabytes of them gather; each
 * thread has its own. Cheap when there is nothing to do.
 *
 * @param isTurn much that was needed is not any more
 */
export function collectLarge(isTurn = false): void {
  const now = process.memoryUsage.rss();
  held = Math.min(held === 0 ? now : held, now);
  if (now < (isTurn ? much : held + more)) return;
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
  held = process.memoryUsage.rss();
}

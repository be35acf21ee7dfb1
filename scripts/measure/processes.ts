import { readdirSync, readFileSync } from 'node:fs';

/**
 * Sums up something of every process of a browser on this machine.
 *
 * @param file below /proc/PID
 * @param read a number from what is in it
 */
export function ofBrowsers(file: string, read: (text: string) => number): number {
  let sum = 0;
  for (const pid of readdirSync('/proc')) {
    if (!/^\d+$/.test(pid)) continue;
    try {
      if (readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('chromium')) sum += read(readFileSync(`/proc/${pid}/${file}`, 'utf8'));
    } catch {
      // It has ended meanwhile.
    }
  }
  return sum;
}

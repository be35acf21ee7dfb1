/** A mask as the lengths of its runs, clear first: a clip's masks take a hundredth of their room this way. */
export interface Runs {
  length: number;
  runs: Uint32Array;
}

export function runsOf(mask: Uint8Array): Runs {
  const runs: number[] = [];
  let value = 0;
  let from = 0;
  for (let p = 0; p <= mask.length; p++) {
    if (p < mask.length && (mask[p] ? 1 : 0) === value) continue;
    runs.push(p - from);
    from = p;
    value = 1 - value;
  }
  return { length: mask.length, runs: Uint32Array.from(runs) };
}

export function maskOfRuns({ length, runs }: Runs): Uint8Array {
  const out = new Uint8Array(length);
  let at = 0;
  runs.forEach((run, i) => {
    if (i % 2) out.fill(1, at, at + run);
    at += run;
  });
  return out;
}

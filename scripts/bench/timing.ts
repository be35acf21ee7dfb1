/** Runs that count. */
export const rounds = 3;

/** Median time of a few runs after one to warm up, ms. */
export async function time(work: () => unknown): Promise<number> {
  await work();
  const times: number[] = [];
  for (let k = 0; k < rounds; k++) times.push(await once(work));
  return median(times);
}

export function median(times: readonly number[]): number {
  return [...times].sort((a, b) => a - b)[times.length >> 1];
}

/** The library's way of doing the like, to be timed in turns with ours. */
export interface Other {
  what: string;
  work: () => unknown;
}

/** Two ways of doing the like in turns, so that both meet the machine alike. */
export async function timeBoth(one: () => unknown, other: () => unknown): Promise<[number, number]> {
  const turns = 2 * rounds + 1;
  const times: [number, number][] = [];
  for (let k = 0; k <= turns; k++) times.push([await once(one), await once(other)]);
  const middle = (side: 0 | 1): number => median(times.slice(1).map((t) => t[side]));
  return [middle(0), middle(1)];
}

export async function once(work: () => unknown): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

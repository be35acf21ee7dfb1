import { createStore, type StoreApi } from 'zustand';
import { letGoOf, type SeriesShot } from '../../data/series';

/** A shot of a series as it is listed. */
export interface SeriesRow extends SeriesShot {
  /** The job it was opened as. */
  job?: string;
}

/** A job's series: what is listed, and the pictures that were brought in for it. */
interface Series {
  rows: SeriesRow[];
  held: string[];
}

const kept = new WeakMap<object, StoreApi<Series>>();

/** The series of an open job: it stays while the job is open, whatever step is looked at. */
export function seriesOf(job: object): StoreApi<Series> {
  let found = kept.get(job);
  if (!found) kept.set(job, (found = createStore<Series>(() => ({ rows: [], held: [] }))));
  return found;
}

/** Ends a job's series: pictures of shots that became no job go with it. */
export async function endSeries(job: object): Promise<void> {
  const { rows, held } = seriesOf(job).getState();
  kept.delete(job);
  rows.forEach((r) => r.print?.close());
  if (held.length > 0) await letGoOf(held);
}

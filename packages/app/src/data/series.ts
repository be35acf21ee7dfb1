import { forShot, type Check, type Recipe } from '@ritaglio/core';
import { keepJob, nameApart, withMultiplied } from './jobs';
import { keepPicture } from './pictures';
import { store } from './store';
import { say } from '../words/say';

/** A shot of a series: its recipe, and what was measured of it. */
export interface SeriesShot {
  name: string;
  picture: string;
  recipe: Recipe;
  /** Where it is wrong or worth a look; nothing where it could not be worked out. */
  checks?: Check[];
  print?: ImageBitmap;
  /** It leaves with the others. */
  taken: boolean;
  /** Why it could not be worked out. */
  failed?: string;
}

/** What the series needs of whoever computes. */
export interface SeriesWork {
  /** Marks of the subject that stands out most; none where nothing does. */
  find: (recipe: Recipe) => Promise<Recipe['subjects'][number]['marks']>;
  checks: (recipe: Recipe) => Promise<Check[]>;
  print: (recipe: Recipe) => Promise<ImageBitmap>;
}

/** One more shot with a job's background, lens, match and finish: its subject is found, or cut as the job cuts. @throws Refused when the file cannot be read */
export async function seriesShot(job: Recipe, file: File, work: SeriesWork): Promise<SeriesShot> {
  const picture = await keepPicture(file.name, file);
  const name = file.name.replace(/\.[^.]+$/, '');
  const plain = withMultiplied({ ...forShot(job, picture.id, { width: picture.width, height: picture.height }), name }, picture);
  const shot = { name, picture: picture.id, taken: false };
  const byMarks = job.subjects[0].cut === 'marks';
  const marks = byMarks ? await work.find(plain) : [];
  const recipe = { ...plain, subjects: plain.subjects.map((s) => ({ ...s, marks })) };
  if (byMarks && marks.length === 0)
    return { ...shot, recipe, failed: say('Nothing stands out enough to be taken for the subject: open it as a job and mark it.') };
  const checks = await work.checks(recipe);
  return { ...shot, recipe, checks, print: await work.print(recipe), taken: true };
}

/** How many checks are wrong, and how many are worth a look. */
export function doubtOf({ checks = [] }: Pick<SeriesShot, 'checks'>): { wrong: number; look: number } {
  const count = (verdict: Check['verdict']): number => checks.filter((c) => c.verdict === verdict).length;
  return { wrong: count('wrong'), look: count('look') };
}

/** The doubtful first: what failed, then by what is wrong, then by what is worth a look; else as they came. */
export function doubtfulFirst(shots: readonly SeriesShot[]): SeriesShot[] {
  const worth = (s: SeriesShot): number => (s.failed ? 1e6 : 1000 * doubtOf(s).wrong + doubtOf(s).look);
  return [...shots].sort((a, b) => worth(b) - worth(a));
}

/** A shot of a series as a job of its own, to be corrected. @returns the job's identifier */
export async function asJob({ name, picture, recipe }: SeriesShot, pictures: readonly string[]): Promise<string> {
  const own = await nameApart(name);
  return keepJob({ ...recipe, name: own }, [...new Set([picture, ...pictures])]);
}

/** Lets go of pictures that no job holds. */
export async function letGoOf(pictures: readonly string[]): Promise<void> {
  await store.transaction('rw', store.jobs, store.pictures, async () => {
    const held = new Set((await store.jobs.toArray()).flatMap((j) => j.pictures));
    await store.pictures.bulkDelete(pictures.filter((p) => !held.has(p)));
  });
}

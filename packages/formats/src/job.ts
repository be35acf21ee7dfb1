import { picturesOf, readRecipe, type Recipe } from '@ritaglio/core';
import { strFromU8, strToU8, zipSync } from 'fflate';
import { FormatError } from './header';
import { unzipped } from './zip';

/** A picture file inside a job, untouched. */
export interface JobPicture {
  id: string;
  /** The name it had when it came in. */
  name: string;
  bytes: Uint8Array;
}

/** A kept state of a job. */
export interface JobTake {
  name: string;
  recipe: Recipe;
}

/** A job in one file: the recipe, its takes, and the original pictures. */
export interface JobFile {
  recipe: Recipe;
  takes?: JobTake[];
  pictures: JobPicture[];
}

const version = 1;

/** The job archive: a zip of `job.json`, `pictures/…` and `takes/…`. The same job gives the same bytes. */
export function writeJob(job: JobFile): Uint8Array<ArrayBuffer> {
  const files: Record<string, [Uint8Array, { level: 0 | 6; mtime: string }]> = {};
  const mtime = '2026-01-01T00:00:00';
  const listed = job.pictures.map((p, i) => ({ id: p.id, name: p.name, file: `pictures/${i + 1}-${safe(p.name)}` }));
  const sheet = { ritaglio: 'job', version, recipe: job.recipe, pictures: listed };
  files['job.json'] = [strToU8(JSON.stringify(sheet, null, 1)), { level: 6, mtime }];
  job.pictures.forEach((p, i) => (files[listed[i].file] = [p.bytes, { level: 0, mtime }]));
  job.takes?.forEach(
    (t, i) => (files[`takes/${String(i + 1).padStart(3, '0')}.json`] = [strToU8(JSON.stringify(t, null, 1)), { level: 6, mtime }]),
  );
  return zipSync(files) as Uint8Array<ArrayBuffer>;
}

function safe(name: string): string {
  return name.replace(/[^\w.-]+/g, '-').slice(-80);
}

/** True for a zip, which a job archive is. */
export function looksLikeJob(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
}

/** @throws FormatError with a sentence that names the file; RecipeError for a wrong recipe */
export function readJob(name: string, bytes: Uint8Array): JobFile {
  const files = unzipped(name, bytes);
  if (!files['job.json']) throw new FormatError(`“${name}” is an archive without a job.json. A job saved by this program has one.`);
  let sheet: { version?: unknown; recipe?: unknown; pictures?: unknown };
  try {
    sheet = JSON.parse(strFromU8(files['job.json'])) as typeof sheet;
  } catch {
    throw new FormatError(`“${name}”: its job.json is not valid JSON. Save the job again where it came from.`);
  }
  if (typeof sheet.version === 'number' && sheet.version > version) {
    throw new FormatError(`“${name}” was saved by a newer program (job version ${sheet.version}; up to ${version} can be read).`);
  }
  const recipe = readRecipe(sheet.recipe);
  const listed = Array.isArray(sheet.pictures) ? (sheet.pictures as { id?: unknown; name?: unknown; file?: unknown }[]) : [];
  const pictures = listed.map(({ id, name: original, file }) => {
    const content = typeof file === 'string' ? files[file] : undefined;
    if (typeof id !== 'string' || !content) throw new FormatError(`“${name}” lists the picture ${String(original)} but does not hold it.`);
    return { id, name: typeof original === 'string' ? original : id, bytes: content };
  });
  const missing = picturesOf(recipe).find((id) => !pictures.some((p) => p.id === id));
  if (missing) throw new FormatError(`“${name}” does not hold the picture ${missing} that its recipe uses.`);
  return { recipe, pictures, takes: takesIn(files, name) };
}

function takesIn(files: Record<string, Uint8Array>, name: string): JobTake[] {
  return Object.keys(files)
    .filter((f) => /^takes\/.+\.json$/.test(f))
    .sort()
    .map((f) => {
      let take: { name?: unknown; recipe?: unknown };
      try {
        take = JSON.parse(strFromU8(files[f])) as typeof take;
      } catch {
        throw new FormatError(`“${name}”: its ${f} is not valid JSON. Save the job again where it came from.`);
      }
      return { name: typeof take.name === 'string' ? take.name : f, recipe: readRecipe(take.recipe) };
    });
}

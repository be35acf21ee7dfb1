import type { Recipe } from '@ritaglio/core';
import { FormatError, readJob, readOpenRaster, writeJob, type JobFile, type JobTake } from '@ritaglio/formats';
import { zipSync } from 'fflate';

/** What goes into a job's file. */
export interface ToKeep {
  recipe: Recipe;
  takes: JobTake[];
  pictures: { id: string; name: string; blob: Blob }[];
}

const bytesOf = async (blob: Blob): Promise<Uint8Array> => new Uint8Array(await blob.arrayBuffer());

/** A recipe as text, whatever the order of its keys. */
const inOrder = (recipe: Recipe): string =>
  JSON.stringify(recipe, (_, v: unknown) =>
    typeof v === 'object' && v !== null && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  );

/** What is read from archives and written into them; done beside the page, which goes on. */
export const archiveWork = {
  /** @throws FormatError, RecipeError */
  readJob: async (name: string, file: Blob): Promise<JobFile> => readJob(name, await bytesOf(file)),

  /** @throws FormatError */
  readLayers: async (name: string, file: Blob): Promise<ReturnType<typeof readOpenRaster>> => readOpenRaster(name, await bytesOf(file)),

  /** The job in one file, read once more before it is handed over. @throws FormatError when it does not come back */
  async writeJob({ recipe, takes, pictures }: ToKeep): Promise<Blob> {
    const bytes = writeJob({
      ...{ recipe, takes },
      pictures: await Promise.all(pictures.map(async ({ id, name, blob }) => ({ id, name, bytes: await bytesOf(blob) }))),
    });
    const back = readJob(recipe.name, bytes);
    if (back.pictures.length !== pictures.length || inOrder(back.recipe) !== inOrder(recipe)) {
      throw new FormatError('The job’s file did not come back as it was written. Nothing was lost; try again.');
    }
    return new Blob([bytes], { type: 'application/zip' });
  },

  /** Files that are packed already, in one. */
  zip: (files: Record<string, Uint8Array>): Promise<Blob> =>
    Promise.resolve(new Blob([zipSync(files, { level: 0 }) as Uint8Array<ArrayBuffer>], { type: 'application/zip' })),
};

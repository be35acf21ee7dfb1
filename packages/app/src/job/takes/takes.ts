import type { Recipe } from '@ritaglio/core';
import { toast } from 'sonner';
import { store as kept } from '../../data/store';
import { givePictures } from '../../worker/givePictures';
import { renderer } from '../../worker/renderer';
import type { JobStore } from '../jobStore';
import { momentNow } from '../moments';
import { say } from '../../words/say';

/** Width of a take's print, px. */
const printWidth = 480;
/** F-numbers of a row. */
const row = [1.4, 2, 2.8, 4, 5.6];

/** Keeps the present state under a name; its print is made afterwards. */
export async function keepTake(job: string, store: JobStore, name?: string): Promise<void> {
  const n = await kept.takes.where('job').equals(job).count();
  const { recipe } = store.getState();
  const called = name?.trim() ? name.trim() : say('take {n}', { n: n + 1 });
  await put(job, called, recipe);
  toast(say('Kept as “{called}”.', { called }));
}

/** Keeps the present state at five apertures. */
export async function keepRow(job: string, store: JobStore): Promise<void> {
  const { recipe } = store.getState();
  for (const fNumber of row) await put(job, `f/${fNumber}`, { ...recipe, lens: { ...recipe.lens, fNumber } });
  toast(say('Kept at f/{row}.', { row: row.join(', ') }));
}

async function put(job: string, name: string, recipe: Recipe): Promise<void> {
  const id = crypto.randomUUID();
  await kept.takes.put({ id, job, name, made: Date.now() + Math.random(), recipe });
  await givePictures(recipe);
  const bitmap = await renderer().finished(momentNow(recipe), Math.min(1, printWidth / recipe.frame.width));
  await kept.takes.update(id, { print: await printOf(bitmap) });
}

async function printOf(bitmap: ImageBitmap): Promise<Blob> {
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.85 });
}

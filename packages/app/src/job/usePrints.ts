import { useEffect } from 'react';
import { store as kept } from '../data/store';
import type { OpenJob } from './jobStore';
import type { Products } from './useProducts';

/** Keeps small before and after prints of the job for the shelf whenever the answer has settled. */
export function usePrints(job: OpenJob, { shown, settled }: Products): void {
  useEffect(() => {
    const { shot, finished } = shown;
    if (!settled || !shot || !finished || !job.keeping.getState().writing) return;
    Promise.all([printOf(shot.bitmap), printOf(finished.bitmap)]).then(
      ([before, after]) => kept.jobs.update(job.id, { before, after }),
      // Prints are made again at the next answer.
      () => undefined,
    );
  }, [job, shown, settled]);
}

function printOf(bitmap: ImageBitmap): Promise<Blob> {
  const width = 480;
  const height = Math.max(1, Math.round((width * bitmap.height) / bitmap.width));
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d');
  if (context) context.imageSmoothingQuality = 'high';
  context?.drawImage(bitmap, 0, 0, width, height);
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.85 });
}

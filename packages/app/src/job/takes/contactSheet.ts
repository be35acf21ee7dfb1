import type { Recipe } from '@ritaglio/core';
import { givePictures } from '../../worker/givePictures';
import { renderer } from '../../worker/renderer';
import { momentNow } from '../moments';

/** Longest side of a print, room around it and for its name, px. */
const print = 720;
const room = 24;
const line = 44;

/**
 * Prints of takes on one picture, row by row, each with its name below.
 *
 * @returns a PNG
 */
export async function contactSheet(title: string, takes: readonly { name: string; recipe: Recipe }[]): Promise<Blob> {
  const bitmaps: ImageBitmap[] = [];
  for (const { recipe } of takes) {
    await givePictures(recipe);
    const now = momentNow(recipe);
    bitmaps.push(await renderer().finished(now, Math.min(1, print / Math.max(now.frame.width, now.frame.height))));
  }
  const columns = Math.ceil(Math.sqrt(bitmaps.length));
  const rows = Math.ceil(bitmaps.length / columns);
  const [wide, high] = [Math.max(...bitmaps.map((b) => b.width)), Math.max(...bitmaps.map((b) => b.height))];
  const canvas = new OffscreenCanvas(columns * (wide + room) + room, rows * (high + line + room) + line + room);
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#e4e3df';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.fillStyle = '#20211f';
  context.font = '700 24px "Schibsted Grotesk Variable"';
  context.fillText(title, room, room + 20);
  context.font = '600 20px "Schibsted Grotesk Variable"';
  bitmaps.forEach((bitmap, i) => {
    const x = room + (i % columns) * (wide + room);
    const y = room + line + Math.floor(i / columns) * (high + line + room);
    context.drawImage(bitmap, x + (wide - bitmap.width) / 2, y + (high - bitmap.height) / 2);
    context.fillText(takes[i].name, x, y + high + 30, wide);
    bitmap.close();
  });
  return canvas.convertToBlob({ type: 'image/png' });
}

import { store } from './store';

/** A picture as the browser itself shows it, until the renderer has read it. */
export interface FirstLook {
  bitmap: ImageBitmap;
  /** Pixels of the bitmap per full-size pixel. */
  scale: number;
}

/** Longest side, px: enough to fill the window. */
const side = 1800;
const ready = new Map<string, FirstLook>();

/** Decodes a file the browser knows, reduced for the screen. @throws what the browser throws when it cannot */
export async function lookAt(blob: Blob): Promise<FirstLook & { width: number; height: number }> {
  const whole = await createImageBitmap(blob, { imageOrientation: 'from-image' });
  const { width, height } = whole;
  const scale = Math.min(1, side / Math.max(width, height));
  if (scale === 1) return { bitmap: whole, scale, width, height };
  const size = { resizeWidth: Math.round(width * scale), resizeHeight: Math.round(height * scale), resizeQuality: 'medium' as const };
  const bitmap = await createImageBitmap(whole, size);
  whole.close();
  return { bitmap, scale, width, height };
}

/** Hands a picture that was just decoded on to the job that is about to open. */
export function handOn(id: string, look: FirstLook): void {
  ready.get(id)?.bitmap.close();
  ready.set(id, look);
}

/** The picture at once, if the browser can show it by itself. */
export async function firstLook(id: string): Promise<FirstLook | undefined> {
  const handed = ready.get(id);
  if (handed) {
    ready.delete(id);
    return handed;
  }
  const kept = await store.pictures.get(id).catch(() => undefined);
  if (!kept || kept.multiplied) return undefined;
  // Kinds that the browser does not read come from the renderer.
  const look = await lookAt(kept.blob).catch(() => undefined);
  return look && { bitmap: look.bitmap, scale: look.bitmap.width / kept.width };
}

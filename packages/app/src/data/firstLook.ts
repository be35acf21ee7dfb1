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

/**
 * Decodes a file the browser knows, reduced for the screen.
 *
 * @param upright its size where it is a JPEG that lies upright: such a one is decoded at a part of its size, which is quick
 * @throws what the browser throws when it cannot
 */
export async function lookAt(
  blob: Blob,
  upright?: { width: number; height: number },
): Promise<FirstLook & { width: number; height: number }> {
  if (upright && Math.max(upright.width, upright.height) > side && typeof ImageDecoder === 'function')
    return { ...(await reduced(blob, upright)), ...upright };
  const whole = await createImageBitmap(blob, { imageOrientation: 'from-image' });
  const { width, height } = whole;
  const scale = Math.min(1, side / Math.max(width, height));
  if (scale === 1) return { bitmap: whole, scale, width, height };
  const size = { resizeWidth: Math.round(width * scale), resizeHeight: Math.round(height * scale), resizeQuality: 'medium' as const };
  const bitmap = await createImageBitmap(whole, size);
  whole.close();
  return { bitmap, scale, width, height };
}

/** A JPEG at the eighths of its size that come next below the screen's. */
async function reduced(blob: Blob, { width, height }: { width: number; height: number }): Promise<FirstLook> {
  const scale = side / Math.max(width, height);
  const [desiredWidth, desiredHeight] = [Math.round(width * scale), Math.round(height * scale)];
  const decoder = new ImageDecoder({ data: await blob.arrayBuffer(), type: 'image/jpeg', desiredWidth, desiredHeight });
  try {
    const { image, complete } = await decoder.decode();
    const bitmap = await createImageBitmap(image);
    image.close();
    if (!complete) throw new DOMException('the file is cut short', 'EncodingError');
    return { bitmap, scale: bitmap.width / width };
  } finally {
    decoder.close();
  }
}

/** Hands a picture that was just decoded on to the job that is about to open. */
export function handOn(id: string, look: FirstLook): void {
  ready.get(id)?.bitmap.close();
  ready.set(id, look);
}

/** What was handed on, taken; nothing when there was nothing. */
export function handedOn(id: string): FirstLook | undefined {
  const handed = ready.get(id);
  ready.delete(id);
  return handed;
}

/** The picture as it is kept, if the browser can show it by itself. */
export async function firstLook(id: string): Promise<FirstLook | undefined> {
  const kept = await store.pictures.get(id).catch(() => undefined);
  if (!kept || kept.multiplied) return undefined;
  // Kinds that the browser does not read come from the renderer.
  const look = await lookAt(kept.blob).catch(() => undefined);
  return look && { bitmap: look.bitmap, scale: look.bitmap.width / kept.width };
}

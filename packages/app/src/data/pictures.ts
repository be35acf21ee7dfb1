import { FormatError, jpegOrientation, readHeader } from '@ritaglio/formats';
import { renderer } from '../worker/renderer';
import { handOn, lookAt, type FirstLook } from './firstLook';
import { Refused } from './refused';
import { store, type KeptPicture } from './store';

/**
 * Reads a file as a picture and keeps it as it is. The same content is kept once.
 *
 * @param opens a job is about to open with it: it is handed on to be seen at once
 * @throws Refused
 */
export async function keepPicture(name: string, blob: Blob, opens = false): Promise<KeptPicture> {
  // Both read the whole file, side by side.
  const looking = quickFacts(name, blob);
  looking.catch(() => undefined);
  const id = await contentHash(blob);
  const known = await store.pictures.get(id);
  const quick = await looking;
  if (quick && opens) handOn(id, quick.look);
  else quick?.look.bitmap.close();
  if (known) return known;
  const facts = quick?.facts ?? (await renderer().inspect(name, blob));
  if ('refusal' in facts) throw new Refused(facts.refusal);
  const picture = { id, name, blob, ...facts };
  await store.pictures.put(picture);
  return picture;
}

/** Keeps a file as it is, without looking into it. The same content is kept once. */
export async function keepFile(name: string, blob: Blob, size: { width: number; height: number }): Promise<KeptPicture> {
  const id = await contentHash(blob);
  const known = await store.pictures.get(id);
  if (known) return known;
  const file = { id, name, blob, ...size, notes: [] };
  await store.pictures.put(file);
  return file;
}

/** A JPEG has nothing to be looked into but its size: the browser reads it, and the picture is there at once. */
async function quickFacts(
  name: string,
  blob: Blob,
): Promise<{ facts: Pick<KeptPicture, 'width' | 'height' | 'notes'>; look: FirstLook } | undefined> {
  if (typeof createImageBitmap !== 'function') return undefined;
  try {
    // The whole file: one that was cut short is for the renderer to refuse.
    const bytes = new Uint8Array(await blob.arrayBuffer());
    const header = readHeader(name, bytes);
    // Of four inks there is something to be said.
    if (header.kind !== 'jpeg' || header.inks) return undefined;
    const { bitmap, scale, width, height } = await lookAt(blob, jpegOrientation(bytes) === 1 ? header : undefined);
    return { facts: { width, height, notes: [] }, look: { bitmap, scale } };
  } catch (error) {
    // What is wrong with it the renderer tells as well, and better than the browser.
    if (error instanceof FormatError || error instanceof DOMException) return undefined;
    throw error;
  }
}

/** A name for what a file holds. */
export async function contentHash(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await blob.arrayBuffer());
  return Array.from(new Uint8Array(digest).subarray(0, 16), (b) => b.toString(16).padStart(2, '0')).join('');
}

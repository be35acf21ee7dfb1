import { renderer } from '../worker/renderer';
import { store, type KeptPicture } from './store';

/** A file that was refused, with a sentence. */
export class Refused extends Error {
  override name = 'Refused';
}

/** Reads a file as a picture and keeps it as it is. The same content is kept once. @throws Refused */
export async function keepPicture(name: string, blob: Blob): Promise<KeptPicture> {
  const id = await contentHash(blob);
  const known = await store.pictures.get(id);
  if (known) return known;
  const facts = await renderer().inspect(name, blob);
  if ('refusal' in facts) throw new Refused(facts.refusal);
  const picture = { id, name, blob, ...facts };
  await store.pictures.put(picture);
  return picture;
}

async function contentHash(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await blob.arrayBuffer());
  return Array.from(new Uint8Array(digest).subarray(0, 16), (b) => b.toString(16).padStart(2, '0')).join('');
}

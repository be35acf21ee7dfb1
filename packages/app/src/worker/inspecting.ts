import { FormatError, readPicture } from '@ritaglio/formats';
import { browserCodec } from './browserCodec';
import type { PictureFacts, Refusal } from './protocol';
import type { VideoFacts } from './videoFile';

/** What reads and writes videos comes when there is one. */
export const videos = () => import('./videoFile');

/** Reads a file as a picture, or says why not. */
export async function inspect(name: string, blob: Blob): Promise<PictureFacts | Refusal> {
  try {
    const { samples, notes, multiplied } = await readPicture(name, new Uint8Array(await blob.arrayBuffer()), browserCodec);
    return { width: samples.width, height: samples.height, notes, ...(multiplied && { multiplied }) };
  } catch (error) {
    if (error instanceof FormatError) return { refusal: error.message };
    throw error;
  }
}

/** Reads a file as a video, or says why not. */
export async function inspectVideo(name: string, blob: Blob): Promise<VideoFacts | Refusal> {
  const { VideoFile, VideoError } = await videos();
  try {
    return (await VideoFile.open(name, blob)).facts;
  } catch (error) {
    return {
      refusal: error instanceof VideoError ? error.message : `“${name}” is a damaged video (${String(error)}). Copy or export it again.`,
    };
  }
}

/** Reads a file as sound and tells how long it lasts, s, or says why not. */
export async function inspectSound(name: string, blob: Blob): Promise<{ seconds: number } | Refusal> {
  const { soundIn, VideoError } = await videos();
  try {
    return { seconds: await soundIn(name, blob) };
  } catch (error) {
    return { refusal: error instanceof VideoError ? error.message : `“${name}” is a damaged sound file (${String(error)}).` };
  }
}

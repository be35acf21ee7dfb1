import { fromSamples, resizePicture, scaledSize, toRgba8 } from '@ritaglio/core';
import { FormatError, readPicture } from '@ritaglio/formats';
import { browserCodec, encoded } from './browserCodec';
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

/** A small print of a picture that the browser cannot show by itself; nothing when it cannot be read. */
export async function printOf(name: string, blob: Blob, longest: number): Promise<Blob | undefined> {
  try {
    const { samples } = await readPicture(name, new Uint8Array(await blob.arrayBuffer()), browserCodec);
    const { width, height } = scaledSize(samples.width, samples.height, Math.min(1, longest / Math.max(samples.width, samples.height)));
    const print = await encoded('image/webp', toRgba8(resizePicture(fromSamples(samples), width, height)), width, height, 90);
    return new Blob([print as Uint8Array<ArrayBuffer>], { type: 'image/webp' });
  } catch (error) {
    if (error instanceof FormatError) return undefined;
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

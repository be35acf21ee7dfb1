import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { fromSamples, resizePicture, scaledSize, type Mark, type Picture, type PictureSource, type Plane } from '@ritaglio/core';
import { readPicture } from '@ritaglio/formats';
import { nodeCodec } from '../../packages/cli/src/files';

export const root = join(fileURLToPath(new URL('.', import.meta.url)), '../..');

export async function samplesAt(path: string): Promise<Awaited<ReturnType<typeof readPicture>>['samples']> {
  return (await readPicture(path, new Uint8Array(readFileSync(join(root, path))), nodeCodec)).samples;
}

/** A demo picture in linear light. */
export async function pictureAt(path: string): Promise<Picture> {
  return fromSamples(await samplesAt(path));
}

/** A true matte: the first channel as numbers. */
export async function matteAt(path: string): Promise<Plane> {
  const s = await samplesAt(path);
  const full = s.data instanceof Uint16Array ? 65535 : 255;
  return {
    width: s.width,
    height: s.height,
    data: Float32Array.from({ length: s.width * s.height }, (_, i) => s.data[i * s.channels] / full),
  };
}

/** The strokes that come with a demo picture. */
export function strokesOf(name: string): Mark[] {
  return (JSON.parse(readFileSync(join(root, `demo/truth/${name}/strokes.json`), 'utf8')) as { strokes: Mark[] }).strokes;
}

/** 1 where the true opacity is neither clear nor opaque. */
export function undecidedOf(truth: Plane): Float32Array {
  return truth.data.map((a) => (a > 0 && a < 1 ? 1 : 0));
}

/** The pictures of a demo job. */
export function sourceOf(pictures: Record<string, Picture>): PictureSource {
  return {
    key: (id) => id,
    load: (id, scale) => {
      const p = pictures[id];
      const { width, height } = scaledSize(p.width, p.height, scale);
      return Promise.resolve(resizePicture(p, width, height));
    },
  };
}

import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { fromSamples, type Recipe, type Picture, type Plane } from '@ritaglio/core';
import { readPicture } from '@ritaglio/formats';
import { nodeCodec } from '../../packages/cli/src/files';

export const root = join(fileURLToPath(new URL('.', import.meta.url)), '../..');

async function samplesAt(path: string): Promise<Awaited<ReturnType<typeof readPicture>>['samples']> {
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

/** The strokes that come with a demo picture, or its careful ones. */
export function strokesOf(name: string, which: 'strokes' | 'careful' = 'strokes'): Recipe['subjects'][number]['marks'] {
  return (
    JSON.parse(readFileSync(join(root, `demo/truth/${name}/${which}.json`), 'utf8')) as { strokes: Recipe['subjects'][number]['marks'] }
  ).strokes;
}

/** 1 where the true opacity is neither clear nor opaque. */
export function undecidedOf(truth: Plane): Float32Array {
  return truth.data.map((a) => (a > 0 && a < 1 ? 1 : 0));
}

/** A demo job's file. */
export function jobAt(name: string): { recipe: unknown } {
  return JSON.parse(readFileSync(join(root, `demo/jobs/${name}.json`), 'utf8')) as { recipe: unknown };
}

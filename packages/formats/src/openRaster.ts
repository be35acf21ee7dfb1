import type { Samples } from '@ritaglio/core';
import { strFromU8, strToU8, zipSync } from 'fflate';
import { decode } from 'fast-png';
import { FormatError } from './header';
import { writePng } from './picture';
import { unzipped } from './zip';

/** A layer of an OpenRaster file: 8-bit RGBA of the canvas's size or smaller, straight opacity. */
export interface RasterLayer {
  name: string;
  samples: Samples;
  x: number;
  y: number;
  /** 0 to 1. */
  opacity: number;
  /** A mode of the W3C set, such as `normal` or `screen`. */
  blend: string;
  hidden: boolean;
}

/** A layered picture; the first layer lies lowest. */
export interface LayeredPicture {
  width: number;
  height: number;
  layers: RasterLayer[];
}

const mimetype = 'image/openraster';
const mtime = '2026-01-01T00:00:00';
const operation = (blend: string): string => (blend === 'normal' ? 'svg:src-over' : `svg:${blend}`);
const escaped = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
const unescaped = (text: string): string =>
  text
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&amp;/g, '&');

/**
 * A layered picture as an OpenRaster file (the open layered format: a zip whose first entry is its mimetype, stored): one PNG a layer,
 * the merged picture and a small one. The same layers give the same bytes.
 *
 * @param merged all of it put together, as it is to be seen where layers are not read
 * @param small of at most 256 px
 */
export function writeOpenRaster({ width, height, layers }: LayeredPicture, merged: Samples, small: Samples): Uint8Array<ArrayBuffer> {
  const store = { level: 0 as const, mtime };
  const files: Record<string, [Uint8Array, typeof store]> = { mimetype: [strToU8(mimetype), store] };
  // The file lists the topmost first.
  const stack = [...layers].reverse().map((layer, i) => {
    const src = `data/layer-${layers.length - i}.png`;
    const shown = layer.hidden ? 'hidden' : 'visible';
    return `  <layer name="${escaped(layer.name)}" src="${src}" x="${layer.x}" y="${layer.y}" opacity="${layer.opacity}" visibility="${shown}" composite-op="${operation(layer.blend)}"/>`; // prettier-ignore
  });
  const xml = `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.3" w="${width}" h="${height}">\n <stack>\n${stack.join('\n')}\n </stack>\n</image>\n`;
  files['stack.xml'] = [strToU8(xml), store];
  layers.forEach((layer, i) => (files[`data/layer-${i + 1}.png`] = [writePng(layer.samples), store]));
  files['mergedimage.png'] = [writePng(merged), store];
  files['Thumbnails/thumbnail.png'] = [writePng(small), store];
  return zipSync(files) as Uint8Array<ArrayBuffer>;
}

/** True for an OpenRaster file: a zip that begins with its mimetype. */
export function looksLikeOpenRaster(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && strFromU8(bytes.subarray(30, 38 + mimetype.length)).startsWith(`mimetype${mimetype}`);
}

const attribute = (tag: string, name: string): string | undefined => new RegExp(`\\s${name}="([^"]*)"`).exec(tag)?.[1];

/** The layers of an OpenRaster file, the lowest first; groups are taken apart. @throws FormatError with a sentence that names the file */
export function readOpenRaster(name: string, bytes: Uint8Array): LayeredPicture & { merged?: Samples } {
  const files = unzipped(name, bytes);
  if (!files['stack.xml']) throw new FormatError(`“${name}” is an OpenRaster file without a stack.xml. Save it again where it came from.`);
  const xml = strFromU8(files['stack.xml']);
  const image = /<image\b[^>]*>/.exec(xml)?.[0] ?? '';
  const [width, height] = ['w', 'h'].map((a) => Number(attribute(image, a)));
  if (!(width > 0 && height > 0 && width <= 30_000 && height <= 30_000)) throw new FormatError(`“${name}” says no size that can be used.`);
  const layers = [...xml.matchAll(/<layer\b[^>]*>/g)].map(([tag]): RasterLayer => {
    const src = attribute(tag, 'src') ?? '';
    if (!files[src]) throw new FormatError(`“${name}” lists the layer ${src || '(without a file)'} but does not hold it.`);
    const number = (a: string, otherwise: number): number => {
      const v = Number(attribute(tag, a) ?? otherwise);
      return Number.isFinite(v) ? v : otherwise;
    };
    return {
      name: unescaped(attribute(tag, 'name') ?? src),
      samples: samplesOf(name, src, files[src]),
      x: Math.round(number('x', 0)),
      y: Math.round(number('y', 0)),
      opacity: Math.min(1, Math.max(0, number('opacity', 1))),
      blend: (attribute(tag, 'composite-op') ?? 'svg:src-over').replace('svg:', '').replace('src-over', 'normal'),
      hidden: attribute(tag, 'visibility') === 'hidden',
    };
  });
  const merged = files['mergedimage.png'];
  return { width, height, layers: layers.reverse(), ...(merged && { merged: samplesOf(name, 'mergedimage.png', merged) }) };
}

function samplesOf(name: string, file: string, bytes: Uint8Array): Samples {
  try {
    const { width, height, channels, data } = decode(bytes, { checkCrc: true });
    return { width, height, channels, data };
  } catch {
    throw new FormatError(`“${name}”: its ${file} is a damaged PNG. Save it again where it came from.`);
  }
}

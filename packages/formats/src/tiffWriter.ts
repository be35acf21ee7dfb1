import type { Samples } from '@ritaglio/core';
import { profileOf } from './profiles';

const even = (n: number): number => n + (n & 1);

/** A plain TIFF: one picture, rows as they are, 8 or 16 bits, grey, RGB or RGBA with straight opacity, with its profile. */
export function writeTiff({ width, height, channels, data, space = 'srgb' }: Samples): Uint8Array<ArrayBuffer> {
  const bits = data instanceof Uint16Array ? 16 : 8;
  const size = width * height * channels * (bits / 8);
  const short = 3;
  const long = 4;
  const bytes = 7;
  const list = (values: number[]): number[] => values;
  const depths = list(new Array<number>(channels).fill(bits));
  const tags: [number, number, number[]][] = [
    [256, long, [width]],
    [257, long, [height]],
    [258, short, depths],
    [259, short, [1]],
    [262, short, [channels < 3 ? 1 : 2]],
    [273, long, [0]],
    [277, short, [channels]],
    [278, long, [height]],
    [279, long, [size]],
    [284, short, [1]],
    // Opacity that colours are not multiplied with.
    ...(channels === 2 || channels === 4 ? [[338, short, [2]] as [number, number, number[]]] : []),
    ...(channels >= 3 ? [[34675, bytes, [...profileOf(space)]] as [number, number, number[]]] : []),
  ];
  const directory = 8;
  const after = directory + 2 + 12 * tags.length + 4;
  const long16 = tags
    .filter(([, kind, v]) => kind !== long && v.length > 2)
    .reduce((sum, [, kind, v]) => sum + even((kind === short ? 2 : 1) * v.length), 0);
  const from = after + long16;
  const out = new Uint8Array(from + size);
  const view = new DataView(out.buffer);
  view.setUint16(0, 0x4949, true);
  view.setUint16(2, 42, true);
  view.setUint32(4, directory, true);
  view.setUint16(directory, tags.length, true);
  let extra = after;
  tags.forEach(([tag, kind, values], i) => {
    const at = directory + 2 + 12 * i;
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, kind, true);
    view.setUint32(at + 4, values.length, true);
    const held = tag === 273 ? [from] : values;
    if (kind === long) view.setUint32(at + 8, held[0], true);
    else if (held.length <= 2) held.forEach((v, k) => view.setUint16(at + 8 + 2 * k, v, true));
    else {
      view.setUint32(at + 8, extra, true);
      if (kind === bytes) out.set(held, extra);
      else held.forEach((v, k) => view.setUint16(extra + 2 * k, v, true));
      extra += even((kind === short ? 2 : 1) * held.length);
    }
  });
  if (data instanceof Uint16Array) for (let i = 0; i < data.length; i++) view.setUint16(from + 2 * i, data[i], true);
  else out.set(data, from);
  return out;
}

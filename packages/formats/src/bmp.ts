import type { Samples } from '@ritaglio/core';

/** A BMP that is not of the kinds that are read, or not whole; the reason completes “it …”. */
export class BmpError extends Error {}

/** A run of bits of a pixel, as a shift and how many values it has. */
interface Field {
  mask: number;
  shift: number;
  most: number;
}

function fieldOf(mask: number): Field {
  let shift = 0;
  while (mask !== 0 && ((mask >>> shift) & 1) === 0) shift++;
  return { mask, shift, most: mask === 0 ? 0 : mask >>> shift };
}

function codeOf(pixel: number, { mask, shift, most }: Field): number {
  return most === 0 ? 255 : Math.round((255 * ((pixel & mask) >>> shift)) / most);
}

/**
 * Reads an uncompressed Windows bitmap: palettes of 1, 4 and 8 bits, 16 and 32 bits by their masks, 24 bits, from the bottom up or down.
 *
 * @throws BmpError
 */
export function readBmp(bytes: Uint8Array): Samples {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const header = view.getUint32(14, true);
  if (header < 40 || bytes.length < 14 + header) throw new BmpError('is of an old kind, or cut short');
  const [width, signed] = [view.getInt32(18, true), view.getInt32(22, true)];
  const height = Math.abs(signed);
  const bits = view.getUint16(28, true);
  const packing = view.getUint32(30, true);
  if (packing !== 0 && packing !== 3 && packing !== 6) throw new BmpError('is packed, which cannot be read');
  if (![1, 4, 8, 16, 24, 32].includes(bits)) throw new BmpError(`has ${bits} bits a pixel`);
  const stride = 4 * Math.ceil((width * bits) / 32);
  const data = view.getUint32(10, true);
  if (data + stride * height > bytes.length) throw new BmpError('is shorter than it says');
  const row = (y: number): number => data + stride * (signed < 0 ? y : height - 1 - y);
  if (bits <= 8) {
    const count = view.getUint32(46, true) || 1 << bits;
    const at = 14 + header;
    const out = new Uint8Array(3 * width * height);
    for (let y = 0, k = 0; y < height; y++) {
      for (let x = 0; x < width; x++, k += 3) {
        const bit = x * bits;
        const index = (bytes[row(y) + (bit >> 3)] >> (8 - bits - (bit & 7))) & ((1 << bits) - 1);
        const entry = at + 4 * Math.min(index, count - 1);
        if (entry + 3 > bytes.length) throw new BmpError('has no palette');
        for (let c = 0; c < 3; c++) out[k + c] = bytes[entry + 2 - c];
      }
    }
    return { width, height, channels: 3, data: out };
  }
  if (bits === 24) {
    const out = new Uint8Array(3 * width * height);
    for (let y = 0, k = 0; y < height; y++) {
      for (let x = 0, p = row(y); x < width; x++, p += 3, k += 3) for (let c = 0; c < 3; c++) out[k + c] = bytes[p + 2 - c];
    }
    return { width, height, channels: 3, data: out };
  }
  const named = packing !== 0;
  const usual = bits === 16 ? [0x7c00, 0x3e0, 0x1f] : [0xff0000, 0xff00, 0xff];
  const masks = usual.map((mask, i) => (named ? view.getUint32(54 + 4 * i, true) : mask));
  const hasAlpha = named && (packing === 6 || header >= 56);
  const alpha = hasAlpha ? view.getUint32(66, true) : 0;
  const fields = [...masks, ...(alpha !== 0 ? [alpha] : [])].map(fieldOf);
  const channels = fields.length;
  const out = new Uint8Array(channels * width * height);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k += channels) {
      const pixel = bits === 16 ? view.getUint16(row(y) + 2 * x, true) : view.getUint32(row(y) + 4 * x, true);
      for (let c = 0; c < channels; c++) out[k + c] = codeOf(pixel, fields[c]);
    }
  }
  return { width, height, channels, data: out };
}

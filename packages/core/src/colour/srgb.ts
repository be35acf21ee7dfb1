import { defaultContext } from '../runtime/context';
import { sharedFloats } from '../runtime/parallelFor';
import type { Picture, Plane } from '../raster/plane';
import { lightFromDisplayP3, type CodeSpace } from './displayP3';

/** sRGB code value (0 to 1) to linear light (IEC 61966-2-1). */
export function decodeSrgb(v: number): number {
  return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
}

/** Linear light to sRGB code value, 0 to 1; light below 0 or above 1 is clipped. */
export function encodeSrgb(v: number): number {
  if (!(v > 0)) return 0;
  if (v >= 1) return 1;
  return v <= 0.0031308 ? v * 12.92 : 1.055 * Math.pow(v, 1 / 2.4) - 0.055;
}

/** Linear light of a colour written #rrggbb. @throws RangeError when it is written otherwise */
export function linearOfHex(hex: string): [number, number, number] {
  if (!/^#[0-9a-f]{6}$/i.test(hex)) throw new RangeError(`A colour is written #rrggbb; “${hex}” is not.`);
  return [1, 3, 5].map((at) => decodeSrgb(Number.parseInt(hex.slice(at, at + 2), 16) / 255)) as [number, number, number];
}

/** Linear light written #rrggbb, clipped. */
export function hexOf(r: number, g: number, b: number): string {
  return '#' + [r, g, b].map((v) => toCode8(v).toString(16).padStart(2, '0')).join('');
}

/** Linear light of each 8-bit code. */
const light8 = Float32Array.from({ length: 256 }, (_, i) => decodeSrgb(i / 255));

/** Index by quantised light to find the 8-bit code without a power; dense enough to be exact to the code. */
const codeSteps = 1 << 14;
const code8 = Uint8Array.from({ length: codeSteps + 1 }, (_, i) => Math.round(encodeSrgb(i / codeSteps) * 255));
/** Light at which code i begins. */
const codeStart = Float32Array.from({ length: 257 }, (_, i) => (i === 0 ? -1 : i === 256 ? 2 : decodeSrgb((i - 0.5) / 255)));

/** The nearest 8-bit sRGB code of linear light; clips outside 0 to 1. */
export function toCode8(v: number): number {
  if (!(v > 0)) return 0;
  if (v >= 1) return 255;
  let code = code8[(v * codeSteps) | 0];
  while (v >= codeStart[code + 1]) code++;
  while (v < codeStart[code]) code--;
  return code;
}

const encodeSteps = 4096;
/** Codes of evenly spaced light, 0 to 1, and one beyond. */
export const encodeTable = Float32Array.from({ length: encodeSteps + 2 }, (_, i) => encodeSrgb(i / encodeSteps));

/** Linear light encoded as sRGB by an interpolated table, clipped to 0 to 1; error below 2e-3. */
export function encodedQuickly(v: number): number {
  if (v >= 1) return 1;
  if (!(v > 0)) return 0;
  const t = v * encodeSteps;
  const k = t | 0;
  return encodeTable[k] + (t - k) * (encodeTable[k + 1] - encodeTable[k]);
}

const decodeTable = Float64Array.from({ length: Math.ceil(1.25 * encodeSteps) + 2 }, (_, i) => decodeSrgb(i / encodeSteps));

/** sRGB code value, 0 to 1.25, to linear light by an interpolated table; error below 1e-6. */
export function decodedQuickly(v: number): number {
  const t = Math.min(1.25, Math.max(0, v)) * encodeSteps;
  const k = t | 0;
  return decodeTable[k] + (t - k) * (decodeTable[k + 1] - decodeTable[k]);
}

const fineSteps = 4096;
/** Codes by the root of the light, of which the curve is nearly a line. */
const fineTable = Float64Array.from({ length: fineSteps + 2 }, (_, i) => 1.055 * Math.pow(i / fineSteps, 2 / 2.4) - 0.055);

/** Linear light encoded as sRGB by an interpolated table, clipped to 0 to 1; error below 1e-7: for 16-bit files. */
export function encodedFinely(v: number): number {
  if (v >= 1) return 1;
  if (!(v > 0)) return 0;
  if (v <= 0.0031308) return v * 12.92;
  const t = Math.sqrt(v) * fineSteps;
  const k = t | 0;
  return fineTable[k] + (t - k) * (fineTable[k + 1] - fineTable[k]);
}

/** Interleaved samples as files hold them. */
export interface Samples {
  width: number;
  height: number;
  /** 1 grey, 2 grey and opacity, 3 RGB, 4 RGB and straight opacity. */
  channels: number;
  data: Uint8Array | Uint8ClampedArray | Uint16Array;
  /** What the codes are of; sRGB when left out. */
  space?: CodeSpace;
}

/**
 * Interleaved 8- or 16-bit samples to a picture in linear sRGB light; colours that sRGB has not lie beyond 0 to 1. Grey becomes three
 * equal channels.
 *
 * @param context its pool sees the picture
 */
export function fromSamples(s: Samples, context = defaultContext()): Picture {
  const { width, height, channels, data } = s;
  const codes = data instanceof Uint16Array ? 65536 : 256;
  const light = lightOf(codes);
  const channel = (first: number, table: Float32Array): Float32Array => {
    const out = sharedFloats(width * height, context);
    lookUp(table, data, first, channels, out);
    return out;
  };
  const picture: Picture = {
    ...{ width, height },
    r: channel(0, light),
    g: channel(channels < 3 ? 0 : 1, light),
    b: channel(channels < 3 ? 0 : 2, light),
  };
  if (s.space === 'display-p3' && channels >= 3) lightFromDisplayP3(picture);
  if (channels === 2 || channels === 4) {
    picture.a = channel(
      channels - 1,
      Float32Array.from({ length: codes }, (_, i) => i / (codes - 1)),
    );
  }
  return picture;
}

function lookUp(table: Float32Array, codes: ArrayLike<number>, first: number, step: number, out: Float32Array): void {
  for (let i = 0, k = first; i < out.length; i++, k += step) out[i] = table[codes[k]];
}

function lightOf(codes: number): Float32Array {
  return codes === 256 ? light8 : light16();
}

let table16: Float32Array | undefined;
function light16(): Float32Array {
  table16 ??= Float32Array.from({ length: 65536 }, (_, i) => decodeSrgb(i / 65535));
  return table16;
}

/** A picture as interleaved 8-bit RGBA in sRGB, opacity straight; for screens and 8-bit files. */
export function toRgba8(p: Picture): Uint8ClampedArray<ArrayBuffer> {
  const n = p.width * p.height;
  const out = new Uint8ClampedArray(n * 4);
  for (let i = 0, k = 0; i < n; i++, k += 4) {
    out[k] = toCode8(p.r[i]);
    out[k + 1] = toCode8(p.g[i]);
    out[k + 2] = toCode8(p.b[i]);
    out[k + 3] = p.a ? p.a[i] * 255 : 255;
  }
  return out;
}

/** A plane of 0 to 1 as interleaved 8-bit grey, opaque: its values are the codes. */
export function greyRgba8({ width, height, data }: Plane): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(width * height * 4);
  for (let i = 0, k = 0; i < data.length; i++, k += 4) {
    out[k] = out[k + 1] = out[k + 2] = data[i] * 255;
    out[k + 3] = 255;
  }
  return out;
}

/** A picture as interleaved 16-bit RGB, or RGBA when it has opacity, in sRGB. */
export function toSamples16(p: Picture): Samples & { data: Uint16Array } {
  const n = p.width * p.height;
  const channels = p.a ? 4 : 3;
  const data = new Uint16Array(n * channels);
  for (let i = 0, k = 0; i < n; i++, k += channels) {
    data[k] = encodedFinely(p.r[i]) * 65535 + 0.5;
    data[k + 1] = encodedFinely(p.g[i]) * 65535 + 0.5;
    data[k + 2] = encodedFinely(p.b[i]) * 65535 + 0.5;
    if (p.a) data[k + 3] = Math.min(1, Math.max(0, p.a[i])) * 65535 + 0.5;
  }
  return { width: p.width, height: p.height, channels, data };
}

/** A matte as 16-bit grey samples; opacity is not encoded. */
export function matteSamples16({ width, height, data }: Plane): Samples & { data: Uint16Array } {
  const codes = new Uint16Array(data.length);
  for (let i = 0; i < codes.length; i++) codes[i] = Math.min(1, Math.max(0, data[i])) * 65535 + 0.5;
  return { width, height, channels: 1, data: codes };
}

import { displayP3FromSrgb, encodeSrgb, type Samples } from '@ritaglio/core';
import { darkestOf, fromBlackToBlack, perceptualBlack, readTable, sampled, type ColourTable, type Curve } from './iccTable';

/** What a profile says of a picture's codes: light of each channel, and where these lie; or a table from codes to colours. */
export type Profile =
  | {
      kind: 'rgb' | 'grey';
      /** From a code, 0 to 1, to light, 0 to 1, a channel. */
      curves: Curve[];
      /** Rows of the matrix from the channels' light to XYZ under D50. */
      matrix: readonly number[];
    }
  | { kind: 'table'; table: ColourTable };

/** From XYZ under D50 to linear sRGB (Bradford-adapted, as the profiles' connection space wants it). */
const toSrgb = [3.1338561, -1.6168667, -0.4906146, -0.9787684, 1.9161415, 0.033454, 0.0719453, -0.2289914, 1.4052427];

function ascii(bytes: Uint8Array, at: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + length));
}

/**
 * Reads an ICC profile (versions 2 and 4) of grey, of three channels with curves and a matrix, or of three or four channels with a
 * table. Of a profile that has both the table counts; of its tables the first, which is meant for photographs.
 *
 * @returns the profile, or why it cannot be used
 */
export function readProfile(data: Uint8Array): { profile?: Profile; why?: string } {
  if (data.length < 132 || ascii(data, 36, 4) !== 'acsp') return { why: 'it is damaged' };
  const view = new DataView(data.buffer, data.byteOffset, data.length);
  const space = ascii(data, 16, 4);
  const tags = new Map<string, number>();
  const count = Math.min(200, view.getUint32(128));
  for (let i = 0; i < count && 144 + 12 * i <= data.length; i++) tags.set(ascii(data, 132 + 12 * i, 4), view.getUint32(136 + 12 * i));
  try {
    if (space === 'GRAY') return { profile: { kind: 'grey', curves: [curveAt(view, tags.get('kTRC'))], matrix: [] } };
    const channels = { 'RGB ': 3, CMYK: 4 }[space];
    if (!channels) return { why: `it is for ${space.trim()} and not for RGB` };
    const tableAt = tags.get('A2B0') ?? tags.get('A2B1');
    if (tableAt !== undefined) {
      const table = readTable(view, tableAt, ascii(data, 20, 4), curveAt, curveLength);
      if (table.channels !== channels) return { why: 'it is damaged' };
      const perceptual = data[8] >= 4 && tags.has('A2B0');
      return { profile: { kind: 'table', table: fromBlackToBlack(table, perceptual ? perceptualBlack : darkestOf(table)) } };
    }
    if (channels !== 3) return { why: `it is for ${space} and not for RGB` };
    const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((tag) => xyzAt(view, tags.get(tag)));
    const curves = ['rTRC', 'gTRC', 'bTRC'].map((tag) => curveAt(view, tags.get(tag)));
    return { profile: { kind: 'rgb', curves, matrix: [0, 1, 2].flatMap((row) => columns.map((c) => c[row])) } };
  } catch {
    return { why: 'it is damaged' };
  }
}

function fixed(view: DataView, at: number): number {
  return view.getInt32(at) / 65536;
}

function xyzAt(view: DataView, at: number | undefined): number[] {
  if (at === undefined || view.getUint32(at) !== 0x58595a20) throw new RangeError('no colour');
  return [0, 1, 2].map((i) => fixed(view, at + 8 + 4 * i));
}

/** How many numbers each kind of curve with parameters has. */
const parametersOf = [1, 3, 4, 5, 7];

/** The bytes that a curve takes in the file. */
function curveLength(view: DataView, at: number): number {
  if (view.getUint32(at) === 0x63757276) return 12 + 2 * view.getUint32(at + 8);
  return 12 + 4 * (parametersOf[view.getUint16(at + 8)] ?? 0);
}

/** A curve: a power, a table, or one of the five kinds with parameters. */
function curveAt(view: DataView, at: number | undefined): Curve {
  if (at === undefined) throw new RangeError('no curve');
  const kind = view.getUint32(at);
  if (kind === 0x63757276) {
    const n = view.getUint32(at + 8);
    if (n === 0) return (v) => v;
    if (n === 1) {
      const gamma = view.getUint16(at + 12) / 256;
      return (v) => v ** gamma;
    }
    if (n > 65536) throw new RangeError('too long a table');
    return sampled(Float64Array.from({ length: n }, (_, i) => view.getUint16(at + 12 + 2 * i) / 65535));
  }
  if (kind !== 0x70617261) throw new RangeError('no curve');
  const shape = view.getUint16(at + 8);
  const numbers = parametersOf[shape];
  if (!numbers) throw new RangeError('an unknown curve');
  const [g, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: numbers }, (_, i) => fixed(view, at + 12 + 4 * i));
  const power = (v: number): number => Math.max(0, a * v + b) ** g;
  if (shape === 0) return (v) => v ** g;
  if (shape === 1) return (v) => (v >= -b / a ? power(v) : 0);
  if (shape === 2) return (v) => (v >= -b / a ? power(v) + c : c);
  if (shape === 3) return (v) => (v >= d ? power(v) : c * v);
  return (v) => (v >= d ? power(v) + e : c * v + f);
}

/** Linear sRGB, beyond 0 to 1 where sRGB has it not, for codes under a profile, 0 to 1. Of grey all three are the same. */
function lightOf(profile: Profile, codes: readonly number[]): number[] {
  if (profile.kind === 'grey') return Array<number>(3).fill(profile.curves[0](codes[0]));
  const xyz = profile.kind === 'table' ? [...profile.table.xyzOf(Float64Array.from(codes))] : xyzByMatrix(profile, codes);
  return [0, 1, 2].map((row) => xyz.reduce((sum, v, c) => sum + toSrgb[3 * row + c] * v, 0));
}

function xyzByMatrix({ curves, matrix }: { curves: Curve[]; matrix: readonly number[] }, codes: readonly number[]): number[] {
  const light = codes.map((v, c) => curves[c](v));
  return [0, 1, 2].map((row) => light.reduce((sum, v, c) => sum + matrix[3 * row + c] * v, 0));
}

function channelsOf(profile: Profile): number {
  return profile.kind === 'table' ? profile.table.channels : profile.kind === 'grey' ? 1 : 3;
}

/** Whether a profile is as good as sRGB: to within half a code of 255. */
function isSrgb(profile: Profile): boolean {
  const channels = channelsOf(profile);
  if (channels > 3) return false;
  const steps = [0, 0.1, 0.3, 0.5, 0.8, 1];
  const tests = [...steps.map((v) => [v, v, v]), [0.8, 0.2, 0.2], [0.2, 0.8, 0.2], [0.2, 0.2, 0.8]].map((t) => t.slice(0, channels));
  const code = (v: number): number => encodeSrgb(Math.min(1, Math.max(0, v)));
  return tests.every((t) => lightOf(profile, t).every((v, c) => Math.abs(code(v) - t[Math.min(c, channels - 1)]) < 0.5 / 255));
}

/** Whether a profile has colours that sRGB has not. */
export function isWide(profile: Profile): boolean {
  const channels = channelsOf(profile);
  if (channels === 1) return false;
  // Each channel by itself and with each other: the corners of what a picture can hold.
  return Array.from({ length: 1 << channels }, (_, corner) => Array.from({ length: channels }, (_, i) => (corner >> i) & 1)).some((codes) =>
    lightOf(profile, codes).some((v) => v < -0.01),
  );
}

/** Rows from XYZ under D50 to linear Display P3. */
const toP3 = [0, 1, 2].flatMap((row) =>
  [0, 1, 2].map((c) => [0, 1, 2].reduce((sum, k) => sum + displayP3FromSrgb[3 * row + k] * toSrgb[3 * k + c], 0)),
);

/** Codes of 16 bits of linear light. */
function encoder(): (v: number) => number {
  const encoded = Uint16Array.from({ length: 65536 }, (_, i) => Math.round(65535 * encodeSrgb(i / 65535)));
  return (v) => {
    // Steps of light are coarse where it is dark: there every value is worked out.
    if (v < 0.02) return Math.round(65535 * encodeSrgb(Math.max(0, v)));
    return encoded[Math.min(65535, Math.round(65535 * v))];
  };
}

/** Whether a profile is for as many colours as samples have. Four channels are three and opacity, unless the profile is for inks. */
export function fits({ channels }: Samples, profile: Profile): boolean {
  const colours = channelsOf(profile);
  return colours === 4 ? channels === 4 : colours === (channels < 3 ? 1 : 3);
}

/**
 * Samples under a profile as codes of sRGB, or of Display P3 when the profile has colours that sRGB has not: 16 bits, unless nothing
 * changes. What even those have not is clipped. Samples of four inks, which have no opacity, become three channels.
 */
export function asKnown(samples: Samples, profile: Profile): Samples {
  if (!fits(samples, profile) || isSrgb(profile)) return samples;
  const wide = isWide(profile);
  const to = wide ? toP3 : toSrgb;
  const kept = profile.kind === 'table' ? byTable(samples, profile.table, to) : byMatrix(samples, profile, to);
  return { ...samples, ...kept, ...(wide && { space: 'display-p3' as const }) };
}

function fullOf({ data }: Samples): number {
  return data instanceof Uint16Array ? 65535 : 255;
}

function byMatrix(samples: Samples, { curves, matrix: m }: Profile & { kind: 'rgb' | 'grey' }, to: number[]): { data: Uint16Array } {
  const { channels, data } = samples;
  const colours = curves.length;
  const full = fullOf(samples);
  const out = new Uint16Array(data.length);
  // Curves once a code, not once a pixel.
  const light = curves.map((curve) => Float64Array.from({ length: full + 1 }, (_, i) => curve(i / full)));
  const code = encoder();
  const way = colours === 1 ? [] : [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => [0, 1, 2].reduce((s, k) => s + to[3 * r + k] * m[3 * k + c], 0))); // prettier-ignore
  for (let i = 0; i < data.length; i += channels) {
    if (colours === 1) out[i] = code(light[0][data[i]]);
    else {
      const [r, g, b] = [light[0][data[i]], light[1][data[i + 1]], light[2][data[i + 2]]];
      for (let c = 0; c < 3; c++) out[i + c] = code(way[3 * c] * r + way[3 * c + 1] * g + way[3 * c + 2] * b);
    }
    if (channels > colours) out[i + colours] = full === 255 ? data[i + colours] * 257 : data[i + colours];
  }
  return { data: out };
}

/** How many colours of 8 bits are remembered while a table is asked: a picture has the same ones again and again, most of them soon. */
const remembered = 1 << 14;

function byTable(samples: Samples, table: ColourTable, to: number[]): { data: Uint16Array; channels: number } {
  const { width, height, channels, data } = samples;
  const colours = table.channels;
  const full = fullOf(samples);
  const opacity = channels > colours;
  const outChannels = opacity ? 4 : 3;
  const out = new Uint16Array(width * height * outChannels);
  const code = encoder();
  const codes = new Float64Array(colours);
  // The codes of a colour as one number, and what it became. The first one is none that could be asked for in its place.
  const keys = new Int32Array(remembered);
  keys[0] = -1;
  const found = new Uint16Array(3 * remembered);
  for (let i = 0, k = 0; k < out.length; i += channels, k += outChannels) {
    let key = 0;
    for (let c = 0; c < colours; c++) key = (key << 8) | data[i + c];
    const slot = Math.imul(key, 0x9e3779b1) >>> 18;
    if (full !== 255 || keys[slot] !== key) {
      for (let c = 0; c < colours; c++) codes[c] = data[i + c] / full;
      const xyz = table.xyzOf(codes);
      for (let c = 0; c < 3; c++) found[3 * slot + c] = code(to[3 * c] * xyz[0] + to[3 * c + 1] * xyz[1] + to[3 * c + 2] * xyz[2]);
      keys[slot] = key;
    }
    for (let c = 0; c < 3; c++) out[k + c] = found[3 * slot + c];
    if (opacity) out[k + 3] = full === 255 ? data[i + colours] * 257 : data[i + colours];
  }
  return { data: out, channels: outChannels };
}

import { displayP3FromSrgb, encodeSrgb, type Samples } from '@ritaglio/core';

/** What a profile says of a picture's codes: light of each channel, and where these lie. */
export interface Profile {
  kind: 'rgb' | 'grey';
  /** From a code, 0 to 1, to light, 0 to 1, a channel. */
  curves: ((v: number) => number)[];
  /** Rows of the matrix from the channels' light to XYZ under D50. */
  matrix: readonly number[];
}

/** From XYZ under D50 to linear sRGB (Bradford-adapted, as the profiles' connection space wants it). */
const toSrgb = [3.1338561, -1.6168667, -0.4906146, -0.9787684, 1.9161415, 0.033454, 0.0719453, -0.2289914, 1.4052427];

function ascii(bytes: Uint8Array, at: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + length));
}

/**
 * Reads an ICC profile (versions 2 and 4) of grey, or of three channels with curves and a matrix.
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
    if (space !== 'RGB ') return { why: `it is for ${space.trim()} and not for RGB` };
    if (!tags.has('rXYZ')) return { why: 'it is a table of colours, not curves and a matrix' };
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

/** A curve: a power, a table, or one of the five kinds with parameters. */
function curveAt(view: DataView, at: number | undefined): (v: number) => number {
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
    const table = Float64Array.from({ length: n }, (_, i) => view.getUint16(at + 12 + 2 * i) / 65535);
    return (v) => {
      const p = v * (n - 1);
      const low = Math.min(n - 2, Math.floor(p));
      return table[low] + (p - low) * (table[low + 1] - table[low]);
    };
  }
  if (kind !== 0x70617261) throw new RangeError('no curve');
  const shape = view.getUint16(at + 8);
  const numbers = [1, 3, 4, 5, 7][shape];
  if (!numbers) throw new RangeError('an unknown curve');
  const [g, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: numbers }, (_, i) => fixed(view, at + 12 + 4 * i));
  const power = (v: number): number => Math.max(0, a * v + b) ** g;
  if (shape === 0) return (v) => v ** g;
  if (shape === 1) return (v) => (v >= -b / a ? power(v) : 0);
  if (shape === 2) return (v) => (v >= -b / a ? power(v) + c : c);
  if (shape === 3) return (v) => (v >= d ? power(v) : c * v);
  return (v) => (v >= d ? power(v) + e : c * v + f);
}

/** Codes of sRGB for codes under a profile, 0 to 1; what sRGB has not is clipped. */
function codesOf({ kind, curves, matrix }: Profile, codes: readonly number[]): number[] {
  const clipped = (v: number): number => encodeSrgb(Math.min(1, Math.max(0, v)));
  if (kind === 'grey') return [clipped(curves[0](codes[0]))];
  const light = codes.map((v, c) => curves[c](v));
  const xyz = [0, 1, 2].map((row) => light.reduce((sum, v, c) => sum + matrix[3 * row + c] * v, 0));
  return [0, 1, 2].map((row) => clipped(xyz.reduce((sum, v, c) => sum + toSrgb[3 * row + c] * v, 0)));
}

/** Whether a profile is as good as sRGB: to within half a code of 255. */
function isSrgb(profile: Profile): boolean {
  const channels = profile.kind === 'grey' ? 1 : 3;
  const steps = [0, 0.1, 0.3, 0.5, 0.8, 1];
  const tests = [...steps.map((v) => [v, v, v]), [0.8, 0.2, 0.2], [0.2, 0.8, 0.2], [0.2, 0.2, 0.8]].map((t) => t.slice(0, channels));
  return tests.every((t) => codesOf(profile, t).every((v, c) => Math.abs(v - t[c]) < 0.5 / 255));
}

/** Whether a profile has colours that sRGB has not. */
export function isWide({ kind, matrix }: Profile): boolean {
  if (kind === 'grey') return false;
  const light = (c: number, row: number): number => [0, 1, 2].reduce((sum, k) => sum + toSrgb[3 * row + k] * matrix[3 * k + c], 0);
  return [0, 1, 2].some((c) => [0, 1, 2].some((row) => light(c, row) < -0.01));
}

/** Rows from XYZ under D50 to linear Display P3. */
const toP3 = [0, 1, 2].flatMap((row) =>
  [0, 1, 2].map((c) => [0, 1, 2].reduce((sum, k) => sum + displayP3FromSrgb[3 * row + k] * toSrgb[3 * k + c], 0)),
);

/**
 * Samples under a profile as codes of sRGB, or of Display P3 when the profile has colours that sRGB has not: 16 bits, unless nothing
 * changes. What even those have not is clipped.
 */
export function asKnown(samples: Samples, profile: Profile): Samples {
  const { channels, data } = samples;
  const colours = channels < 3 ? 1 : 3;
  if ((profile.kind === 'grey') !== (colours === 1) || isSrgb(profile)) return samples;
  const wide = isWide(profile);
  const to = wide ? toP3 : toSrgb;
  const full = data instanceof Uint16Array ? 65535 : 255;
  const out = new Uint16Array(data.length);
  // Curves once a code, not once a pixel.
  const light = profile.curves.map((curve) => Float64Array.from({ length: full + 1 }, (_, i) => curve(i / full)));
  const encoded = Uint16Array.from({ length: 65536 }, (_, i) => Math.round(65535 * encodeSrgb(i / 65535)));
  const code = (v: number): number => {
    // Steps of light are coarse where it is dark: there every value is worked out.
    if (v < 0.02) return Math.round(65535 * encodeSrgb(Math.max(0, v)));
    return encoded[Math.min(65535, Math.round(65535 * v))];
  };
  const m = profile.matrix;
  const way = colours === 1 ? [] : [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => [0, 1, 2].reduce((s, k) => s + to[3 * r + k] * m[3 * k + c], 0))); // prettier-ignore
  for (let i = 0; i < data.length; i += channels) {
    if (colours === 1) out[i] = code(light[0][data[i]]);
    else {
      const [r, g, b] = [light[0][data[i]], light[1][data[i + 1]], light[2][data[i + 2]]];
      for (let c = 0; c < 3; c++) out[i + c] = code(way[3 * c] * r + way[3 * c + 1] * g + way[3 * c + 2] * b);
    }
    if (channels > colours) out[i + colours] = full === 255 ? data[i + colours] * 257 : data[i + colours];
  }
  return { ...samples, data: out, ...(wide && { space: 'display-p3' as const }) };
}

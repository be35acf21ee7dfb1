/** A curve from 0…1 to 0…1. */
export type Curve = (v: number) => number;

/**
 * The table of an ICC profile, from codes of its channels to the connection space: curves, a grid that is interpolated, curves, a
 * matrix, curves. What a profile leaves out is left out. ISO 15076-1 (2010), 10.10 to 10.12.
 */
export interface ColourTable {
  channels: number;
  /** XYZ under D50 (white's Y is 1) of codes from 0 to 1, one a channel. What is given back is written anew by the next call. */
  xyzOf(codes: Float64Array): Float64Array;
}

/** Values at the knots of a grid: the last channel runs fastest. */
interface Grid {
  points: number[];
  values: Float32Array;
}

/** How three numbers from 0 to 1 stand for a colour. */
type Coding = 'lab' | 'lab of version 2' | 'xyz';

const white: [number, number, number] = [0.9642, 1, 0.8249];
/** XYZ of the black that photographs have in tables of version 4. */
export const perceptualBlack: [number, number, number] = [0.00336, 0.0034731, 0.00287];
/** The largest number of XYZ that is coded. */
const xyzFull = 1 + 32767 / 32768;
/** Knots of all tables together that are taken, so that a damaged count does not fill the memory. */
const mostKnots = 4e6;

/** @returns reads a curve (`curv`, `para`) of a profile and says where it ends */
type ReadCurve = (view: DataView, at: number) => Curve;

/**
 * Reads a table of any of the three kinds.
 *
 * @param at where the tag's data begin, bytes
 * @param connection `Lab ` or `XYZ `
 * @param readCurve reads a curve that stands by itself
 * @param curveLength its length in the file, bytes
 * @throws RangeError when it is damaged or of another kind
 */
export function readTable(
  view: DataView,
  at: number,
  connection: string,
  readCurve: ReadCurve,
  curveLength: (view: DataView, at: number) => number,
): ColourTable {
  const kind = view.getUint32(at);
  const [inputs, outputs] = [view.getUint8(at + 8), view.getUint8(at + 9)];
  if (inputs < 1 || inputs > 4 || outputs !== 3) throw new RangeError('a table of another number of channels');
  const lab = connection === 'Lab ';
  if (kind === 0x6d667431 || kind === 0x6d667432) {
    const wide = kind === 0x6d667432;
    return olderTable(view, at, inputs, wide, lab ? (wide ? 'lab of version 2' : 'lab') : 'xyz');
  }
  if (kind !== 0x6d414220) throw new RangeError('no table');
  const offset = (i: number): number => view.getUint32(at + 12 + 4 * i);
  const curvesAt = (place: number, count: number): Curve[] | undefined => {
    if (place === 0) return undefined;
    let from = at + place;
    return Array.from({ length: count }, () => {
      const curve = readCurve(view, from);
      from += Math.ceil(curveLength(view, from) / 4) * 4;
      return curve;
    });
  };
  const last = curvesAt(offset(0), 3);
  const matrix = offset(1) > 0 ? Array.from({ length: 12 }, (_, i) => view.getInt32(at + offset(1) + 4 * i) / 65536) : undefined;
  const middle = curvesAt(offset(2), 3);
  const grid = offset(3) > 0 ? gridAt(view, at + offset(3), inputs) : undefined;
  const first = curvesAt(offset(4), inputs);
  if (!grid && inputs !== 3) throw new RangeError('no grid');
  return chained(inputs, lab ? 'lab' : 'xyz', [
    first && each(first),
    grid && between(grid),
    middle && each(middle),
    matrix && multiplied(matrix),
    last && each(last),
  ]);
}

type Stage = (v: Float64Array) => Float64Array;

/** Each number by its own curve. What is given back is written anew by the next call. */
function each(curves: Curve[]): Stage {
  const out = new Float64Array(curves.length);
  return (v) => {
    for (let i = 0; i < out.length; i++) out[i] = within(curves[i](v[i]));
    return out;
  };
}

/** By a matrix of nine numbers and three more to be added. What is given back is written anew by the next call. */
function multiplied(m: number[]): Stage {
  const out = new Float64Array(3);
  return (v) => {
    for (let r = 0; r < 3; r++) out[r] = within(m[9 + r] + m[3 * r] * v[0] + m[3 * r + 1] * v[1] + m[3 * r + 2] * v[2]);
    return out;
  };
}

function within(v: number): number {
  return v > 0 ? (v < 1 ? v : 1) : 0;
}

function chained(channels: number, coding: Coding, stages: (Stage | undefined)[]): ColourTable {
  const there = [...stages.filter((s) => s !== undefined), decoder(coding)];
  return {
    channels,
    xyzOf: (codes) => {
      let v = codes;
      for (const stage of there) v = stage(v);
      return v;
    },
  };
}

/** A table of 8 or 16 bits: tables for curves, one grid of equal sides. Its matrix is for channels that are XYZ, which pictures are not. */
function olderTable(view: DataView, at: number, inputs: number, wide: boolean, coding: Coding): ColourTable {
  const side = view.getUint8(at + 10);
  const [before, after] = wide ? [view.getUint16(at + 48), view.getUint16(at + 50)] : [256, 256];
  if (side < 2 || before < 2 || after < 2 || before > 4096 || after > 4096) throw new RangeError('a table without size');
  let place = at + (wide ? 52 : 48);
  const next = (count: number): Float32Array => {
    if (count > mostKnots) throw new RangeError('too large a table');
    const values = numbersAt(view, place, count, wide ? 2 : 1);
    place += count * (wide ? 2 : 1);
    return values;
  };
  const curves = (count: number, length: number): Curve[] => Array.from({ length: count }, () => sampled(next(length)));
  const first = curves(inputs, before);
  const grid: Grid = { points: Array<number>(inputs).fill(side), values: next(side ** inputs * 3) };
  return chained(inputs, coding, [each(first), between(grid), each(curves(3, after))]);
}

function numbersAt(view: DataView, at: number, count: number, bytes: 1 | 2): Float32Array {
  return Float32Array.from({ length: count }, (_, i) => (bytes === 2 ? view.getUint16(at + 2 * i) / 65535 : view.getUint8(at + i) / 255));
}

function gridAt(view: DataView, at: number, inputs: number): Grid {
  const points = Array.from({ length: inputs }, (_, i) => view.getUint8(at + i));
  const count = points.reduce((n, p) => n * p, 3);
  const bytes = view.getUint8(at + 16);
  if (points.some((p) => p < 2) || count > mostKnots || (bytes !== 1 && bytes !== 2)) throw new RangeError('a grid without size');
  return { points, values: numbersAt(view, at + 20, count, bytes) };
}

/** Black of a table, without its cast: all inks, or no light. */
export function darkestOf({ channels, xyzOf }: ColourTable): [number, number, number] {
  const [, y] = xyzOf(new Float64Array(channels).fill(channels === 4 ? 1 : 0));
  // Beyond half of the lightness it is no black.
  const dark = Math.min(0.184, Math.max(0, y));
  return [white[0] * dark, dark, white[2] * dark];
}

/** A table whose black is the screen's and whose white stays: light between them is spread evenly (ISO 18619, 2015). */
export function fromBlackToBlack({ channels, xyzOf }: ColourTable, black: readonly number[]): ColourTable {
  const spread = white.map((w, c) => w / (w - black[c]));
  return {
    channels,
    xyzOf: (codes) => {
      const xyz = xyzOf(codes);
      for (let c = 0; c < 3; c++) xyz[c] = (xyz[c] - black[c]) * spread[c];
      return xyz;
    },
  };
}

/** A curve through equally spaced values. */
export function sampled(table: ArrayLike<number>): Curve {
  const last = table.length - 1;
  return (v) => {
    const p = within(v) * last;
    const low = Math.min(last - 1, Math.floor(p));
    return table[low] + (p - low) * (table[low + 1] - table[low]);
  };
}

/** Between the knots along each channel, straight. What is given back is written anew by the next call. */
function between({ points, values }: Grid): Stage {
  const n = points.length;
  const stride = points.map((_, i) => points.slice(i + 1).reduce((product, p) => product * p, 3));
  // Of each corner of a cell: how far it is from the first one, and how much it counts.
  const corners = 1 << n;
  const steps = Int32Array.from({ length: corners }, (_, corner) => stride.reduce((sum, s, i) => sum + ((corner >> i) & 1) * s, 0));
  const weights = new Float64Array(corners);
  const out = new Float64Array(3);
  return (v) => {
    let base = 0;
    weights[0] = 1;
    for (let i = 0, known = 1; i < n; i++, known *= 2) {
      const p = within(v[i]) * (points[i] - 1);
      const low = Math.min(points[i] - 2, Math.floor(p));
      const part = p - low;
      base += low * stride[i];
      for (let j = 0; j < known; j++) {
        weights[known + j] = weights[j] * part;
        weights[j] *= 1 - part;
      }
    }
    let [a, b, c] = [0, 0, 0];
    for (let corner = 0; corner < corners; corner++) {
      const weight = weights[corner];
      const at = base + steps[corner];
      a += weight * values[at];
      b += weight * values[at + 1];
      c += weight * values[at + 2];
    }
    out[0] = a;
    out[1] = b;
    out[2] = c;
    return out;
  };
}

/** From three numbers as they are coded to XYZ. What is given back is written anew by the next call. */
function decoder(coding: Coding): Stage {
  const out = new Float64Array(3);
  // Version 2 put 100 and 0 of its 16 bits at FF00 and 8000.
  const old = coding === 'lab of version 2' ? 65535 / 65280 : 1;
  const light = (t: number): number => (t > 6 / 29 ? t * t * t : (t - 4 / 29) * 3 * (6 / 29) ** 2);
  return (v) => {
    if (coding === 'xyz') for (let c = 0; c < 3; c++) out[c] = v[c] * xyzFull;
    else {
      const l = (v[0] * 100 * old + 16) / 116;
      out[0] = white[0] * light(l + (v[1] * 255 * old - 128) / 500);
      out[1] = light(l);
      out[2] = white[2] * light(l - (v[2] * 255 * old - 128) / 200);
    }
    return out;
  };
}

import type { CodeSpace } from '@ritaglio/core';
import { zlibSync } from 'fflate';
import { crc32 } from './zip';

/** Primaries as XYZ under D50 (Bradford-adapted), red, green, blue. */
const primaries: Record<CodeSpace, number[][]> = {
  srgb: [[0.43607, 0.22249, 0.01392], [0.38515, 0.71687, 0.09708], [0.14307, 0.06061, 0.7141]], // prettier-ignore
  'display-p3': [[0.51512, 0.2412, -0.00105], [0.29198, 0.69225, 0.04189], [0.1571, 0.06657, 0.78407]], // prettier-ignore
};
const names: Record<CodeSpace, string> = { srgb: 'sRGB', 'display-p3': 'Display P3' };

const made = new Map<CodeSpace, Uint8Array>();

/** An ICC profile (version 4, matrix and curves) of a space, to be embedded. The same bytes each time. */
export function profileOf(space: CodeSpace): Uint8Array {
  const known = made.get(space);
  if (known) return known;
  const bytes = written(space);
  made.set(space, bytes);
  return bytes;
}

function written(space: CodeSpace): Uint8Array {
  const text = (s: string): Uint8Array => {
    const out = new Uint8Array(28 + 2 * s.length + ((2 * s.length) % 4));
    const view = new DataView(out.buffer);
    ascii(out, 0, 'mluc');
    view.setUint32(8, 1);
    view.setUint32(12, 12);
    ascii(out, 16, 'enUS');
    view.setUint32(20, 2 * s.length);
    view.setUint32(24, 28);
    [...s].forEach((c, i) => view.setUint16(28 + 2 * i, c.charCodeAt(0)));
    return out;
  };
  const fixed = (kind: string, head: number, values: number[]): Uint8Array => {
    const out = new Uint8Array(head + 4 * values.length);
    ascii(out, 0, kind);
    values.forEach((v, i) => new DataView(out.buffer).setInt32(head + 4 * i, Math.round(v * 65536)));
    return out;
  };
  const curve = fixed('para', 12, [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045]);
  new DataView(curve.buffer).setUint16(8, 3);
  const xyz = (values: number[]): Uint8Array => fixed('XYZ ', 8, values);
  const [red, green, blue] = primaries[space];
  const parts: [string[], Uint8Array][] = [
    [['desc'], text(names[space])],
    [['cprt'], text('No rights reserved')],
    [['wtpt'], xyz([0.9642, 1, 0.8249])],
    [['rXYZ'], xyz(red)],
    [['gXYZ'], xyz(green)],
    [['bXYZ'], xyz(blue)],
    [['rTRC', 'gTRC', 'bTRC'], curve],
  ];
  const count = parts.reduce((n, [tags]) => n + tags.length, 0);
  let at = 132 + 12 * count;
  const size = at + parts.reduce((n, [, data]) => n + data.length, 0);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  view.setUint32(0, size);
  view.setUint32(8, 0x04400000);
  ascii(out, 12, 'mntrRGB XYZ ');
  // A date that says nothing, so that the bytes are always the same.
  [2026, 1, 1].forEach((v, i) => view.setUint16(24 + 2 * i, v));
  ascii(out, 36, 'acsp');
  [0.9642, 1, 0.8249].forEach((v, i) => view.setInt32(68 + 4 * i, Math.round(v * 65536)));
  view.setUint32(128, count);
  let entry = 132;
  for (const [tags, data] of parts) {
    for (const tag of tags) {
      ascii(out, entry, tag);
      view.setUint32(entry + 4, at);
      view.setUint32(entry + 8, data.length);
      entry += 12;
    }
    out.set(data, at);
    at += data.length;
  }
  return out;
}

function ascii(out: Uint8Array, at: number, text: string): void {
  for (let i = 0; i < text.length; i++) out[at + i] = text.charCodeAt(i);
}

function joined(...parts: Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** A PNG with a profile put behind its header. */
export function pngWithProfile(png: Uint8Array, space: CodeSpace): Uint8Array {
  const packed = zlibSync(profileOf(space));
  const head = new TextEncoder().encode(`iCCP${names[space]}`);
  const body = joined(head, Uint8Array.of(0, 0), packed);
  const length = new Uint8Array(4);
  new DataView(length.buffer).setUint32(0, body.length - 4);
  const sum = new Uint8Array(4);
  new DataView(sum.buffer).setUint32(0, crc32(body));
  return joined(png.subarray(0, 33), length, body, sum, png.subarray(33));
}

/** A JPEG with a profile put at its beginning; one that has a profile keeps it. */
export function jpegWithProfile(jpeg: Uint8Array, space: CodeSpace): Uint8Array {
  if (embeddedIn(jpeg)) return jpeg;
  const body = joined(new TextEncoder().encode('ICC_PROFILE'), Uint8Array.of(0, 1, 1), profileOf(space));
  const head = Uint8Array.of(0xff, 0xe2, (body.length + 2) >> 8, (body.length + 2) & 255);
  return joined(jpeg.subarray(0, 2), head, body, jpeg.subarray(2));
}

/** The ICC profile in a JPEG, a WebP or an AVIF, if there is one, or the one that its numbers stand for. */
export function embeddedIn(bytes: Uint8Array): Uint8Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const isText = (at: number, text: string): boolean => [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0));
  if (bytes[0] === 0xff && bytes[1] === 0xd8) {
    const parts: [number, Uint8Array][] = [];
    for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff && bytes[at + 1] !== 0xda;) {
      const length = view.getUint16(at + 2);
      if (bytes[at + 1] === 0xe2 && isText(at + 4, 'ICC_PROFILE')) parts.push([bytes[at + 16], bytes.subarray(at + 18, at + 2 + length)]);
      at += 2 + length;
    }
    return parts.length > 0 ? joined(...parts.sort(([a], [b]) => a - b).map(([, p]) => p)) : undefined;
  }
  if (isText(4, 'ftyp')) return ofProperties(bytes);
  if (!isText(0, 'RIFF') || !isText(8, 'WEBP')) return undefined;
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = view.getUint32(at + 4, true);
    if (isText(at, 'ICCP')) return bytes.subarray(at + 8, at + 8 + length);
    at += 8 + length + (length & 1);
  }
  return undefined;
}

/** Colour primaries of Display P3 as video files number them (ITU-T H.273). */
const primariesOfP3 = 12;

/** The profile among the properties of pictures in a file of boxes (ISO/IEC 14496-12, 23008-12). */
function ofProperties(bytes: Uint8Array): Uint8Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const nameAt = (at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));
  /** The boxes of one name between two places, each by the places of what it holds. */
  const boxes = (name: string, from: number, to: number): [number, number][] => {
    const out: [number, number][] = [];
    for (let at = from; at + 8 <= to;) {
      const length = view.getUint32(at);
      const end = length === 0 ? to : at + length;
      if (length === 1 || end > to || end < at + 8) break;
      if (nameAt(at + 4) === name) out.push([at + 8, end]);
      at = end;
    }
    return out;
  };
  const within = (names: string[], from: number, to: number): [number, number][] =>
    names.reduce((found, name) => found.flatMap(([a, b]) => boxes(name, name === 'iprp' ? a + 4 : a, b)), [[from, to]] as [
      number,
      number,
    ][]);
  let numbered: Uint8Array | undefined;
  for (const [from, to] of within(['meta', 'iprp', 'ipco', 'colr'], 0, bytes.length)) {
    const kind = nameAt(from);
    if (kind === 'prof' || kind === 'rICC') return bytes.subarray(from + 4, to);
    if (kind === 'nclx' && from + 6 <= to && view.getUint16(from + 4) === primariesOfP3) numbered = profileOf('display-p3');
  }
  return numbered;
}

import { unzlibSync, zlibSync } from 'fflate';
import { FormatError } from './header';

/** Planes of linear light or other numbers, by channel names such as `R`, `subject.A` or `Z`. */
export interface ExrPicture {
  width: number;
  height: number;
  channels: Record<string, Float32Array>;
}

const magic = 20000630;
const kinds = { uint: 0, half: 1, float: 2 } as const;
/** How rows are packed: not at all, deflated one by one, or sixteen at a time. */
const packing = { none: 0, rows: 2, blocks: 3 } as const;
const rowsOf: Record<number, number> = { [packing.none]: 1, [packing.rows]: 1, [packing.blocks]: 16 };

const asFloat = new Float32Array(1);
const asBits = new Uint32Array(asFloat.buffer);

/** The nearest half float of a number, as its 16 bits; beyond what it holds it is the largest, as light has no infinity. */
export function halfOf(v: number): number {
  asFloat[0] = v;
  const bits = asBits[0];
  const sign = (bits >>> 16) & 0x8000;
  const exponent = (bits >>> 23) & 255;
  const mantissa = bits & 0x7fffff;
  if (exponent === 255 && mantissa) return sign | 0x7e00;
  const e = exponent - 112;
  if (e >= 31) return sign | 0x7bff;
  if (e <= 0) {
    if (e < -10) return sign;
    const m = (mantissa | 0x800000) >>> (1 - e);
    return sign | ((m + 0xfff + ((m >>> 13) & 1)) >>> 13);
  }
  const rounded = (e << 10) + ((mantissa + 0xfff + ((mantissa >>> 13) & 1)) >>> 13);
  return sign | Math.min(rounded, 0x7bff);
}

export function fromHalf(h: number): number {
  const sign = h & 0x8000 ? -1 : 1;
  const e = (h >>> 10) & 31;
  const m = h & 1023;
  if (e === 0) return sign * m * 2 ** -24;
  if (e === 31) return m ? NaN : sign * Infinity;
  return sign * (1 + m / 1024) * 2 ** (e - 15);
}

/** Bytes in the order in which they pack best: the even ones before the odd ones, each as its step from the one before. */
function reordered(raw: Uint8Array): Uint8Array {
  const out = new Uint8Array(raw.length);
  const half = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i];
  for (let i = out.length - 1; i > 0; i--) out[i] = out[i] - out[i - 1] + 128;
  return out;
}

function ordered(packed: Uint8Array): Uint8Array {
  const steps = packed.slice();
  for (let i = 1; i < steps.length; i++) steps[i] = steps[i] + steps[i - 1] - 128;
  const out = new Uint8Array(steps.length);
  const half = (steps.length + 1) >> 1;
  for (let i = 0; i < out.length; i++) out[i] = steps[(i & 1 ? half : 0) + (i >> 1)];
  return out;
}

/** A single-part OpenEXR file of half floats, deflated sixteen rows at a time. Colours are to be linear and premultiplied. */
export function writeExr({ width, height, channels }: ExrPicture): Uint8Array<ArrayBuffer> {
  const names = Object.keys(channels).sort();
  const head: number[] = [];
  const int = (v: number): void => void head.push(v & 255, (v >>> 8) & 255, (v >>> 16) & 255, (v >>> 24) & 255);
  const float = (v: number): void => {
    asFloat[0] = v;
    int(asBits[0]);
  };
  const text = (t: string): void => {
    for (const c of t) head.push(c.charCodeAt(0));
    head.push(0);
  };
  const entry = (name: string, type: string, size: number): void => {
    text(name);
    text(type);
    int(size);
  };
  int(magic);
  int(2);
  entry('channels', 'chlist', names.reduce((sum, n) => sum + n.length + 17, 1)); // prettier-ignore
  for (const n of names) {
    text(n);
    for (const v of [kinds.half, 0, 1, 1]) int(v);
  }
  head.push(0);
  entry('compression', 'compression', 1);
  head.push(packing.blocks);
  for (const window of ['dataWindow', 'displayWindow']) {
    entry(window, 'box2i', 16);
    for (const v of [0, 0, width - 1, height - 1]) int(v);
  }
  entry('lineOrder', 'lineOrder', 1);
  head.push(0);
  entry('pixelAspectRatio', 'float', 4);
  float(1);
  entry('screenWindowCenter', 'v2f', 8);
  [0, 0].forEach(float);
  entry('screenWindowWidth', 'float', 4);
  float(1);
  head.push(0);

  const rows = rowsOf[packing.blocks];
  const blocks: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows) {
    const count = Math.min(rows, height - y);
    const raw = new Uint8Array(2 * width * names.length * count);
    const view = new DataView(raw.buffer);
    let at = 0;
    for (let row = y; row < y + count; row++) {
      for (const n of names) for (let x = 0; x < width; x++, at += 2) view.setUint16(at, halfOf(channels[n][row * width + x]), true);
    }
    const packed = zlibSync(reordered(raw), { level: 4 });
    blocks.push(packed.length < raw.length ? packed : raw);
  }
  const table = head.length;
  const out = new Uint8Array(table + 8 * blocks.length + blocks.reduce((sum, b) => sum + 8 + b.length, 0));
  out.set(head);
  const view = new DataView(out.buffer);
  let at = table + 8 * blocks.length;
  blocks.forEach((block, i) => {
    view.setBigUint64(table + 8 * i, BigInt(at), true);
    view.setInt32(at, i * rows, true);
    view.setInt32(at + 4, block.length, true);
    out.set(block, at + 8);
    at += 8 + block.length;
  });
  return out;
}

export function looksLikeExr(bytes: Uint8Array): boolean {
  return bytes.length > 8 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === magic;
}

/** Largest picture that is read, px. */
const most = 150e6;

/** Reads a single-part OpenEXR file of rows. @throws FormatError with a sentence that names the file */
export function readExr(name: string, bytes: Uint8Array): ExrPicture {
  const cannot = (what: string): FormatError =>
    new FormatError(`“${name}” is an OpenEXR file that cannot be read: ${what}. Save it as one part of rows, deflated.`);
  try {
    return parsed(bytes, cannot);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw cannot('it is cut short or damaged');
  }
}

function parsed(bytes: Uint8Array, cannot: (what: string) => FormatError): ExrPicture {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const flags = view.getUint32(4, true);
  if (flags & 0x1a00) throw cannot('it has tiles, depths or several parts');
  let at = 8;
  const text = (): string => {
    const from = at;
    while (bytes[at] !== 0) if (++at >= bytes.length) throw cannot('it is cut short');
    return new TextDecoder().decode(bytes.subarray(from, at++));
  };
  let list: { name: string; kind: number }[] = [];
  let [compression, width, height, top] = [-1, 0, 0, 0];
  for (let entry = text(); entry !== ''; entry = text()) {
    text();
    const size = view.getInt32(at, true);
    const end = at + 4 + size;
    at += 4;
    if (entry === 'compression') compression = bytes[at];
    else if (entry === 'dataWindow') {
      const [x0, y0, x1, y1] = [0, 4, 8, 12].map((o) => view.getInt32(at + o, true));
      [width, height, top] = [x1 - x0 + 1, y1 - y0 + 1, y0];
    } else if (entry === 'channels') {
      list = [];
      while (bytes[at] !== 0) {
        const channel = text();
        list.push({ name: channel, kind: view.getInt32(at, true) });
        if (view.getInt32(at + 8, true) !== 1 || view.getInt32(at + 12, true) !== 1) throw cannot('a channel is of another size');
        at += 16;
      }
    }
    at = end;
  }
  if (!(width > 0 && height > 0 && width * height <= most)) throw cannot('its size is out of bounds');
  if (!(compression in rowsOf)) throw cannot('it is packed in another way');
  const sizes = list.map(({ kind }) => (kind === kinds.half ? 2 : 4));
  const channels = Object.fromEntries(list.map((c) => [c.name, new Float32Array(width * height)]));
  const rows = rowsOf[compression];
  const perRow = width * sizes.reduce((a, b) => a + b, 0);
  const count = Math.ceil(height / rows);
  for (let i = 0; i < count; i++) {
    const block = Number(view.getBigUint64(at + 8 * i, true));
    const y = view.getInt32(block, true) - top;
    const packed = bytes.subarray(block + 8, block + 8 + view.getInt32(block + 4, true));
    const here = Math.min(rows, height - y);
    const raw = compression === packing.none || packed.length === perRow * here ? packed : ordered(unzlibSync(packed));
    if (raw.length !== perRow * here || y < 0) throw cannot('a block is of another length');
    const data = new DataView(raw.buffer, raw.byteOffset, raw.length);
    let p = 0;
    for (let row = y; row < y + here; row++) {
      for (const { name: channel, kind } of list) {
        const to = channels[channel];
        for (let x = 0; x < width; x++) {
          to[row * width + x] =
            kind === kinds.half
              ? fromHalf(data.getUint16(p, true))
              : kind === kinds.float
                ? data.getFloat32(p, true)
                : data.getUint32(p, true);
          p += kind === kinds.half ? 2 : 4;
        }
      }
    }
  }
  return { width, height, channels };
}

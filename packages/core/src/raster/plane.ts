import { pause, type Context } from '../runtime/context';
import { sharedFloats } from '../runtime/parallelFor';

/** One number a pixel, row-major. */
export interface Plane {
  width: number;
  height: number;
  /** `width * height` values, row by row from the upper left corner. */
  data: Float32Array;
}

/**
 * A picture in linear light with sRGB primaries, planar. Values are display-linear: 1 is display white, and
 * more is allowed. Opacity `a`, 0 to 1, is straight: the colours are not multiplied by it.
 */
export interface Picture {
  width: number;
  height: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** Opacity; a picture without it is opaque everywhere. */
  a?: Float32Array;
}

/** A whole-number box of pixels. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A plane filled with one value (0 unless said). */
export function makePlane(width: number, height: number, fill = 0): Plane {
  const data = new Float32Array(width * height);
  if (fill !== 0) data.fill(fill);
  return { width, height, data };
}

/** A black picture; with `opacity`, one with an opacity channel of that value. */
export function makePicture(width: number, height: number, opacity?: number): Picture {
  const n = width * height;
  const picture: Picture = {
    width,
    height,
    r: new Float32Array(n),
    g: new Float32Array(n),
    b: new Float32Array(n),
  };
  if (opacity !== undefined) picture.a = new Float32Array(n).fill(opacity);
  return picture;
}

/** A deep copy. */
export function clonePicture(p: Picture): Picture {
  return { ...p, r: p.r.slice(), g: p.g.slice(), b: p.b.slice(), ...(p.a && { a: p.a.slice() }) };
}

/** The planes of a picture, opacity last if there is one; they share its memory. */
export function planesOf(p: Picture): Plane[] {
  const channels = p.a ? [p.r, p.g, p.b, p.a] : [p.r, p.g, p.b];
  return channels.map((data) => ({ width: p.width, height: p.height, data }));
}

/** A picture from three or four planes of one size; shares their memory. */
export function pictureOf(planes: Plane[]): Picture {
  const [r, g, b, a] = planes;
  const picture: Picture = { width: r.width, height: r.height, r: r.data, g: g.data, b: b.data };
  if (a) picture.a = a.data;
  return picture;
}

/** So many values are copied between two chances to be cancelled. */
const stretch = 1 << 22;

/** Planes in memory that every thread of the pool sees; what is not there is copied. @throws AbortError */
export async function seenPlanes(planes: readonly Plane[], context: Context, what?: string): Promise<Plane[]> {
  const out: Plane[] = [];
  for (const plane of planes) {
    const { data } = plane;
    const isSeen = !context.pool || data.buffer instanceof SharedArrayBuffer;
    const seen = isSeen ? data : sharedFloats(data.length, context);
    for (let i = 0; !isSeen && i < data.length; i += stretch) {
      await pause(context, what);
      seen.set(data.subarray(i, i + stretch), i);
    }
    out.push({ ...plane, data: seen });
  }
  return out;
}

/** The same for a picture. @throws AbortError */
export async function seenPicture(p: Picture, context: Context): Promise<Picture> {
  return pictureOf(await seenPlanes(planesOf(p), context));
}

/** The picture with another opacity (or none); shares the colours' memory. */
export function withOpacity(p: Picture, opacity?: Plane): Picture {
  const picture: Picture = { width: p.width, height: p.height, r: p.r, g: p.g, b: p.b };
  if (opacity) picture.a = opacity.data;
  return picture;
}

/** Mean of a plane's values. */
export function meanOf(p: Plane): number {
  let sum = 0;
  for (const v of p.data) sum += v;
  return p.data.length ? sum / p.data.length : 0;
}

/** Mean of a picture's colours, clear parts counting less. */
export function meanColour(p: Picture): [number, number, number] {
  const sum: [number, number, number] = [0, 0, 0];
  let weight = 1e-9;
  for (let i = 0; i < p.r.length; i++) {
    const w = p.a ? p.a[i] : 1;
    weight += w;
    sum[0] += w * p.r[i];
    sum[1] += w * p.g[i];
    sum[2] += w * p.b[i];
  }
  return sum.map((v) => v / weight) as [number, number, number];
}

/** @throws RangeError unless both are of one size */
export function assertSameSize(a: { width: number; height: number }, b: { width: number; height: number }, what: string): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw new RangeError(`${what}: ${a.width} × ${a.height} px and ${b.width} × ${b.height} px are not of one size`);
  }
}

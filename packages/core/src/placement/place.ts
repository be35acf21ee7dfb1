import { inverse, mapped, type Projective } from '../align/projective';
import { makePicture, makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture } from '../raster/resize';

/** Where a picture stands in the scene. Lengths in pixels of the full-size shot; the scene's middle is the shot's. */
export interface Placement {
  /** Shift of the picture's middle from the scene's, px: to the right. */
  x: number;
  /** Downwards, px. */
  y: number;
  /** Size: 1 covers the shot (pictures) or keeps its own size (subjects and plates). */
  scale: number;
  /** Width over height beyond the picture's own; 1 keeps the proportions. */
  stretch: number;
  /** Turned against the clock, degrees. */
  turn: number;
  /** Mirrored left to right. */
  flip: boolean;
}

/** In the middle, at its own size, upright. */
export const centred: Placement = { x: 0, y: 0, scale: 1, stretch: 1, turn: 0, flip: false };

/** The part of the scene that the finished picture shows. Lengths in pixels of the full-size shot. */
export interface FrameCut {
  width: number;
  height: number;
  /** Its middle from the scene's middle, px: to the right, downwards. */
  x: number;
  y: number;
  /** How the camera was tilted, degrees against the clock: turning by it straightens the picture. */
  turn: number;
}

/** True when placing changes nothing. */
export function isCentred(p: Placement): boolean {
  return p.x === 0 && p.y === 0 && p.scale === 1 && p.stretch === 1 && p.turn === 0 && !p.flip;
}

/** How a picture's pixels come to the frame's: a point's middle is at whole numbers and a half. */
export interface Way {
  /** Size of the picture in the frame, before it is turned, px of the frame as rendered. */
  width: number;
  height: number;
  /** Its middle in the frame. */
  x: number;
  y: number;
  /** Against the clock, degrees. */
  turn: number;
  flip: boolean;
  /** What a turned camera makes of the frame, in its pixels; nothing when it looks straight. */
  view?: Projective;
}

/**
 * The way from a picture to the frame as rendered.
 *
 * @param unit pixels of the scene as rendered per pixel of the picture, at scale 1
 * @param scale pixels of the rendering per full-size pixel
 */
export function wayTo(picture: { width: number; height: number }, unit: number, placement: Placement, frame: FrameCut, scale: number): Way {
  const stretch = Math.sqrt(placement.stretch);
  const [dx, dy] = [placement.x - frame.x, placement.y - frame.y];
  const [c, s] = [Math.cos((frame.turn * Math.PI) / 180), Math.sin((frame.turn * Math.PI) / 180)];
  return {
    width: Math.max(1, picture.width * unit * placement.scale * stretch),
    height: Math.max(1, (picture.height * unit * placement.scale) / stretch),
    x: (frame.width / 2 + dx * c - dy * s) * scale,
    y: (frame.height / 2 + dx * s + dy * c) * scale,
    turn: placement.turn - frame.turn,
    flip: placement.flip,
  };
}

/** Where a point of a picture (its own pixels) comes to lie in the frame, and how much longer lengths get. */
export function placedPoint(
  way: Way,
  picture: { width: number; height: number },
  x: number,
  y: number,
): { x: number; y: number; size: number } {
  const [kx, ky] = [way.width / picture.width, way.height / picture.height];
  const across = (x - picture.width / 2) * kx * (way.flip ? -1 : 1);
  const down = (y - picture.height / 2) * ky;
  const [c, s] = [Math.cos((way.turn * Math.PI) / 180), Math.sin((way.turn * Math.PI) / 180)];
  const at = { x: way.x + across * c + down * s, y: way.y - across * s + down * c, size: Math.sqrt(kx * ky) };
  if (!way.view) return at;
  const m = way.view;
  // What lies behind the camera goes far off to its side.
  const w = Math.max(1e-3, m[6] * at.x + m[7] * at.y + m[8]);
  // By how much the view enlarges an area there.
  const larger = Math.sqrt(Math.abs(determinant(m) / w ** 3));
  return {
    x: (m[0] * at.x + m[1] * at.y + m[2]) / w,
    y: (m[3] * at.x + m[4] * at.y + m[5]) / w,
    size: at.size * larger,
  };
}

function determinant([a, b, c, d, e, f, g, h, i]: Projective): number {
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
}

/** The point of a picture (its own pixels) that comes to lie at a point of the frame. */
export function unplacedPoint(way: Way, picture: { width: number; height: number }, x: number, y: number): { x: number; y: number } {
  const [c, s] = [Math.cos((way.turn * Math.PI) / 180), Math.sin((way.turn * Math.PI) / 180)];
  const [ux, uy] = way.view ? mapped(inverse(way.view), x, y) : [x, y];
  const [dx, dy] = [ux - way.x, uy - way.y];
  const across = (dx * c - dy * s) * (way.flip ? -1 : 1);
  return {
    x: (across * picture.width) / way.width + picture.width / 2,
    y: ((dx * s + dy * c) * picture.height) / way.height + picture.height / 2,
  };
}

/**
 * A picture moved to its place in a frame. What of the frame it does not cover is filled by its border when it is
 * opaque, and left clear when it has opacity. Upright pictures at their own size that are moved by whole pixels keep
 * every sample; the others are resized, and turned ones sampled with cubics (Keys 1981).
 */
export function place(picture: Picture, width: number, height: number, way: Way): Picture {
  const w = Math.max(1, Math.round(way.width));
  const h = Math.max(1, Math.round(way.height));
  const sized = resizePicture(picture, w, h);
  if (way.turn % 360 !== 0 || way.view) {
    const back = unplacing({ ...way, width: w, height: h }, sized);
    return sampledBy(sized, width, height, back);
  }
  const left = Math.round(way.x - w / 2);
  const top = Math.round(way.y - h / 2);
  if (left === 0 && top === 0 && w === width && h === height && !way.flip) return sized;
  const out = makePicture(width, height, picture.a ? 0 : undefined);
  for (let y = 0; y < height; y++) {
    const sy = y - top;
    if (picture.a && (sy < 0 || sy >= h)) continue;
    const row = Math.min(h - 1, Math.max(0, sy)) * w;
    for (let x = 0; x < width; x++) {
      const ux = x - left;
      if (picture.a && (ux < 0 || ux >= w)) continue;
      const cx = Math.min(w - 1, Math.max(0, ux));
      const q = row + (way.flip ? w - 1 - cx : cx);
      const p = y * width + x;
      out.r[p] = sized.r[q];
      out.g[p] = sized.g[q];
      out.b[p] = sized.b[q];
      if (out.a && sized.a) out.a[p] = sized.a[q];
    }
  }
  return out;
}

/** Where in a picture to look for a point of the frame; beyond all numbers where nothing of it is seen. */
export type WayBack = (x: number, y: number) => readonly [number, number];

/** The way back for many points. */
function unplacing(way: Way, picture: { width: number; height: number }): WayBack {
  const straight = way.view && inverse(way.view);
  const plain = { ...way, view: undefined };
  return (x, y) => {
    const [ux, uy] = straight ? mapped(straight, x, y) : [x, y];
    // Behind the camera.
    if (straight && straight[6] * x + straight[7] * y + straight[8] <= 0) return [Infinity, Infinity];
    const at = unplacedPoint(plain, picture, ux, uy);
    return [at.x, at.y];
  };
}

/** A picture looked up for every pixel of a frame, by cubics; what lies beyond its border as `place` has it. */
export function sampledBy(sized: Picture, width: number, height: number, back: WayBack): Picture {
  const out = makePicture(width, height, sized.a ? 0 : undefined);
  const a = sized.a;
  const channels = [sized.r, sized.g, sized.b].map((data) => (a ? data.map((v, i) => v * a[i]) : data));
  if (a) channels.push(a);
  const into = a ? [out.r, out.g, out.b, out.a!] : [out.r, out.g, out.b];
  const weights = new Float64Array(8);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = back(x + 0.5, y + 0.5);
      const [u, v] = [at[0] - 0.5, at[1] - 0.5];
      if (!Number.isFinite(u) || (a && (u < -1 || v < -1 || u > sized.width || v > sized.height))) continue;
      const p = y * width + x;
      cubic(u - Math.floor(u), weights, 0);
      cubic(v - Math.floor(v), weights, 4);
      for (let c = 0; c < channels.length; c++) into[c][p] = Math.max(0, sampled(channels[c], sized, u, v, weights, a !== undefined));
      if (!out.a) continue;
      const opacity = Math.min(1, out.a[p]);
      const k = out.a[p] > 1e-4 ? 1 / out.a[p] : 0;
      out.r[p] *= k;
      out.g[p] *= k;
      out.b[p] *= k;
      out.a[p] = opacity;
    }
  }
  return out;
}

function cubic(t: number, weights: Float64Array, at: number): void {
  weights[at] = ((-0.5 * t + 1) * t - 0.5) * t;
  weights[at + 1] = (1.5 * t - 2.5) * t * t + 1;
  weights[at + 2] = ((-1.5 * t + 2) * t + 0.5) * t;
  weights[at + 3] = (0.5 * t - 0.5) * t * t;
}

function sampled(
  data: Float32Array,
  { width, height }: { width: number; height: number },
  u: number,
  v: number,
  weights: Float64Array,
  clear: boolean,
): number {
  const [x0, y0] = [Math.floor(u) - 1, Math.floor(v) - 1];
  let sum = 0;
  for (let j = 0; j < 4; j++) {
    const y = Math.min(height - 1, Math.max(0, y0 + j));
    if (clear && y !== y0 + j) continue;
    for (let i = 0; i < 4; i++) {
      const x = Math.min(width - 1, Math.max(0, x0 + i));
      if (clear && x !== x0 + i) continue;
      sum += weights[4 + j] * weights[i] * data[y * width + x];
    }
  }
  return sum;
}

/** A plane of numbers moved like the picture it belongs to; beyond its border the border goes on. */
export function placePlane(plane: Plane, width: number, height: number, way: Way): Plane {
  const zero = makePlane(plane.width, plane.height).data;
  return {
    width,
    height,
    data: place({ width: plane.width, height: plane.height, r: plane.data, g: zero, b: zero }, width, height, way).r,
  };
}

/** Frame pixels per picture pixel for which a picture just covers a frame. */
export function coverUnit(picture: { width: number; height: number }, width: number, height: number): number {
  return Math.max(width / picture.width, height / picture.height);
}

import { makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture } from '../raster/resize';
import { sampleAt } from '../raster/sample';
import { seenAt, type CameraView } from './camera';
import { place, placedPoint, placePlane, sampledBy, type Way } from './place';

/** How what is on a card comes into the frame. */
export interface Laying {
  picture(of: Picture): Picture;
  /** Numbers that belong to the picture, moved with it. */
  plane(of: Plane): Plane;
  /** A point of the card's own picture in the frame, px, and how much longer lengths get. */
  point(x: number, y: number): { x: number; y: number; size: number };
  /** Of what is seen, from the camera as it stands, m; for the whole card or for every pixel of the frame. */
  distance: number | Plane;
  /** What it is looked up in, where it is not a plain map. */
  relief?: Relief;
}

/** A card that is flat to the camera, or that stands where it was photographed. */
export function flatLaying(
  way: Way,
  picture: { width: number; height: number },
  frame: { width: number; height: number },
  distance: number | Plane,
): Laying {
  const { width, height } = frame;
  return {
    picture: (of) => place(of, width, height, way),
    plane: (of) => placePlane(of, width, height, way),
    point: (x, y) => placedPoint(way, picture, x, y),
    distance,
  };
}

/** Longest side of a cell of the relief in the frame, px: smaller than what distances are told by. */
const cell = 3;
/** Distances of what the relief leaves open, m. */
const open = 1e4;

/** A relief as it is seen: for each pixel of the frame where on the card to look, in shares of its width and height, and how far it is. */
interface Relief {
  across: Float32Array;
  down: Float32Array;
  distance: Plane;
}

/**
 * A card with distances of its own before a moved camera: every point of it moves by how far it is, and what is nearer hides what is
 * farther. It is taken as a net that is stretched where near and far meet; beyond its border the border's distances go on.
 *
 * @param field distances over the card, from the resting camera, m
 * @param way where it lies while the camera rests
 * @param frame size of the rendering, px
 */
export function reliefLaying(field: Plane, way: Way, view: CameraView, frame: { width: number; height: number }): Laying {
  const relief = seenRelief(field, way, view, frame);
  const { width, height } = frame;
  const picture = (of: Picture): Picture => {
    const sized = resizePicture(of, Math.max(1, Math.round(way.width)), Math.max(1, Math.round(way.height)));
    return sampledBy(sized, width, height, (x, y) => {
      const p = Math.floor(y) * width + Math.floor(x);
      return [relief.across[p] * sized.width, relief.down[p] * sized.height];
    });
  };
  return {
    picture,
    plane: (of) => {
      const zero = makePlane(of.width, of.height).data;
      return { width, height, data: picture({ width: of.width, height: of.height, r: of.data, g: zero, b: zero }).r };
    },
    point: (x, y) => {
      const at = placedPoint(way, field, x, y);
      const stands = sampleAt(field, x - 0.5, y - 0.5);
      const seen = seenAt(view, at.x, at.y, stands);
      // What is not before the camera is not in the frame.
      return seen ? { x: seen.x, y: seen.y, size: (at.size * stands) / seen.distance } : { x: -1e6, y: -1e6, size: at.size };
    },
    distance: relief.distance,
    relief,
  };
}

/**
 * A corner of the net as it is seen: px of the frame, one over its distance, and its place on the card with its weight. What is straight on
 * the card is straight for the resting camera, not in the world: the weight is the distance from the resting camera over that from the moved one.
 */
type Corner = [x: number, y: number, near: number, across: number, down: number, weight: number];

function seenRelief(field: Plane, way: Way, view: CameraView, { width, height }: { width: number; height: number }): Relief {
  const lines = (length: number, seen: number): number[] => {
    const count = Math.max(1, Math.ceil(seen / cell));
    // Beyond the border one wide cell goes on.
    return [-length, ...Array.from({ length: count + 1 }, (_, i) => (i / count) * length), 2 * length];
  };
  const [xs, ys] = [lines(field.width, way.width), lines(field.height, way.height)];
  const corner = (x: number, y: number): Corner | undefined => {
    const at = placedPoint(way, field, x, y);
    const inside = [Math.min(field.width, Math.max(0, x)) - 0.5, Math.min(field.height, Math.max(0, y)) - 0.5];
    const stands = sampleAt(field, inside[0], inside[1]);
    const seen = seenAt(view, at.x, at.y, stands);
    if (!seen) return undefined;
    const weight = stands / seen.distance;
    return [seen.x, seen.y, 1 / seen.distance, (x / field.width) * weight, (y / field.height) * weight, weight];
  };
  const nearness = new Float32Array(width * height);
  const relief: Relief = {
    across: new Float32Array(width * height).fill(Infinity),
    down: new Float32Array(width * height).fill(Infinity),
    distance: { width, height, data: new Float32Array(width * height).fill(open) },
  };
  let above = xs.map((x) => corner(x, ys[0]));
  for (let j = 1; j < ys.length; j++) {
    const here = xs.map((x) => corner(x, ys[j]));
    for (let i = 1; i < xs.length; i++) {
      const [a, b, c, d] = [above[i - 1], above[i], here[i - 1], here[i]];
      if (!b || !c) continue;
      if (a) drawTriangle(a, b, c, relief, nearness);
      if (d) drawTriangle(b, d, c, relief, nearness);
    }
    above = here;
  }
  return relief;
}

/** Lays a triangle into the relief where nothing nearer is; pixels are in it when their middles are. */
function drawTriangle(a: Corner, b: Corner, c: Corner, { across, down, distance }: Relief, nearness: Float32Array): void {
  const { width, height } = distance;
  const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  if (area === 0) return;
  const x0 = Math.max(0, Math.ceil(Math.min(a[0], b[0], c[0]) - 0.5));
  const x1 = Math.min(width - 1, Math.floor(Math.max(a[0], b[0], c[0]) - 0.5));
  const y0 = Math.max(0, Math.ceil(Math.min(a[1], b[1], c[1]) - 0.5));
  const y1 = Math.min(height - 1, Math.floor(Math.max(a[1], b[1], c[1]) - 0.5));
  for (let y = y0; y <= y1; y++) {
    for (let x = x0; x <= x1; x++) {
      const [px, py] = [x + 0.5, y + 0.5];
      const ofB = ((px - a[0]) * (c[1] - a[1]) - (py - a[1]) * (c[0] - a[0])) / area;
      const ofC = ((b[0] - a[0]) * (py - a[1]) - (b[1] - a[1]) * (px - a[0])) / area;
      const ofA = 1 - ofB - ofC;
      if (ofA < 0 || ofB < 0 || ofC < 0) continue;
      const near = ofA * a[2] + ofB * b[2] + ofC * c[2];
      const p = y * width + x;
      if (near <= nearness[p]) continue;
      nearness[p] = near;
      const weight = ofA * a[5] + ofB * b[5] + ofC * c[5];
      across[p] = (ofA * a[3] + ofB * b[3] + ofC * c[3]) / weight;
      down[p] = (ofA * a[4] + ofB * b[4] + ofC * c[4]) / weight;
      distance.data[p] = 1 / near;
    }
  }
}

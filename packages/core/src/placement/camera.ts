import { after, inverse, mapped, type Projective } from '../align/projective';
import type { Plane } from '../raster/plane';
import { centred, wayTo, type FrameCut, type Way } from './place';

/** Where the camera is, and how it is turned, from where and how the pictures were taken. */
export interface CameraPlace {
  /** Metres to the right. */
  x: number;
  /** Metres up. */
  y: number;
  /** Metres towards the scene. */
  z: number;
  /** Degrees to the right. */
  pan: number;
  /** Degrees up, after the pan. */
  tilt: number;
  /** Degrees with the clock around where it looks. */
  roll: number;
}

/** What of a lens decides how far things move in the picture. */
export interface Projection {
  focalLength: number;
  sensorWidth: number;
  /** Full-size pixels that would fill the sensor's width. */
  across: number;
}

/** Nothing nearer to the camera than this is seen, m. */
const nearest = 0.05;
/** What lies along the picture's plane, or behind it, is taken to be this many times as far as it stands. */
const aside = 1000;

export function cameraRests(camera: CameraPlace): boolean {
  return camera.x === 0 && camera.y === 0 && camera.z === 0 && !turns(camera);
}

function turns({ pan, tilt, roll }: CameraPlace): boolean {
  return pan !== 0 || tilt !== 0 || roll !== 0;
}

/** A moved camera before a frame as rendered, by the pin-hole model; the optical axis goes through the middle of the scene. */
export interface CameraView {
  /** From the frame's pixels to rays of the camera as it is turned (to the right, down, 1), row by row. */
  rays: Projective;
  /** The way back. */
  pixels: Projective;
  /** The camera's right, down and forward as columns, in the directions of the resting one; row by row. */
  axes: readonly number[];
  /** Its place: m to the right, down, forward. */
  at: readonly [number, number, number];
  /** Pixels of the frame that a ray's 1 is long. */
  focal: number;
}

/** @param scale pixels of the rendering per full-size pixel */
export function cameraView(camera: CameraPlace, lens: Projection, frame: FrameCut, scale: number): CameraView {
  const focal = ((lens.across * lens.focalLength) / lens.sensorWidth) * scale;
  const { x, y } = wayTo({ width: 1, height: 1 }, 1, centred, frame, scale);
  const [c, s] = cosAndSin(frame.turn);
  const rays = [c / focal, s / focal, -(c * x + s * y) / focal, -s / focal, c / focal, (s * x - c * y) / focal, 0, 0, 1];
  const [[cp, sp], [ct, st], [cr, sr]] = [cosAndSin(camera.pan), cosAndSin(camera.tilt), cosAndSin(camera.roll)];
  // Rolled, then tilted, then panned.
  const axes = after(after([cr, -sr, 0, sr, cr, 0, 0, 0, 1], [1, 0, 0, 0, ct, -st, 0, st, ct]), [cp, 0, sp, 0, 1, 0, -sp, 0, cp]);
  return { rays, pixels: inverse(rays), axes, at: [camera.x, -camera.y, camera.z], focal };
}

function cosAndSin(degrees: number): [number, number] {
  const t = (degrees * Math.PI) / 180;
  return [Math.cos(t), Math.sin(t)];
}

/**
 * Where a point is seen.
 *
 * @param x where the resting camera sees it, px of the frame
 * @param distance from the resting camera, along its axis, m
 * @returns px of the frame and the distance along the camera's axis, m; nothing when it is not before the camera
 */
export function seenAt(view: CameraView, x: number, y: number, distance: number): { x: number; y: number; distance: number } | undefined {
  const [dx, dy] = mapped(view.rays, x, y);
  const away = [dx * distance - view.at[0], dy * distance - view.at[1], distance - view.at[2]];
  const [right, down, forward] = [0, 1, 2].map((k) => view.axes[k] * away[0] + view.axes[3 + k] * away[1] + view.axes[6 + k] * away[2]);
  if (forward < nearest) return undefined;
  const [px, py] = mapped(view.pixels, right / forward, down / forward);
  return { x: px, y: py, distance: forward };
}

/**
 * The way of a card to the frame when the camera has moved or turned: what is near moves and grows more. The card is taken as flat, at
 * one distance.
 *
 * @param way where it lies while the camera rests, px of the rendering
 * @param distance of the card from the resting camera, m
 * @param scale pixels of the rendering per full-size pixel
 * @returns nothing when the camera has come up to the card or past it
 */
export function throughCamera(
  way: Way,
  distance: number,
  camera: CameraPlace,
  lens: Projection,
  frame: FrameCut,
  scale: number,
): Way | undefined {
  if (cameraRests(camera)) return way;
  const left = distance - camera.z;
  if (left < nearest) return undefined;
  const view = cameraView(camera, lens, frame, scale);
  const size = distance / left;
  // Without its turn the camera sees the card flat; the rays to its middle tell where.
  const [dx, dy] = mapped(view.rays, way.x, way.y);
  const [x, y] = mapped(view.pixels, (dx * distance - view.at[0]) / left, (dy * distance - view.at[1]) / left);
  const moved = { ...way, width: way.width * size, height: way.height * size, x, y };
  return turns(camera) ? { ...moved, view: turnOf(view) } : moved;
}

/** What turning alone does to the frame, in its pixels. */
function turnOf({ rays, pixels, axes: [a, b, c, d, e, f, g, h, i] }: CameraView): Projective {
  return after(after(rays, [a, d, g, b, e, h, c, f, i]), pixels);
}

/**
 * Distance of a flat card from the moved camera along its axis, m: one number while the camera looks straight at it, else one for every
 * pixel of the frame.
 */
export function fromCamera(
  distance: number,
  camera: CameraPlace,
  lens: Projection,
  frame: FrameCut,
  scale: number,
  { width, height }: { width: number; height: number },
): number | Plane {
  const left = Math.max(nearest, distance - camera.z);
  if (camera.pan === 0 && camera.tilt === 0) return left;
  const { rays, axes } = cameraView(camera, lens, frame, scale);
  const data = new Float32Array(width * height);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const [right, down] = mapped(rays, x + 0.5, y + 0.5);
      data[p] = left / Math.max(1 / aside, axes[6] * right + axes[7] * down + axes[8]);
    }
  }
  return { width, height, data };
}

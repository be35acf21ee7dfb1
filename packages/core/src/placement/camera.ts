import type { Plane } from '../raster/plane';
import { centred, wayTo, type FrameCut, type Way } from './place';

/** Where the camera is, m from where the pictures were taken: to the right, up, towards the scene. */
export interface CameraPlace {
  x: number;
  y: number;
  z: number;
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

export function rests(camera: CameraPlace): boolean {
  return camera.x === 0 && camera.y === 0 && camera.z === 0;
}

/**
 * The way of a card to the frame when the camera has moved, by the pin-hole model: what is near moves and grows more. The card is
 * taken as flat, at one distance; the optical axis goes through the middle of the scene.
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
  if (rests(camera)) return way;
  const left = distance - camera.z;
  if (left < nearest) return undefined;
  const size = distance / left;
  const perMetre = ((lens.across * lens.focalLength) / lens.sensorWidth / left) * scale;
  const axis = wayTo({ width: 1, height: 1 }, 1, centred, frame, scale);
  const [c, s] = [Math.cos((frame.turn * Math.PI) / 180), Math.sin((frame.turn * Math.PI) / 180)];
  const [dx, dy] = [-camera.x * perMetre, camera.y * perMetre];
  return {
    ...way,
    width: way.width * size,
    height: way.height * size,
    x: axis.x + (way.x - axis.x) * size + dx * c - dy * s,
    y: axis.y + (way.y - axis.y) * size + dx * s + dy * c,
  };
}

/** Distance from the moved camera, m. */
export function fromCamera<D extends number | Plane>(distance: D, camera: CameraPlace): D {
  if (camera.z === 0) return distance;
  const left = (d: number): number => Math.max(nearest, d - camera.z);
  if (typeof distance === 'number') return left(distance) as D;
  const plane: Plane = distance;
  return { ...plane, data: plane.data.map(left) } as D;
}

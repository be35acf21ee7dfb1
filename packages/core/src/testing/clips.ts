import { makePicture, type Picture, type Plane } from '../raster/plane';
import { planeFrom, softDisc } from './scenes';

/** A number from 0 to 1 for each whole place. */
function hashed(x: number, y: number): number {
  let h = Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  return ((h ^ (h >>> 13)) >>> 0) / 4294967296;
}

/** Smooth noise about so many pixels apart, 0 to 1; never repeats. */
function cloud(x: number, y: number, apart: number): number {
  const [u, v] = [x / apart, y / apart];
  const [x0, y0] = [Math.floor(u), Math.floor(v)];
  const ease = (t: number): number => t * t * (3 - 2 * t);
  const [s, t] = [ease(u - x0), ease(v - y0)];
  const top = (1 - s) * hashed(x0, y0) + s * hashed(x0 + 1, y0);
  return (1 - t) * top + t * ((1 - s) * hashed(x0, y0 + 1) + s * hashed(x0 + 1, y0 + 1));
}

/** Ground with structure everywhere that repeats nowhere. */
function groundAt(x: number, y: number): [number, number, number] {
  const fine = cloud(x, y, 6) - 0.5;
  const broad = cloud(x + 500, y, 25) - 0.5;
  return [0.16 + 0.12 * fine + 0.08 * broad, 0.26 + 0.16 * fine + 0.12 * broad, 0.3 + 0.12 * (cloud(x, y + 900, 9) - 0.5) + 0.1 * broad];
}

interface BallFrame {
  picture: Picture;
  matte: Plane;
  ground: Picture;
}

/** Frames that were drawn: a clip asks for each many times, and drawing takes longer than much of what is done with it. */
const drawn = new Map<string, BallFrame>();

/** A frame of a patterned reddish ball on that ground, seen from a camera that is shifted; and its truth. Nothing of it may be changed. */
export function ballFrame(
  width: number,
  height: number,
  ball: { x: number; y: number; radius: number },
  camera: { x: number; y: number; gain: number } = { x: 0, y: 0, gain: 1 },
): BallFrame {
  const key = JSON.stringify([width, height, ball, camera]);
  const known = drawn.get(key) ?? drawnFrame(width, height, ball, camera);
  drawn.set(key, known);
  return known;
}

function drawnFrame(
  width: number,
  height: number,
  ball: { x: number; y: number; radius: number },
  camera: { x: number; y: number; gain: number },
): BallFrame {
  const matte = softDisc(width, height, ball.x, ball.y, ball.radius, 2);
  const ground = makePicture(width, height);
  const picture = makePicture(width, height);
  const channels = ['r', 'g', 'b'] as const;
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const back = groundAt(x + camera.x, y + camera.y);
      const [u, v] = [x - ball.x, y - ball.y];
      const stripe = 0.2 * (cloud(u + 300, v + 300, 5) - 0.5);
      const front = [0.5 + stripe, 0.14 + 0.4 * stripe, 0.06];
      for (let c = 0; c < 3; c++) {
        const a = matte.data[p];
        ground[channels[c]][p] = camera.gain * back[c];
        picture[channels[c]][p] = camera.gain * (a * front[c] + (1 - a) * back[c]);
      }
    }
  }
  return { picture, matte, ground };
}

/** Brightness of that ground moved by whole or broken pixels. */
export function groundBrightness(width: number, height: number, dx: number, dy: number): Plane {
  return planeFrom(width, height, (x, y) => groundAt(x + dx, y + dy)[1] * 2);
}

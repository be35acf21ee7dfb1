import type { Picture, Plane } from '../raster/plane';
import { makePicture, makePlane } from '../raster/plane';
import { seeded } from '../raster/random';

/** A picture from a function of the pixel's place. */
export function pictureFrom(width: number, height: number, colour: (x: number, y: number) => readonly [number, number, number]): Picture {
  const p = makePicture(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      [p.r[i], p.g[i], p.b[i]] = colour(x, y);
    }
  }
  return p;
}

export function planeFrom(width: number, height: number, value: (x: number, y: number) => number): Plane {
  const p = makePlane(width, height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) p.data[y * width + x] = value(x, y);
  return p;
}

/** A soft disc of opacity: 1 inside, 0 outside, a linear rim. */
export function softDisc(width: number, height: number, cx: number, cy: number, radius: number, rim: number): Plane {
  return planeFrom(width, height, (x, y) => Math.min(1, Math.max(0, (radius - Math.hypot(x + 0.5 - cx, y + 0.5 - cy)) / rim + 0.5)));
}

/** A red-brown ball with a soft rim before a blue-green ground, both a little noisy; the truth comes along. */
export function ballScene(width: number, height: number, rim = 6): { shot: Picture; matte: Plane; front: Picture; back: Picture } {
  const random = seeded(7);
  const noise = (): number => (random() - 0.5) * 0.02;
  const matte = softDisc(width, height, width / 2, height / 2, Math.min(width, height) * 0.3, rim);
  const front = pictureFrom(width, height, (x, y) => [0.5 + 0.1 * Math.sin(x / 9), 0.16, 0.08 + 0.03 * Math.cos(y / 7)]);
  const back = pictureFrom(width, height, (x, y) => [0.08, 0.3 + 0.1 * (x / width), 0.35 + 0.1 * (y / height)]);
  const shot = makePicture(width, height);
  for (let i = 0; i < matte.data.length; i++) {
    const a = matte.data[i];
    for (const c of ['r', 'g', 'b'] as const) shot[c][i] = Math.max(0, a * front[c][i] + (1 - a) * back[c][i] + noise());
  }
  return { shot, matte, front, back };
}

export function sum(data: ArrayLike<number>): number {
  let total = 0;
  for (let i = 0; i < data.length; i++) total += data[i];
  return total;
}

export function largestDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let most = 0;
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i] - b[i]));
  return most;
}

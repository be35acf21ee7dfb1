import { hexOf } from '../colour/srgb';
import type { Picture } from '../raster/plane';
import { seeded } from '../raster/random';
import type { Region } from '../raster/strokeCover';
import type { SetLamp } from './lamps';

/** An area that is filled with small lights of the colours that are there. Lengths in px of the full-size picture. */
export interface LampArea {
  region: Region;
  /** Mean diameter of a light before the lens, px. */
  size: number;
  /** How close they stand: 0 far apart, 1 nearly touching. */
  density: number;
  /** Stops above display white of the mean one. */
  lift: number;
}

/** What an area is filled with before anything is chosen. */
export const defaultArea: Omit<LampArea, 'region'> = { size: 12, density: 0.4, lift: 2.5 };

/** No area has more. */
const most = 400;
/** Throws of a dart for each that would fit. */
const throws = 12;

/**
 * Small lights strewn over areas, none too near another (darts thrown at random, Cook 1986). Each has the hue of the picture about it;
 * sizes and brightness vary a little. The places depend on the area and the seed alone, not on the scale.
 *
 * @param picture at the scale
 * @param scale its pixels per full-size pixel
 */
export function strewnLamps(picture: Picture, areas: readonly LampArea[], seed: number, scale: number): SetLamp[] {
  return areas.flatMap((area, i) => strewn(picture, area, seed + 104729 * (i + 1), scale));
}

function strewn(picture: Picture, { region, size, density, lift }: LampArea, seed: number, scale: number): SetLamp[] {
  const random = seeded(seed);
  const reach = region.filled ? 0 : region.radius;
  const xs = region.points.map((p) => p[0]);
  const ys = region.points.map((p) => p[1]);
  const [left, top] = [Math.min(...xs) - reach, Math.min(...ys) - reach];
  const [wide, high] = [Math.max(...xs) + reach - left, Math.max(...ys) + reach - top];
  const apart = size * (4.2 - 3.1 * density);
  const tries = Math.min(throws * most, Math.ceil((throws * wide * high) / (apart * apart)));
  const out: SetLamp[] = [];
  for (let k = 0; k < tries && out.length < most; k++) {
    const [x, y, larger, brighter] = [left + random() * wide, top + random() * high, random(), random()];
    if (!covers(region, x, y) || out.some((o) => Math.hypot(o.x - x, o.y - y) < apart)) continue;
    const colour = hueAround(picture, x * scale, y * scale, Math.max(1, 0.75 * size * scale));
    out.push({ x, y, size: size * (0.75 + 0.5 * larger), colour, softness: 0.1, lift: lift + 1.6 * (brighter - 0.5) });
  }
  return out;
}

/** Whether a point lies in a region. */
function covers({ points, filled, radius }: Region, x: number, y: number): boolean {
  if (!filled) {
    return points.some(([bx, by], i) => {
      const [ax, ay] = points[Math.max(0, i - 1)];
      const [dx, dy] = [bx - ax, by - ay];
      const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / Math.max(1e-9, dx * dx + dy * dy)));
      return Math.hypot(x - ax - t * dx, y - ay - t * dy) <= radius;
    });
  }
  let inside = false;
  points.forEach(([bx, by], i) => {
    const [ax, ay] = points[(i + points.length - 1) % points.length];
    if (by > y !== ay > y && x < bx + ((ax - bx) * (y - by)) / (ay - by)) inside = !inside;
  });
  return inside;
}

/** The mean colour of a square of a picture, as bright as its strongest channel can be; a warm white where it is black. */
function hueAround({ width, height, r, g, b }: Picture, x: number, y: number, half: number): string {
  const sum = [0, 0, 0];
  const [x0, x1] = [Math.max(0, Math.floor(x - half)), Math.min(width - 1, Math.ceil(x + half))];
  const [y0, y1] = [Math.max(0, Math.floor(y - half)), Math.min(height - 1, Math.ceil(y + half))];
  for (let v = y0; v <= y1; v++) {
    for (let p = v * width + x0; p <= v * width + x1; p++) {
      sum[0] += r[p];
      sum[1] += g[p];
      sum[2] += b[p];
    }
  }
  const strongest = Math.max(...sum);
  const [red, green, blue] = strongest > 1e-6 ? sum.map((c) => c / strongest) : [1, 0.85, 0.6];
  return hexOf(red, green, blue);
}

import { defaultContext } from '../runtime/context';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import type { Aperture } from './aperture';
import type { LayerCover } from './layered';
import type { SeenLamp } from './lamps';
import { shapeOf, spread, type Extent, type Frame } from './spread';

/**
 * Adds lamps to a blurred card, each as the aperture's shape at full size spread by its own disc, behind all layers
 * that are nearer. Energy is kept. Cost: the area of the discs.
 *
 * @param discAt signed blur disc at a pixel, px
 * @param covers how much each layer hides, far to near
 */
export async function drawLamps(
  picture: Picture,
  lamps: SeenLamp[],
  discAt: (x: number, y: number) => number,
  aperture: Aperture,
  frame: Frame,
  covers: LayerCover[],
): Promise<void> {
  const { width, height, r, g, b, a } = picture;
  for (const lamp of lamps) {
    const [cx, cy] = [Math.floor(lamp.x), Math.floor(lamp.y)];
    const inside = cx >= 0 && cy >= 0 && cx < width && cy < height;
    const disc = discAt(Math.min(width - 1, Math.max(0, cx)), Math.min(height - 1, Math.max(0, cy)));
    const reach = Math.ceil(Math.abs(disc) / 2 + lamp.radius) + 3;
    if (!inside && (cx + reach < 0 || cy + reach < 0 || cx - reach >= width || cy - reach >= height)) continue;
    const [left, top] = [cx - reach, cy - reach];
    const shape = await shapeAt(lamp, disc, reach, aperture, { ...frame, x: frame.x - left, y: frame.y - top });
    for (const cover of hiding(covers, disc)) hide(shape, left, top, cover);
    for (let v = 0; v < shape.height; v++) {
      const y = top + v;
      if (y < 0 || y >= height) continue;
      for (let u = 0; u < shape.width; u++) {
        const x = left + u;
        const seen = shape.data[v * shape.width + u];
        if (x < 0 || x >= width || seen <= 0) continue;
        const p = y * width + x;
        const share = a ? seen / Math.max(a[p], 1e-3) : seen;
        r[p] += share * lamp.light[0];
        g[p] += share * lamp.light[1];
        b[p] += share * lamp.light[2];
      }
    }
  }
}

/** Takes away what of a drawn lamp a layer hides. */
function hide(shape: Plane, left: number, top: number, { width, height, data, level }: LayerCover): void {
  const k = 2 ** level;
  const column = (u: number): number => Math.min(width - 1, Math.max(0, (left + u + 0.5) / k - 0.5));
  const [first, last] = [column(0) | 0, Math.min(width - 1, (column(shape.width - 1) | 0) + 1)];
  for (let v = 0; v < shape.height; v++) {
    const y = Math.min(height - 1, Math.max(0, (top + v + 0.5) / k - 0.5));
    const row = (y | 0) * width;
    const next = (y | 0) + 1 < height ? width : 0;
    // Most layers hold nothing here.
    if (!anyIn(data, row + first, row + last) && !anyIn(data, row + next + first, row + next + last)) continue;
    for (let u = 0; u < shape.width; u++) {
      const p = v * shape.width + u;
      if (shape.data[p] <= 0) continue;
      const x = column(u);
      const q = row + (x | 0);
      const right = (x | 0) + 1 < width ? 1 : 0;
      const [s, t] = [x - (x | 0), y - (y | 0)];
      const upper = data[q] + s * (data[q + right] - data[q]);
      const lower = data[q + next] + s * (data[q + next + right] - data[q + next]);
      shape.data[p] *= 1 - (upper + t * (lower - upper)) / 255;
    }
  }
}

function anyIn(data: Uint8Array, from: number, to: number): boolean {
  for (let q = from; q <= to; q++) if (data[q] > 0) return true;
  return false;
}

/** The layers that stand before a lamp: all but its own and the one that goes on beneath it. */
function hiding(covers: LayerCover[], disc: number): LayerCover[] {
  const next = covers.findIndex((c) => c.disc <= disc);
  return next < 0 ? [] : covers.slice(next + 1);
}

/** A lamp's own disc spread by the aperture; a pixel of the lamp before the spread holds 1. */
async function shapeAt(
  { x, y, radius, softness }: SeenLamp,
  disc: number,
  reach: number,
  aperture: Aperture,
  frame: Frame,
): Promise<Plane> {
  const side = 2 * reach + 1;
  const own = makePlane(side, side);
  const extent: Extent = { from: new Int32Array(side).fill(side), to: new Int32Array(side) };
  const [cx, cy] = [x - Math.floor(x) + reach - 0.5, y - Math.floor(y) + reach - 0.5];
  const rim = Math.max(1, softness * radius);
  let sum = 0;
  for (let v = 0; v < side; v++) {
    for (let u = 0; u < side; u++) {
      const light = Math.min(1, Math.max(0, (radius - Math.hypot(u - cx, v - cy)) / rim + 0.5));
      if (light <= 0) continue;
      own.data[v * side + u] = light;
      sum += light;
      extent.from[v] = Math.min(extent.from[v], u);
      extent.to[v] = u + 1;
    }
  }
  // The rim's pixels make small discs a little too large: the light is that of the disc's area.
  const fit = sum > 0 ? (Math.PI * radius * radius) / sum : 0;
  for (let i = 0; i < own.data.length; i++) own.data[i] *= fit;
  if (Math.abs(disc) <= 1) return own;
  return (await spread([own], shapeOf(aperture, Math.abs(disc), frame, disc < 0), defaultContext(), extent))[0];
}

import { components } from '../raster/components';
import type { Copied } from './nearestPatches';
import { maskOf } from '../raster/mask';

/** A place where the fill shows the same piece as another place of it. Lengths in pixels of the full-size shot. */
export interface Repeat {
  x: number;
  y: number;
  width: number;
  height: number;
  /** How many times the piece is seen in the fill. */
  times: number;
}

/** A piece counts as copied twice from this side on, px of the size at which patches are chosen. */
const smallest = 12;

/**
 * Places where the fill visibly copies one piece several times, the largest first. Pieces smaller than 12 px at 900 px are texture.
 *
 * @param scale pixels of the shot at which the patches were chosen per full-size pixel
 */
export function findRepeats({ width, height, from }: Copied, scale: number): Repeat[] {
  const uses = new Uint16Array(width * height);
  for (const q of from) if (q >= 0) uses[q]++;
  const again = maskOf(from, (q) => q >= 0 && uses[q] > 1);
  // Pixel by pixel, sources meet by chance; a piece is where whole neighbourhoods do.
  const solid = new Uint8Array(width * height);
  for (let y = 1; y + 1 < height; y++) {
    for (let x = 1; x + 1 < width; x++) {
      const p = y * width + x;
      let together = 0;
      for (let k = 0; k < 9; k++) {
        const o = (Math.floor(k / 3) - 1) * width + (k % 3) - 1;
        if (again[p + o] && from[p + o] === from[p] + o) together++;
      }
      if (together === 9) solid[p] = 1;
    }
  }
  const { label, area } = components(solid, width, height);
  const boxes = area.map(() => ({ left: width, right: 0, top: height, bottom: 0, times: 1 }));
  label.forEach((id, p) => {
    if (id === 0) return;
    const box = boxes[id];
    const x = p % width;
    const y = (p - x) / width;
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x + 1);
    box.top = Math.min(box.top, y);
    box.bottom = Math.max(box.bottom, y + 1);
    box.times = Math.max(box.times, uses[from[p]]);
  });
  return boxes
    .map((b, id) => ({ b, area: area[id] }))
    .filter(({ area: a }, id) => id > 0 && a >= smallest * smallest)
    .sort((u, v) => v.area - u.area)
    .map(({ b }) => ({
      x: Math.round(b.left / scale),
      y: Math.round(b.top / scale),
      width: Math.round((b.right - b.left) / scale),
      height: Math.round((b.bottom - b.top) / scale),
      times: b.times,
    }));
}

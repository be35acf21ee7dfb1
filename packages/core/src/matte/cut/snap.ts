import type { Contours } from './contours';

/** The cheapest ways along contours from one pixel to all others. */
export interface Ways {
  width: number;
  height: number;
  /** The step that leads back from each pixel, 0 to 7 clockwise from the right; 8 where a way begins. */
  back: Uint8Array;
}

type Point = [number, number];

const stepX = [1, 1, 0, -1, -1, -1, 0, 1];
const stepY = [0, 1, 1, 1, 0, -1, -1, -1];
/** What a step of one pixel costs off any contour, and on the strongest. */
const plainCost = 24;
const leastCost = 2;
/** Strength at which a contour costs half. */
const half = 0.5;
/** How far a press is moved to the strongest contour, px. */
const snapRadius = 5;

function strongest({ width, height, across }: Contours, p: number): number {
  const n = width * height;
  return Math.max(across[p], across[n + p], across[2 * n + p], across[3 * n + p]);
}

/** The place of the strongest contour close to a point, px. */
export function snapped(contours: Contours, [x, y]: Point): Point {
  const { width, height } = contours;
  let best: Point = [Math.min(width - 1, Math.max(0, Math.floor(x))), Math.min(height - 1, Math.max(0, Math.floor(y)))];
  let most = -1;
  for (let v = Math.max(0, best[1] - snapRadius); v <= Math.min(height - 1, best[1] + snapRadius); v++) {
    for (let u = Math.max(0, best[0] - snapRadius); u <= Math.min(width - 1, best[0] + snapRadius); u++) {
      const away = Math.hypot(u + 0.5 - x, v + 0.5 - y);
      const worth = Math.min(2, strongest(contours, v * width + u)) * (1 - away / (2 * snapRadius));
      if (away <= snapRadius && worth > most) {
        most = worth;
        best = [u, v];
      }
    }
  }
  return best;
}

/**
 * Ways that follow contours (live wire; Mortensen & Barrett 1995): a step costs less the stronger the contour it ends on. Exact, by
 * buckets of equal cost (Dial 1969).
 */
export function waysAlong(contours: Contours, [x, y]: Point): Ways {
  const { width, height } = contours;
  const n = width * height;
  const price = new Uint8Array(n);
  for (let p = 0; p < n; p++) price[p] = leastCost + Math.round((plainCost - leastCost) / (1 + (strongest(contours, p) / half) ** 2));
  const cost = new Int32Array(n).fill(2 ** 30);
  const back = new Uint8Array(n).fill(8);
  // No step costs more than this, so that so many buckets in turn are enough.
  const buckets: number[][] = Array.from({ length: 2 * plainCost }, () => []);
  const start = y * width + x;
  cost[start] = 0;
  buckets[0].push(start);
  let left = 1;
  for (let at = 0; left > 0; at++) {
    const bucket = buckets[at % buckets.length];
    while (bucket.length > 0) {
      const p = bucket.pop()!;
      left--;
      if (cost[p] !== at) continue;
      const px = p % width;
      const py = (p - px) / width;
      for (let d = 0; d < 8; d++) {
        const qx = px + stepX[d];
        const qy = py + stepY[d];
        if (qx < 0 || qy < 0 || qx >= width || qy >= height) continue;
        const q = qy * width + qx;
        const way = at + (d & 1 ? (price[q] * 181) >> 7 : price[q]);
        if (way >= cost[q]) continue;
        cost[q] = way;
        back[q] = d ^ 4;
        buckets[way % buckets.length].push(q);
        left++;
      }
    }
  }
  return { width, height, back };
}

/** The way to a pixel, from where all begin; pixel middles, every second one. */
export function pathTo({ width, back }: Ways, [x, y]: Point): Point[] {
  const out: Point[] = [];
  for (let p = y * width + x, k = 0; ; k++) {
    const d = back[p];
    if (k % 2 === 0 || d === 8) out.push([(p % width) + 0.5, Math.floor(p / width) + 0.5]);
    if (d === 8) return out.reverse();
    p += stepY[d] * width + stepX[d];
  }
}

import { makePlane, type Plane } from './plane';

/** Sub-rows a pixel row is looked at in. */
const fine = 4;

/**
 * How much of each pixel lies inside a closed polygon (even-odd rule), 0 to 1: exact along the row, four sub-rows down it.
 *
 * @param points corners in pixels, whole numbers at pixel corners; fewer than three enclose nothing
 */
export function fillPolygon(points: readonly (readonly [number, number])[], width: number, height: number): Plane {
  return fillPolygons([points], width, height);
}

/** The same for several: what an odd number of them go around. */
export function fillPolygons(polygons: readonly (readonly (readonly [number, number])[])[], width: number, height: number): Plane {
  const out = makePlane(width, height);
  const rows = crossingsOf(polygons, height);
  rows.forEach((crossings, row) => {
    crossings.sort((a, b) => a - b);
    for (let c = 0; c + 1 < crossings.length; c += 2) addSpan(out, Math.floor(row / fine), crossings[c], crossings[c + 1], 1 / fine);
  });
  return out;
}

/** Where each sub-row crosses the polygons; only those that do have a list. Costs what the edges go up and down. */
function crossingsOf(polygons: readonly (readonly (readonly [number, number])[])[], height: number): number[][] {
  const rows: number[][] = [];
  for (const points of polygons) {
    if (points.length < 3) continue;
    for (let i = 0; i < points.length; i++) {
      const [x0, y0] = points[i];
      const [x1, y1] = points[(i + 1) % points.length];
      const [upper, lower] = y0 < y1 ? [y0, y1] : [y1, y0];
      const last = Math.min(fine * height - 1, Math.floor(fine * lower));
      for (let row = Math.max(0, Math.floor(fine * upper) - 1); row <= last; row++) {
        const at = Math.floor(row / fine) + ((row % fine) + 0.5) / fine;
        if (y0 <= at !== y1 <= at) (rows[row] ??= []).push(x0 + ((at - y0) * (x1 - x0)) / (y1 - y0));
      }
    }
  }
  return rows;
}

/** Adds a share of a row between two places. */
function addSpan(plane: Plane, y: number, from: number, to: number, share: number): void {
  const left = Math.max(0, from);
  const right = Math.min(plane.width, to);
  if (right <= left) return;
  const first = Math.floor(left);
  const last = Math.min(plane.width - 1, Math.floor(right));
  const row = y * plane.width;
  for (let x = first; x <= last; x++) plane.data[row + x] += share * (Math.min(right, x + 1) - Math.max(left, x));
}

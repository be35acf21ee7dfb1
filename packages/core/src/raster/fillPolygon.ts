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
  const rings = polygons.filter((points) => points.length >= 3);
  const heights = rings.map((points) => points.map((p) => p[1]));
  const spans = heights.map((ys) => [Math.min(...ys), Math.max(...ys)]);
  const lowest = Math.max(0, Math.floor(Math.min(height, ...spans.map((s) => s[0]))));
  const highest = Math.min(height - 1, Math.ceil(Math.max(-1, ...spans.map((s) => s[1]))));
  for (let y = lowest; y <= highest; y++) {
    const near = rings.filter((_, i) => spans[i][0] <= y + 1 && spans[i][1] >= y);
    for (let k = 0; k < fine; k++) {
      const at = y + (k + 0.5) / fine;
      const crossings: number[] = [];
      for (const points of near) {
        for (let i = 0; i < points.length; i++) {
          const [x0, y0] = points[i];
          const [x1, y1] = points[(i + 1) % points.length];
          if (y0 <= at !== y1 <= at) crossings.push(x0 + ((at - y0) * (x1 - x0)) / (y1 - y0));
        }
      }
      crossings.sort((a, b) => a - b);
      for (let c = 0; c + 1 < crossings.length; c += 2) addSpan(out, y, crossings[c], crossings[c + 1], 1 / fine);
    }
  }
  return out;
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

type Point = [number, number];

/** Steps to the eight neighbours, clockwise from the right. */
const around: readonly Point[] = [
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
  [-1, -1],
  [0, -1],
  [1, -1],
];

/**
 * The outer outline of a region, traced along its outermost pixels (Moore neighbours) and thinned to the corners that matter.
 *
 * @param belongs whether a pixel is of the region; asked outside the picture too
 * @param start the region's first pixel in reading order
 * @param tolerance how far the thinned outline may be from the traced one, px
 * @returns pixel centres in order around the region
 */
export function outlineOf(belongs: (x: number, y: number) => boolean, start: Point, tolerance: number): Point[] {
  const traced: Point[] = [];
  let [x, y] = start;
  let from = 4;
  do {
    traced.push([x, y]);
    let turn = 1;
    while (turn <= 8 && !belongs(x + around[(from + turn) & 7][0], y + around[(from + turn) & 7][1])) turn++;
    if (turn > 8) break;
    const way = (from + turn) & 7;
    x += around[way][0];
    y += around[way][1];
    from = (way + 4) & 7;
  } while ((x !== start[0] || y !== start[1]) && traced.length < 1e6);
  return thinned(traced, tolerance).map(([px, py]) => [px + 0.5, py + 0.5]);
}

/** Keeps only the points needed to stay within the tolerance of all (Douglas & Peucker 1973). */
export function thinned(points: Point[], tolerance: number): Point[] {
  if (points.length < 3) return points;
  const keep = new Uint8Array(points.length);
  keep[0] = keep[points.length - 1] = 1;
  const open: [number, number][] = [[0, points.length - 1]];
  while (open.length > 0) {
    const [a, b] = open.pop()!;
    let worst = tolerance;
    let at = -1;
    for (let i = a + 1; i < b; i++) {
      const d = distanceToSegment(points[i], points[a], points[b]);
      if (d > worst) {
        worst = d;
        at = i;
      }
    }
    if (at < 0) continue;
    keep[at] = 1;
    open.push([a, at], [at, b]);
  }
  return points.filter((_, i) => keep[i]);
}

function distanceToSegment([px, py]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const length2 = (bx - ax) ** 2 + (by - ay) ** 2;
  const t = length2 > 0 ? Math.min(1, Math.max(0, ((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / length2)) : 0;
  return Math.hypot(px - ax - t * (bx - ax), py - ay - t * (by - ay));
}

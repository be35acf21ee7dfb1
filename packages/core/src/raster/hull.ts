/** A corner, px. */
type Point = readonly [x: number, y: number];

/** 1 within the smallest convex outline around the middles of a mask's pixels, else 0 (after Andrew 1979). */
export function convexHull(mask: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const ends: [left: Point, right: Point][] = [];
  for (let y = 0; y < height; y++) {
    const row = mask.subarray(y * width, (y + 1) * width);
    const first = row.findIndex((v) => v !== 0);
    if (first >= 0)
      ends.push([
        [first, y],
        [row.findLastIndex((v) => v !== 0), y],
      ]);
  }
  if (ends.length === 0) return out;
  const left = chain(
    ends.map(([first]) => first),
    1,
  );
  const right = chain(
    ends.map(([, last]) => last),
    -1,
  );
  for (let y = ends[0][0][1]; y <= ends[ends.length - 1][0][1]; y++) {
    out.fill(1, y * width + Math.ceil(acrossAt(left, y) - 1e-9), y * width + Math.floor(acrossAt(right, y) + 1e-9) + 1);
  }
  return out;
}

/** Of points that go down, those that no others leave within. @param side 1 for the left end of rows, −1 for the right */
function chain(points: Point[], side: 1 | -1): Point[] {
  const kept: Point[] = [];
  for (const p of points) {
    while (kept.length > 1 && side * turn(kept[kept.length - 2], kept[kept.length - 1], p) >= 0) kept.pop();
    kept.push(p);
  }
  return kept;
}

/** Positive where the way over three points turns to the right, as seen with y downwards. */
function turn([x0, y0]: Point, [x1, y1]: Point, [x2, y2]: Point): number {
  return (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0);
}

/** Where a chain crosses a row. */
function acrossAt(points: Point[], y: number): number {
  const next = points.findIndex(([, down]) => down >= y);
  const [x1, y1] = points[next];
  if (next === 0) return x1;
  const [x0, y0] = points[next - 1];
  return x0 + ((x1 - x0) * (y - y0)) / (y1 - y0);
}

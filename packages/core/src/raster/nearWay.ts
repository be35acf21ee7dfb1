/** Some pixels of some rows of a picture, each row's next to each other. */
export interface Rows {
  top: number;
  /** The first pixel of each row from the top one on, and the one after the last; the same twice when there is none. */
  ends: Int32Array;
}

/**
 * The pixels of a picture whose middles lie within `reach` of the straight way between two points, and few others: a thin
 * slanting way has as many as it is long, not all of the box around it.
 *
 * @param reach px
 */
export function nearWay(x0: number, y0: number, x1: number, y1: number, reach: number, width: number, height: number): Rows {
  // A little more, so that rounding leaves none out.
  reach += 1e-6;
  const top = Math.max(0, Math.ceil(Math.min(y0, y1) - reach - 0.5));
  const rows = Math.max(0, Math.min(height - 1, Math.floor(Math.max(y0, y1) + reach - 0.5)) + 1 - top);
  const ends = new Int32Array(2 * rows);
  const slope = y0 === y1 ? 0 : 1 / (y1 - y0);
  for (let i = 0; i < rows; i++) {
    // The part of the way that is as near to the row as that.
    const near = top + i + 0.5 - y0;
    const s = slope === 0 ? 0 : Math.min(1, Math.max(0, (near - reach) * slope));
    const t = slope === 0 ? 1 : Math.min(1, Math.max(0, (near + reach) * slope));
    const xs = x0 + (x1 - x0) * s;
    const xt = x0 + (x1 - x0) * t;
    const from = Math.max(0, Math.ceil(Math.min(xs, xt) - reach - 0.5));
    ends[2 * i] = from;
    ends[2 * i + 1] = Math.max(from, Math.min(width, Math.floor(Math.max(xs, xt) + reach - 0.5) + 1));
  }
  return { top, ends };
}

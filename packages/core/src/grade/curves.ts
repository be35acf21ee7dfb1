/** Points of a curve from code value to code value, both 0 to 1, sorted by the first. */
export type CurvePoints = readonly (readonly [number, number])[];

/** The curve that changes nothing. */
export const straightCurve: readonly [number, number][] = [
  [0, 0],
  [1, 1],
];

/** True when a curve changes nothing. */
export function isStraight(points: CurvePoints): boolean {
  return points.every(([x, y]) => x === y) && points.length > 0 && points[0][0] === 0 && points[points.length - 1][0] === 1;
}

/**
 * A smooth curve through points that never turns back: piecewise cubic with limited slopes (Fritsch & Carlson 1980).
 * Before the first and after the last point it goes on level. Points that go down are lifted to the one before.
 *
 * @returns the curve as a function of 0 to 1
 */
export function curveThrough(points: CurvePoints): (x: number) => number {
  const sorted = [...points].sort((a, b) => a[0] - b[0]).filter(([x], i, all) => i === 0 || x > all[i - 1][0] + 1e-6);
  const xs = sorted.map((p) => p[0]);
  let highest = 0;
  const ys = sorted.map((p) => (highest = Math.max(highest, Math.min(1, Math.max(0, p[1])))));
  const n = xs.length;
  if (n === 0) return (x) => x;
  const rise = xs.slice(1).map((x, i) => (ys[i + 1] - ys[i]) / (x - xs[i]));
  const slope = xs.map((_, i) => {
    if (n === 1) return 0;
    if (i === 0) return rise[0];
    if (i === n - 1) return rise[n - 2];
    // The harmonic mean keeps each piece within its own ends.
    const [a, b] = [rise[i - 1], rise[i]];
    if (a <= 0 || b <= 0) return 0;
    const [wa, wb] = [xs[i + 1] - xs[i], xs[i] - xs[i - 1]];
    return (3 * (wa + wb)) / ((wa + 2 * wb) / b + (2 * wa + wb) / a);
  });
  return (x) => {
    if (x <= xs[0]) return ys[0];
    if (x >= xs[n - 1]) return ys[n - 1];
    let i = 0;
    while (x > xs[i + 1]) i++;
    const width = xs[i + 1] - xs[i];
    const t = (x - xs[i]) / width;
    const [t2, t3] = [t * t, t * t * t];
    const y =
      ys[i] * (2 * t3 - 3 * t2 + 1) +
      width * slope[i] * (t3 - 2 * t2 + t) +
      ys[i + 1] * (3 * t2 - 2 * t3) +
      width * slope[i + 1] * (t3 - t2);
    return Math.min(ys[i + 1], Math.max(ys[i], y));
  };
}

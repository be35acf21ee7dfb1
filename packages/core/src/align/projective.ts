import type { Homography } from './lookup';

/** A plane projective map in pixels, row by row: nine numbers. */
export type Projective = readonly number[];

export const noChange: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** A shift, px. */
export function moved(dx: number, dy: number): Projective {
  return [1, 0, dx, 0, 1, dy, 0, 0, 1];
}

/** The second map after the first. */
export function after(first: Projective, second: Projective): Projective {
  return first.map((_, i) => {
    const [row, column] = [3 * Math.floor(i / 3), i % 3];
    return second[row] * first[column] + second[row + 1] * first[3 + column] + second[row + 2] * first[6 + column];
  });
}

/** The way back. @throws RangeError when there is none */
export function inverse([a, b, c, d, e, f, g, h, i]: Projective): Projective {
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (!(Math.abs(determinant) > 1e-12)) throw new RangeError('a map that flattens the picture has no way back');
  const adjugate = [
    ...[e * i - f * h, c * h - b * i, b * f - c * e],
    ...[f * g - d * i, a * i - c * g, c * d - a * f],
    ...[d * h - e * g, b * g - a * h, a * e - b * d],
  ];
  return adjugate.map((v) => v / determinant);
}

/** A homography in pixels of a picture of this size. */
export function inPixels(map: Homography, width: number, height: number): Projective {
  const unit = Math.max(width, height) / 2;
  const [x, y] = [(width - 1) / 2, (height - 1) / 2];
  const [a, b, c, d, e, f, g, h] = map;
  return after(after([1 / unit, 0, -x / unit, 0, 1 / unit, -y / unit, 0, 0, 1], [a, b, c, d, e, f, g, h, 1]), [
    unit,
    0,
    x,
    0,
    unit,
    y,
    0,
    0,
    1,
  ]);
}

/** Where a point goes. */
export function mapped(m: Projective, x: number, y: number): [number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  return [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
}

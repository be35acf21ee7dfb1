import { luminance } from '../colour/cielab';
import { chromaticityOf, locus, type Chromaticity } from '../colour/whitepoint';

/** Mired of daylight, 6504 K: where a cast of 0 lies. */
export const daylight = 1e6 / 6504;

type Matrix = readonly (readonly [number, number, number])[];

const toXyz: Matrix = [
  [0.4123907993, 0.3575843394, 0.1804807884],
  [0.2126390059, 0.7151686788, 0.0721923154],
  [0.0193308187, 0.1191947798, 0.9505321522],
];
const fromXyz: Matrix = [
  [3.2409699419, -1.5373831776, -0.4986107603],
  [-0.9692436363, 1.8759675015, 0.0415550574],
  [0.0556300797, -0.2039769589, 1.0569715142],
];
/** Responses in which the eye adapts to a light (Lam 1985), and back. */
const toCones: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];
const fromCones: Matrix = [
  [0.9869929055, -0.1470542564, 0.1599626517],
  [0.4323052697, 0.5183602715, 0.0492912282],
  [-0.0085286646, 0.0400428217, 0.9684866958],
];

function product(a: Matrix, b: Matrix): Matrix {
  return a.map((row) => [0, 1, 2].map((k) => row[0] * b[0][k] + row[1] * b[1][k] + row[2] * b[2][k]) as [number, number, number]);
}

/** Cone responses to light of a chromaticity and luminance 1. */
function cones({ u, v }: Chromaticity): number[] {
  const [x, y] = [(9 * u) / (6 * u - 16 * v + 12), (4 * v) / (6 * u - 16 * v + 12)];
  const xyz = [x / y, 1, (1 - x - y) / y];
  return toCones.map((row) => row[0] * xyz[0] + row[1] * xyz[1] + row[2] * xyz[2]);
}

/**
 * The change of linear sRGB that shifts a cast: white comes to lie so much warmer than daylight along the black-body
 * locus, and so far off it, at the same luminance; all else as the eye's cones see it under that light (von Kries 1902).
 *
 * @param mired warmer above 0; the light stays between 2000 and 25000 K
 * @param tint Δu′v′ × 1000, greener above 0
 * @returns nine numbers, row by row
 */
export function castMatrix(mired: number, tint = 0): Float64Array {
  const at = Math.min(500, Math.max(40, daylight + mired));
  const [day, here, next] = [locus(6504), locus(1e6 / at), locus(1e6 / (at + 1))];
  // Across the locus as it is seen in the CIE 1960 plane (u, 2v′/3), where distances to it are told.
  const [du, dv] = [next.u - here.u, ((next.v - here.v) * 2) / 3];
  const [nu, nv] = [-dv, du * 1.5];
  const k = tint / 1000 / Math.hypot(nu, nv);
  // Screens' white lies a little off the locus and stays so.
  const white = chromaticityOf(1, 1, 1);
  const to = cones({ u: white.u + here.u - day.u + k * nu, v: white.v + here.v - day.v + k * nv });
  const from = cones(white);
  const scaled = toCones.map((row, i) => row.map((v) => (v * Math.max(0.02, to[i])) / from[i]) as [number, number, number]);
  const m = product(fromXyz, product(fromCones, product(scaled, toXyz)));
  const level = luminance(...(m.map((row) => row[0] + row[1] + row[2]) as [number, number, number]));
  return Float64Array.from(m.flat(), (v) => v / level);
}

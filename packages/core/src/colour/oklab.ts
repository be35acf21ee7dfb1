import type { Context } from '../runtime/context';
import { toShared } from '../runtime/parallelFor';
import type { Picture } from '../raster/plane';

/** Three planes of OKLab: lightness 0 to 1, a and b about −0.4 to 0.4. */
export interface OklabPlanes {
  width: number;
  height: number;
  l: Float32Array;
  a: Float32Array;
  b: Float32Array;
}

/** A colour triple. */
export type Triple = [number, number, number];

/** Linear sRGB to OKLab (Ottosson 2020). Negative light is mirrored by the cube root, so the inverse is exact. */
export function oklabOf(r: number, g: number, b: number): Triple {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

/** OKLab to linear sRGB; out-of-gamut colours give light below 0 or above 1. */
export function oklabToLinear(lightness: number, a: number, b: number): Triple {
  const l = lightness + 0.3963377774 * a + 0.2158037573 * b;
  const m = lightness - 0.1055613458 * a - 0.0638541728 * b;
  const s = lightness - 0.0894841775 * a - 1.291485548 * b;
  const l3 = l * l * l;
  const m3 = m * m * m;
  const s3 = s * s * s;
  return [
    4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3,
    -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3,
    -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3,
  ];
}

const rootSteps = 4096;
/** Cube roots of evenly spaced light, 0 to 1, and one beyond. */
export const rootTable = Float32Array.from({ length: rootSteps + 2 }, (_, i) => Math.cbrt(i / rootSteps));

/** Cube root for light in 0 to 1 by table; error below 1e-4 above 0.01, exact outside the table's good range. */
function quickRoot(v: number): number {
  if (v < 0.01 || v >= 1) return Math.cbrt(v);
  const t = v * rootSteps;
  const i = t | 0;
  return rootTable[i] + (t - i) * (rootTable[i + 1] - rootTable[i]);
}

/** A whole picture in OKLab. About 20 ns a pixel. */
export function oklabPlanes(p: Picture): OklabPlanes {
  const n = p.width * p.height;
  const out = { width: p.width, height: p.height, l: new Float32Array(n), a: new Float32Array(n), b: new Float32Array(n) };
  oklabOfStretch(p, out, 0, n);
  return out;
}

/** The pixels of a picture from one on and before another, in OKLab, to the same places. */
function oklabOfStretch(p: Picture, out: OklabPlanes, from: number, to: number): void {
  for (let i = from; i < to; i++) {
    const r = p.r[i];
    const g = p.g[i];
    const b = p.b[i];
    const l = quickRoot(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
    const m = quickRoot(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
    const s = quickRoot(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
    out.l[i] = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
    out.a[i] = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
    out.b[i] = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  }
}

/** Perceptual planes in memory that every thread of the pool sees. */
export function seenLab<Lab extends OklabPlanes>(lab: Lab, context: Context): Lab {
  return { ...lab, l: toShared(lab.l, context), a: toShared(lab.a, context), b: toShared(lab.b, context) };
}

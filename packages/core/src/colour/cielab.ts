import type { Triple } from './oklab';

const epsilon = 216 / 24389;
const kappa = 24389 / 27;

/** CIE XYZ (D65, Y of white = 1) of linear sRGB. */
export function xyzOf(r: number, g: number, b: number): Triple {
  return [
    0.4123907993 * r + 0.3575843394 * g + 0.1804807884 * b,
    0.2126390059 * r + 0.7151686788 * g + 0.0721923154 * b,
    0.0193308187 * r + 0.1191947798 * g + 0.9505321522 * b,
  ];
}

/** Relative luminance of linear sRGB. */
export function luminance(r: number, g: number, b: number): number {
  return 0.2126390059 * r + 0.7151686788 * g + 0.0721923154 * b;
}

function f(t: number): number {
  return t > epsilon ? Math.cbrt(t) : (kappa * t + 16) / 116;
}

/** CIE L* (0 to 100) of relative luminance. */
export function lightnessOf(y: number): number {
  return 116 * f(Math.max(0, y)) - 16;
}

/** CIELAB, white D65, of linear sRGB. */
export function cielabOf(r: number, g: number, b: number): Triple {
  const [x, y, z] = xyzOf(r, g, b);
  const fx = f(x / 0.95045593);
  const fy = f(y);
  const fz = f(z / 1.08905775);
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

const rad = Math.PI / 180;
const pow25 = 25 ** 7;

/** Colour difference ΔE2000 of two CIELAB colours (CIE 142-2001; Sharma et al. 2005), all weights 1. */
export function deltaE2000(p: Triple, q: Triple): number {
  const meanChroma = (Math.hypot(p[1], p[2]) + Math.hypot(q[1], q[2])) / 2;
  const c7 = meanChroma ** 7;
  const g = 0.5 * (1 - Math.sqrt(c7 / (c7 + pow25)));
  const a1 = p[1] * (1 + g);
  const a2 = q[1] * (1 + g);
  const c1 = Math.hypot(a1, p[2]);
  const c2 = Math.hypot(a2, q[2]);
  const h1 = hue(p[2], a1);
  const h2 = hue(q[2], a2);
  const dl = q[0] - p[0];
  const dc = c2 - c1;
  let dh = 0;
  let meanHue = h1 + h2;
  if (c1 * c2 !== 0) {
    dh = h2 - h1;
    if (dh > 180) dh -= 360;
    else if (dh < -180) dh += 360;
    if (Math.abs(h1 - h2) <= 180) meanHue /= 2;
    else meanHue = (meanHue + (meanHue < 360 ? 360 : -360)) / 2;
  }
  const dhue = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * rad);
  const l = (p[0] + q[0]) / 2;
  const c = (c1 + c2) / 2;
  const t =
    1 -
    0.17 * Math.cos((meanHue - 30) * rad) +
    0.24 * Math.cos(2 * meanHue * rad) +
    0.32 * Math.cos((3 * meanHue + 6) * rad) -
    0.2 * Math.cos((4 * meanHue - 63) * rad);
  const turn = 30 * Math.exp(-(((meanHue - 275) / 25) ** 2));
  const cc7 = c ** 7;
  const rc = 2 * Math.sqrt(cc7 / (cc7 + pow25));
  const l50 = (l - 50) ** 2;
  const sl = 1 + (0.015 * l50) / Math.sqrt(20 + l50);
  const sc = 1 + 0.045 * c;
  const sh = 1 + 0.015 * c * t;
  const rt = -Math.sin(2 * turn * rad) * rc;
  return Math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dhue / sh) ** 2 + rt * (dc / sc) * (dhue / sh));
}

function hue(b: number, a: number): number {
  if (a === 0 && b === 0) return 0;
  const h = Math.atan2(b, a) / rad;
  return h < 0 ? h + 360 : h;
}

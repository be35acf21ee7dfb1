import { luminance } from '../colour/cielab';
import { gaussian } from '../raster/filter';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePlane } from '../raster/resize';

/** Where light comes from in the picture's plane. */
export interface LightDirection {
  /** Degrees: 0 from the right, 90 from above, 180 from the left. */
  angle: number;
  /** How much of the brightness along the outline the direction explains, 0 to 1. */
  certainty: number;
}

/** Longest side, px, at which light is looked at: finer is texture. */
const lookedAt = 320;

/**
 * Direction of the light on a thing from the brightness along its outline, where the surface turns away from the camera
 * and its direction is that of the outline itself (Johnson & Farid 2005): brightness is fitted by a constant and the
 * two components of the outward direction, brightness far off the fit counting less each time.
 *
 * @param opacity of the thing, in the picture's size
 * @returns nothing when there is too little outline
 */
export function lightOnOutline(p: Picture, opacity: Plane): LightDirection | undefined {
  const ratio = Math.min(1, lookedAt / Math.max(p.width, p.height));
  const [w, h] = [Math.max(8, Math.round(p.width * ratio)), Math.max(8, Math.round(p.height * ratio))];
  const light = makePlane(p.width, p.height);
  for (let i = 0; i < light.data.length; i++) {
    // Red light: the sky's, which comes from above wherever the key stands, is blue.
    light.data[i] = opacity.data[i] * Math.min(1, Math.max(0, p.r[i]));
  }
  const cover = resizePlane(opacity, w, h);
  const covered = cover.data.reduce((a, b) => a + b, 0);
  if (covered < 60) return undefined;
  // The outline's gross form: hair and wheels' spokes say nothing of the body's roundness.
  const size = Math.sqrt(covered);
  const form = gaussian(cover, Math.max(1, 0.05 * size));
  const inner = gaussian(cover, Math.max(0.8, 0.02 * size)).data;
  const bright = gaussian(resizePlane(light, w, h), Math.max(0.8, 0.02 * size)).data;
  const rows: Row[] = [];
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const f = form.data;
      const dx = (f[i + 1] - f[i - 1]) / 2;
      const dy = (f[i + w] - f[i - w]) / 2;
      const steep = Math.hypot(dx, dy);
      // Just inside the outline, where the thing itself is still most of what is seen.
      if (f[i] < 0.5 || f[i] > 0.85 || inner[i] < 0.4 || steep < 0.2 / size) continue;
      rows.push({ nx: -dx / steep, ny: dy / steep, light: bright[i] / inner[i], weight: steep });
    }
  }
  return fitted(rows);
}

interface Row {
  /** Outward direction: to the right, upwards. */
  nx: number;
  ny: number;
  light: number;
  weight: number;
}

function fitted(rows: Row[]): LightDirection | undefined {
  if (rows.length < 24) return undefined;
  let trust = rows.map((r) => r.weight);
  let fit: [number, number, number] = [0, 0, 0];
  for (let round = 0; round < 4; round++) {
    const m = new Float64Array(12);
    rows.forEach((r, i) => {
      const v = [1, r.nx, r.ny, r.light];
      for (let j = 0; j < 3; j++) for (let k = 0; k < 4; k++) m[4 * j + k] += trust[i] * v[j] * v[k];
    });
    fit = solved3(m);
    const off = rows.map((r) => Math.abs(r.light - told(fit, r)));
    const middle = [...off].sort((x, y) => x - y)[off.length >> 1] + 1e-6;
    trust = rows.map((r, i) => r.weight / (1 + (off[i] / (2 * middle)) ** 2));
  }
  const mean = rows.reduce((s, r, i) => s + trust[i] * r.light, 0) / trust.reduce((x, y) => x + y, 0);
  let [left, all] = [0, 0];
  rows.forEach((r, i) => {
    left += trust[i] * (r.light - told(fit, r)) ** 2;
    all += trust[i] * (r.light - mean) ** 2;
  });
  return { angle: degrees(fit[1], fit[2]), certainty: all > 0 ? Math.max(0, 1 - left / all) : 0 };
}

function told([even, right, up]: readonly number[], r: Row): number {
  return even + right * r.nx + up * r.ny;
}

/** Unknowns of three equations, each four numbers, by Cramer's rule. */
function solved3(m: Float64Array): [number, number, number] {
  const det = (p: number, q: number, r: number): number =>
    m[p] * (m[4 + q] * m[8 + r] - m[4 + r] * m[8 + q]) -
    m[q] * (m[4 + p] * m[8 + r] - m[4 + r] * m[8 + p]) +
    m[r] * (m[4 + p] * m[8 + q] - m[4 + q] * m[8 + p]);
  const d = det(0, 1, 2);
  return Math.abs(d) < 1e-14 ? [0, 0, 0] : [det(3, 1, 2) / d, det(0, 3, 2) / d, det(0, 1, 3) / d];
}

function degrees(right: number, up: number): number {
  return ((Math.atan2(up, right) * 180) / Math.PI + 360) % 360;
}

/**
 * A guess of where a whole picture's light comes from: the way in which it gets brighter, large forms only. Never more
 * than half certain.
 *
 * @returns nothing when it is even
 */
export function lightOverall(p: Picture): LightDirection | undefined {
  const ratio = Math.min(1, 96 / Math.max(p.width, p.height));
  const whole = makePlane(p.width, p.height);
  for (let i = 0; i < whole.data.length; i++) whole.data[i] = Math.min(1, Math.max(0, luminance(p.r[i], p.g[i], p.b[i])));
  const small = resizePlane(whole, Math.max(4, Math.round(p.width * ratio)), Math.max(4, Math.round(p.height * ratio)));
  const { width, height, data } = gaussian(small, 3);
  const m = new Float64Array(12);
  const half = Math.max(width, height) / 2;
  let [mean, square] = [0, 0];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const lit = Math.log(data[i] + 0.01);
      const v = [1, (x + 0.5 - width / 2) / half, (height / 2 - y - 0.5) / half, lit];
      for (let j = 0; j < 3; j++) for (let k = 0; k < 4; k++) m[4 * j + k] += v[j] * v[k];
      mean += lit / data.length;
      square += (lit * lit) / data.length;
    }
  }
  const [c, a, b] = solved3(m);
  const spread = square - mean * mean;
  if (spread < 1e-4) return undefined;
  let left = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const fit = c + (a * (x + 0.5 - width / 2)) / half + (b * (height / 2 - y - 0.5)) / half;
      left += (Math.log(data[i] + 0.01) - fit) ** 2 / data.length;
    }
  }
  return { angle: degrees(a, b), certainty: 0.5 * Math.max(0, 1 - left / spread) };
}

/** The angle between two directions, 0 to 180 degrees. */
export function angleBetween(a: number, b: number): number {
  return Math.abs(((((a - b) % 360) + 540) % 360) - 180);
}

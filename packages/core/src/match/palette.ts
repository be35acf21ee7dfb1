import { oklabOf, oklabToLinear, type Triple } from '../colour/oklab';
import { pause, type Context } from '../runtime/context';
import { makePicture, type Picture } from '../raster/plane';
import type { Tone } from './tone';

/** A spread of colours is never stretched or squeezed by more than this factor. */
const mostGain = 2;

/**
 * The palette of a picture carried over to a reference's: the linear map of OKLab a and b that turns one Gaussian into the
 * other at least cost (optimal transport; Pitié & Kokaram 2007), lightness left alone (Reinhard et al. 2001 keep it
 * apart too). The shift fades out towards black, so that shadows keep their depth. With strength 0, or nothing
 * measured, the very picture comes back.
 *
 * @param from measured on the picture
 * @param to measured on the reference
 * @param strength 0 to 1
 * @throws AbortError
 */
export async function carryPalette(p: Picture, from: Tone, to: Tone, strength: number, context: Context): Promise<Picture> {
  if (strength === 0 || from.weight === 0 || to.weight === 0) return p;
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  const [taa, tab, tbb] = transport(from.chroma, to.chroma);
  const [ml, ma, mb] = from.mean;
  const shiftA = to.mean[1] - ma;
  const shiftB = to.mean[2] - mb;
  for (let y = 0; y < p.height; y++) {
    if ((y & 15) === 0) await pause(context, 'Matching', y / p.height);
    for (let i = y * p.width, end = i + p.width; i < end; i++) {
      const [l, a, b] = oklabOf(p.r[i], p.g[i], p.b[i]);
      const fade = Math.min(1, l / (ml + 1e-6));
      const da = a - ma;
      const db = b - mb;
      const na = a + strength * (fade * shiftA + taa * da + tab * db - da);
      const nb = b + strength * (fade * shiftB + tab * da + tbb * db - db);
      const [r, g, blue] = oklabToLinear(l, na, nb);
      out.r[i] = r > 0 ? r : 0;
      out.g[i] = g > 0 ? g : 0;
      out.b[i] = blue > 0 ? blue : 0;
    }
  }
  return out;
}

function limited(gain: number): number {
  return Math.min(mostGain, Math.max(1 / mostGain, gain));
}

/**
 * The symmetric 2 × 2 map that carries covariance s into t: s^(−½)·(s^½·t·s^½)^½·s^(−½), its stretch limited.
 */
function transport(s: Triple, t: Triple): Triple {
  const floor = 1e-5;
  const source: Triple = [s[0] + floor, s[1], s[2] + floor];
  const target: Triple = [t[0] + floor, t[1], t[2] + floor];
  const root = symmetric(source, Math.sqrt);
  const inverse = symmetric(source, (v) => 1 / Math.sqrt(v));
  const inner = symmetric(sandwich(root, target), Math.sqrt);
  return symmetric(sandwich(inverse, inner), limited);
}

/** m·x·m for symmetric 2 × 2 matrices. */
function sandwich(m: Triple, x: Triple): Triple {
  const p = m[0] * x[0] + m[1] * x[1];
  const q = m[0] * x[1] + m[1] * x[2];
  const r = m[1] * x[0] + m[2] * x[1];
  const s = m[1] * x[1] + m[2] * x[2];
  return [p * m[0] + q * m[1], p * m[1] + q * m[2], r * m[1] + s * m[2]];
}

/** A function of the eigenvalues of a symmetric 2 × 2 matrix. */
function symmetric(m: Triple, f: (v: number) => number): Triple {
  const mid = (m[0] + m[2]) / 2;
  const half = Math.hypot((m[0] - m[2]) / 2, m[1]);
  const high = f(Math.max(1e-12, mid + half));
  const low = f(Math.max(1e-12, mid - half));
  const angle = half > 0 ? Math.atan2(2 * m[1], m[0] - m[2]) / 2 : 0;
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  return [high * c * c + low * s * s, (high - low) * c * s, high * s * s + low * c * c];
}

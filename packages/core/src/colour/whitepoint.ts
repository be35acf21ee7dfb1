import { xyzOf } from './cielab';

/** Chromaticity in CIE 1976 u′v′. */
export interface Chromaticity {
  u: number;
  v: number;
}

/** u′v′ of linear sRGB; black is taken as the white point D65. */
export function chromaticityOf(r: number, g: number, b: number): Chromaticity {
  const [x, y, z] = xyzOf(r, g, b);
  const d = x + 15 * y + 3 * z;
  return d > 0 ? { u: (4 * x) / d, v: (9 * y) / d } : { u: 0.1978, v: 0.4683 };
}

/**
 * u′v′ of a black body, rational approximation of the locus (Krystek 1985), good to about 8e-5 from 1000
 * to 15000 K.
 */
export function locus(kelvin: number): Chromaticity {
  const t = kelvin;
  const u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t);
  const v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t);
  return { u, v: 1.5 * v };
}

/** Where a colour stands: along the black-body locus in mired, and across it. */
export interface WhitePoint {
  /** 1e6 over the correlated colour temperature in kelvin; larger is warmer. Clamped to 40 … 1000. */
  mired: number;
  /** Distance from the locus in u′v′, ×1000; positive towards green. */
  tint: number;
}

/** Nearest black body in the CIE 1960 (u, 2v′/3) plane, by golden-section search on mired. */
export function whitePointOf(c: Chromaticity): WhitePoint {
  const away = (mired: number): number => {
    const l = locus(1e6 / mired);
    return Math.hypot(l.u - c.u, ((l.v - c.v) * 2) / 3);
  };
  let low = 40;
  let high = 1000;
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let i = 0; i < 60; i++) {
    const p = high - golden * (high - low);
    const q = low + golden * (high - low);
    if (away(p) < away(q)) high = q;
    else low = p;
  }
  const mired = (low + high) / 2;
  const l = locus(1e6 / mired);
  const sign = c.v >= l.v ? 1 : -1;
  return { mired, tint: sign * Math.hypot(c.u - l.u, c.v - l.v) * 1000 };
}

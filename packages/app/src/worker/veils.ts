import { makePicture, type MatteProduct, type Picture, type Plane } from '@ritaglio/core';

/** Distances as grey, light where it is near; even steps are even ratios from 0.5 m to 500 m. */
export function greyOf({ width, height, data }: Plane): Picture {
  const r = data.map((metres) => Math.min(1, Math.max(0, 1 - Math.log(metres / 0.5) / Math.log(1000))) ** 2.2);
  return { width, height, r, g: r, b: r };
}

/** Mid-grey over all that does not show, clear where it does. */
export function dimmed(weight: Plane): Picture {
  const { width, height, data } = weight;
  const out = makePicture(width, height, 0);
  for (let p = 0; p < data.length; p++) {
    out.r[p] = out.g[p] = out.b[p] = 0.205;
    out.a![p] = 0.85 * (1 - Math.min(1, 1.5 * data[p]));
  }
  return out;
}

/** Light dots with an ink rim wherever opacity was solved, clear elsewhere. */
export function dotted(band: MatteProduct['band']): Picture {
  if (!band) return makePicture(1, 1, 0);
  const { width, height } = band;
  const out = makePicture(width, height, 0);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const [u, v] = [x % 4, (y + 2 * ((x >> 2) & 1)) % 4];
      if (band.data[p] === 0 || u > 1 || v > 1) continue;
      out.a![p] = 0.9;
      if (u === 0 && v === 0) out.r[p] = out.g[p] = out.b[p] = 1;
    }
  }
  return out;
}

/** Stripes where light is above 1 (ink on white) or below 0 (white on ink), clear elsewhere. */
export function outOfRange(p: Picture): Picture {
  const out = makePicture(p.width, p.height, 0);
  for (let y = 0, i = 0; y < p.height; y++) {
    for (let x = 0; x < p.width; x++, i++) {
      const above = p.r[i] > 1.0001 || p.g[i] > 1.0001 || p.b[i] > 1.0001;
      const below = p.r[i] < -1e-4 || p.g[i] < -1e-4 || p.b[i] < -1e-4;
      if (!above && !below) continue;
      out.a![i] = 1;
      const stripe = (x + y) % 8 < 3;
      out.r[i] = out.g[i] = out.b[i] = stripe === above ? 0 : 1;
    }
  }
  return out;
}

export function clippedShare(p: Picture): { white: number; black: number } {
  let white = 0;
  let black = 0;
  for (let i = 0; i < p.r.length; i++) {
    if (p.r[i] >= 1 || p.g[i] >= 1 || p.b[i] >= 1) white++;
    else if (p.r[i] <= 0 && p.g[i] <= 0 && p.b[i] <= 0) black++;
  }
  return { white: white / p.r.length, black: black / p.r.length };
}

import { luminance } from '../colour/cielab';
import { linearOfHex } from '../colour/srgb';
import type { Context } from '../context/context';
import { components } from '../raster/components';
import type { Picture } from '../raster/plane';

/** A small light set by hand. Lengths in px of the full-size picture. */
export interface SetLamp {
  x: number;
  y: number;
  /** Diameter, px. */
  size: number;
  /** #rrggbb */
  colour: string;
  /** Width of its rim as a share of its radius, 0 to 1. */
  softness: number;
  /** Stops above display white. */
  lift: number;
}

/** Which small lights of a card count as lamps, and what becomes of them. */
export interface LampParams {
  /** Lightness from which a light counts, CIE L*. */
  from: number;
  /** Smallest diameter, px of the full-size picture: a glint is no lamp. */
  least: number;
  /** Largest diameter, px of the full-size picture: the sky is no lamp. */
  size: number;
  /** Stops by which they are lifted above what the photograph could hold; 0 leaves them alone. */
  lift: number;
  /** How much of the colour around a clipped light it takes: 0 white, 1 as it is, 2 twice as much. */
  colour: number;
  /** Middles of lights that are no lamps after all. */
  dropped: [number, number][];
  set: SetLamp[];
}

/** Before anything is chosen. */
export const plainLamps: LampParams = { from: 98.5, least: 4, size: 36, lift: 0, colour: 1, dropped: [], set: [] };

/** A light found in a picture. Lengths in px of the full-size picture. */
export interface Lamp {
  x: number;
  y: number;
  /** Radius of the disc of the same area, px. */
  radius: number;
  /** Light of a pixel of it, linear, by the colour found around it; luminance as photographed. */
  colour: [number, number, number];
  dropped: boolean;
}

/** The lamps of a picture, and how all small bright spots are spread over size, to see what counts. */
export interface FoundLamps {
  lamps: Lamp[];
  /** Diameters of all bright spots, px of the full-size picture, also of those too large. */
  sizes: number[];
}

/**
 * Lights by brightness and size: bright spots no larger than a limit that stand out from what is around them, the
 * brightest and largest first. Cost: one pass and the spots.
 *
 * @param picture opaque, at the context's scale
 */
export function findLamps(picture: Picture, params: LampParams, { scale }: Pick<Context, 'scale'>): FoundLamps {
  const { width, height } = picture;
  const bright = new Uint8Array(width * height);
  const limit = luminanceAt(params.from);
  for (let p = 0; p < bright.length; p++) bright[p] = luminance(picture.r[p], picture.g[p], picture.b[p]) >= limit ? 1 : 0;
  const spots = spotsOf(bright, width, height);
  const lamps: Lamp[] = [];
  const sizes: number[] = [];
  for (const spot of spots) {
    const radius = Math.sqrt(spot.area / Math.PI);
    sizes.push((2 * radius) / scale);
    if (2 * radius > params.size * scale || 2 * radius < params.least * scale || !isRound(spot, width)) continue;
    const around = ringOf(picture, spot, radius);
    if (around.dark > 0.7 * spot.light) continue;
    const [x, y] = [(spot.x + 0.5) / scale, (spot.y + 0.5) / scale];
    const dropped = params.dropped.some(([dx, dy]) => Math.hypot(dx - x, dy - y) <= Math.max(2, radius / scale));
    const tinted = around.hue.map((c) => Math.max(0, 1 + params.colour * (c - 1)));
    const level = spot.light / Math.max(1e-6, luminance(tinted[0], tinted[1], tinted[2]));
    lamps.push({ x, y, radius: radius / scale, colour: tinted.map((c) => c * level) as Lamp['colour'], dropped });
  }
  lamps.sort((p, q) => q.radius - p.radius || p.y - q.y || p.x - q.x);
  return { lamps, sizes };
}

/** Luminance of a lightness. */
function luminanceAt(lightness: number): number {
  return lightness > 8 ? ((lightness + 16) / 116) ** 3 : lightness / 903.3;
}

interface Spot {
  x: number;
  y: number;
  area: number;
  /** Mean luminance; filled when looked at. */
  light: number;
  pixels: number[];
}

function spotsOf(bright: Uint8Array, width: number, height: number): Spot[] {
  const { label, area } = components(bright, width, height);
  const spots: Spot[] = area.slice(1).map(() => ({ x: 0, y: 0, area: 0, light: 0, pixels: [] }));
  for (let p = 0; p < label.length; p++) {
    if (label[p] === 0) continue;
    const spot = spots[label[p] - 1];
    spot.area++;
    spot.x += p % width;
    spot.y += (p / width) | 0;
    if (spot.pixels.length < 20000) spot.pixels.push(p);
  }
  for (const spot of spots) {
    spot.x /= spot.area;
    spot.y /= spot.area;
  }
  return spots.filter((s) => s.area > 0);
}

/** Half of a long streak is no lamp, nor is a ring: the box around a spot is about as wide as high, and full. */
function isRound(spot: Spot, width: number): boolean {
  let [left, right] = [Infinity, -Infinity];
  for (const p of spot.pixels) {
    left = Math.min(left, p % width);
    right = Math.max(right, p % width);
  }
  const top = (spot.pixels[0] / width) | 0;
  const down = ((spot.pixels[spot.pixels.length - 1] / width) | 0) - top + 1;
  const across = right - left + 1;
  return across <= 2.2 * down && down <= 2.2 * across && spot.area >= 0.5 * across * down;
}

/** The colour found at a spot's rim (luminance 1), and how bright the surroundings are; sets the spot's own light. */
function ringOf(picture: Picture, spot: Spot, radius: number): { hue: number[]; dark: number } {
  const { width, height, r, g, b } = picture;
  let light = 0;
  for (const p of spot.pixels) light += luminance(r[p], g[p], b[p]);
  spot.light = light / spot.pixels.length;
  const reach = Math.ceil(2 * radius + 4);
  const around = [0, 0, 0];
  let count = 0;
  const box = (visit: (p: number, away: number) => void): void => {
    for (let y = Math.max(0, Math.round(spot.y) - reach); y <= Math.min(height - 1, Math.round(spot.y) + reach); y++)
      for (let x = Math.max(0, Math.round(spot.x) - reach); x <= Math.min(width - 1, Math.round(spot.x) + reach); x++)
        visit(y * width + x, Math.hypot(x - spot.x, y - spot.y));
  };
  box((p, away) => {
    if (away <= 1.5 * radius + 2 || away > reach) return;
    around[0] += r[p];
    around[1] += g[p];
    around[2] += b[p];
    count++;
  });
  for (let c = 0; c < 3; c++) around[c] /= Math.max(1, count);
  // What a rim pixel that did not clip has above its surroundings is the light's own colour.
  const own = [0, 0, 0];
  let rim = 0;
  box((p, away) => {
    if (away > radius + 2.5 || Math.max(r[p], g[p], b[p]) > 0.95) return;
    rim++;
    own[0] += Math.max(0, r[p] - around[0]);
    own[1] += Math.max(0, g[p] - around[1]);
    own[2] += Math.max(0, b[p] - around[2]);
  });
  // A dim rim says little: the less light there is in it, the nearer to white.
  for (let c = 0; c < 3; c++) own[c] += 0.02 + 0.08 * rim;
  const mean = luminance(own[0], own[1], own[2]);
  return { hue: own.map((c) => Math.min(1.8, Math.max(0.35, c / mean))), dark: luminance(around[0], around[1], around[2]) };
}

/** A lamp in the frame, as it is drawn. Lengths in px of the frame as rendered. */
export interface SeenLamp {
  x: number;
  y: number;
  radius: number;
  softness: number;
  /** Light of one pixel that is added, linear. */
  light: [number, number, number];
}

/**
 * What lamps add to a picture: those found, lifted, and those set by hand.
 *
 * @param lamps as found, in px of the full-size picture
 * @param toFrame carries a point and a length of the full-size picture into the frame as rendered
 */
export function seenLamps(
  lamps: Lamp[],
  params: LampParams,
  toFrame: (x: number, y: number) => { x: number; y: number; size: number },
): SeenLamp[] {
  const times = 2 ** params.lift - 1;
  const out: SeenLamp[] = [];
  if (times > 0) {
    for (const lamp of lamps) {
      if (lamp.dropped) continue;
      const { x, y, size } = toFrame(lamp.x, lamp.y);
      out.push({ x, y, radius: lamp.radius * size, softness: 0, light: lamp.colour.map((c) => c * times) as SeenLamp['light'] });
    }
  }
  for (const lamp of params.set) {
    const { x, y, size } = toFrame(lamp.x, lamp.y);
    const light = linearOfHex(lamp.colour).map((c) => c * 2 ** lamp.lift);
    out.push({ x, y, radius: (lamp.size / 2) * size, softness: lamp.softness, light: light as SeenLamp['light'] });
  }
  return out;
}

/** How many diameters fall in each of some classes, for a small histogram. @param edges ascending; the last class is open */
export function sizeClasses(sizes: number[], edges: number[]): number[] {
  const out = new Array<number>(edges.length).fill(0);
  for (const s of sizes) {
    let k = edges.length - 1;
    while (k > 0 && s < edges[k]) k--;
    out[k]++;
  }
  return out;
}

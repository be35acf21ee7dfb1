import { luminance } from '../colour/cielab';
import { linearOfHex } from '../colour/srgb';
import type { Context } from '../runtime/context';
import { components } from '../raster/components';
import type { Box, Picture } from '../raster/plane';
import { rankOf } from '../raster/rank';
import { usualScale } from '../raster/usual';
import type { LampArea } from './strewn';

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
  /** Lightness from which a light counts, and up to which, CIE L*. */
  from: number;
  to: number;
  /** Smallest diameter, px of the full-size picture: a glint is no lamp. */
  least: number;
  /** Largest diameter, px of the full-size picture: the sky is no lamp. */
  size: number;
  /** Stops by which they are lifted above what the photograph could hold; 0 leaves them alone, `auto` takes the proposal. */
  lift: number | 'auto';
  /** How much of the colour around a clipped light it takes: 0 white, 1 as it is, 2 twice as much. */
  colour: number;
  /** Middles of lights that are no lamps after all. */
  dropped: [number, number][];
  set: SetLamp[];
  /** Areas filled with small lights of the colours that are there. */
  areas: LampArea[];
}

/** Before anything is chosen. */
export const defaultLamps: LampParams & { areas: [] } = {
  from: 98.5,
  to: 100,
  least: 4,
  size: 36,
  lift: 'auto',
  colour: 1,
  dropped: [],
  set: [],
  areas: [],
};

/** Before anything is chosen, for a picture of some size: one with more pixels has larger lamps. @param size px of the full-size picture */
export function lampsFor(size: { width: number; height: number }): typeof defaultLamps {
  const times = usualScale(size, 1);
  return { ...defaultLamps, least: Math.round(2 * times * defaultLamps.least) / 2, size: Math.round(times * defaultLamps.size) };
}

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
  /** Stops by which they should be lifted, see `proposedLift`. */
  proposed: number;
}

/** Stops that lamps of the night lie above display white where a photograph clips them. */
const nightLift = 5.8;
/** Luminance that a tenth of the picture exceeds: up to the first it is night or dusk, from the second on day. */
const dusk = [0.4, 0.6] as const;
/** In deep night a single lamp is one; else so many must be alike. */
const deepNight = 0.2;
const several = 3;

/** Luminance that a tenth of a picture exceeds. */
function brightOf({ r, g, b }: Picture): number {
  const step = Math.max(1, Math.floor(r.length / 50000));
  const light = new Float64Array(Math.ceil(r.length / step));
  for (let i = 0, p = 0; p < r.length; i++, p += step) light[i] = luminance(r[p], g[p], b[p]);
  return rankOf(light, Math.floor(0.9 * light.length));
}

/** Whether a picture was taken by day: what is small and white there is just white. */
export function isDay(picture: Picture): boolean {
  return brightOf(picture) >= dusk[1];
}

/**
 * How far lamps clipped, as far as a picture tells: where little is bright it was exposed for what is dim, and whatever clips as a small
 * disc there is a lamp; where much is bright already, small white things are just white. One that stands alone counts in the deep
 * of night only.
 */
export function proposedLift(picture: Picture, lamps: readonly Lamp[]): number {
  const counted = lamps.filter((l) => !l.dropped).length;
  if (counted === 0) return 0;
  const bright = brightOf(picture);
  if (counted < several && bright > deepNight) return 0;
  const share = Math.min(1, Math.max(0, (dusk[1] - bright) / (dusk[1] - dusk[0])));
  return Math.round(10 * nightLift * share) / 10;
}

/** Stops by which lamps are lifted. */
export function liftOf({ lift }: Pick<LampParams, 'lift'>, { proposed }: Pick<FoundLamps, 'proposed'>): number {
  return lift === 'auto' ? proposed : lift;
}

/**
 * Lights by brightness and size: bright spots no larger than a limit that stand out from what is around them, the
 * brightest and largest first. Cost: one pass and the spots.
 *
 * @param picture opaque, at the context's scale
 * @param where 1 where they may be; everywhere if left out
 */
export function findLamps(picture: Picture, params: LampParams, { scale }: Pick<Context, 'scale'>, where?: Uint8Array): FoundLamps {
  const { width, height } = picture;
  const bright = new Uint8Array(width * height);
  const limit = luminanceAt(params.from);
  for (let p = 0; p < bright.length; p++) {
    bright[p] = where?.[p] !== 0 && luminance(picture.r[p], picture.g[p], picture.b[p]) >= limit ? 1 : 0;
  }
  const limitAbove = params.to >= 100 ? Infinity : luminanceAt(params.to);
  const spots = spotsOf(bright, width, height);
  const lamps: Lamp[] = [];
  const sizes: number[] = [];
  const kept: (Rim & { spot: Spot; radius: number })[] = [];
  for (const spot of spots) {
    const radius = Math.sqrt(spot.area / Math.PI);
    sizes.push((2 * radius) / scale);
    if (2 * radius > params.size * scale || 2 * radius < params.least * scale) continue;
    const box = boxOf(spot, width);
    if (!isRound(spot, box)) continue;
    const around = ringOf(picture, spot, radius);
    if (spot.light > limitAbove || around.dark > 0.7 * spot.light || isSquare(picture, spot, box)) continue;
    kept.push({ spot, radius, rim: around.rim, count: around.count });
  }
  const common = commonHue(kept);
  for (const { spot, radius, rim, count } of kept) {
    const [x, y] = [(spot.x + 0.5) / scale, (spot.y + 0.5) / scale];
    const dropped = params.dropped.some(([dx, dy]) => Math.hypot(dx - x, dy - y) <= Math.max(2, radius / scale));
    const tinted = hueOf(rim, count, common).map((c) => Math.max(0, 1 + params.colour * (c - 1)));
    const level = spot.light / Math.max(1e-6, luminance(tinted[0], tinted[1], tinted[2]));
    lamps.push({ x, y, radius: radius / scale, colour: tinted.map((c) => c * level) as Lamp['colour'], dropped });
  }
  lamps.sort((p, q) => q.radius - p.radius || p.y - q.y || p.x - q.x);
  return { lamps, sizes, proposed: proposedLift(picture, lamps) };
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

function boxOf({ pixels }: Spot, width: number): Box {
  let [left, right] = [Infinity, -Infinity];
  for (const p of pixels) {
    left = Math.min(left, p % width);
    right = Math.max(right, p % width);
  }
  const top = (pixels[0] / width) | 0;
  return { x: left, y: top, width: right - left + 1, height: ((pixels[pixels.length - 1] / width) | 0) - top + 1 };
}

/** Half of a long streak is no lamp, nor is a ring: the box around a spot is about as wide as high, and full. */
function isRound(spot: Spot, { width: across, height: down }: Box): boolean {
  return across <= 2.2 * down && down <= 2.2 * across && spot.area >= 0.5 * across * down;
}

/** Below this width or height, px, a spot's corners cannot be told from a disc's. */
const corners = 5;

/** A lit window or a sheet of paper is bright in the corners of the box around it; a disc does not reach them. */
function isSquare({ r, g, b, width }: Picture, spot: Spot, box: Box): boolean {
  if (Math.min(box.width, box.height) < corners) return false;
  let [outside, bright] = [0, 0];
  for (let y = 0; y < box.height; y++) {
    for (let x = 0; x < box.width; x++) {
      if (Math.hypot((2 * x + 1) / box.width - 1, (2 * y + 1) / box.height - 1) < 1.08) continue;
      outside++;
      const p = (y + box.y) * width + x + box.x;
      if (luminance(r[p], g[p], b[p]) > 0.75 * spot.light) bright++;
    }
  }
  return bright > 0.7 * outside;
}

/** What a light's rim has above its surroundings, summed, and over how many pixels. */
interface Rim {
  rim: number[];
  count: number;
}

/** How much light a pixel of the rim must have to tell its lamp's hue. */
const telling = 0.08;

/** The hue of a rim, luminance 1. The less light there is in it, the nearer to the hue that the picture's lamps have in common. */
function hueOf(rim: number[], count: number, common: number[]): number[] {
  const own = rim.map((c, i) => c + (0.02 + telling * count) * common[i]);
  const mean = luminance(own[0], own[1], own[2]);
  return own.map((c) => Math.min(1.8, Math.max(0.35, c / mean)));
}

/** The hue of the lamps whose rims tell: most lamps of a place are alike. White when fewer than three do. */
function commonHue(lamps: Rim[]): number[] {
  const hues = lamps
    .filter(({ rim, count }) => luminance(rim[0], rim[1], rim[2]) > telling * Math.max(4, count))
    .map(({ rim }) => rim.map((c) => c / luminance(rim[0], rim[1], rim[2])));
  if (hues.length < 3) return [1, 1, 1];
  return [0, 1, 2].map((c) => hues.map((h) => h[c]).sort((a, b) => a - b)[hues.length >> 1]);
}

/** What a spot's rim has above its surroundings, and how bright those are; sets the spot's own light. */
function ringOf(picture: Picture, spot: Spot, radius: number): Rim & { dark: number } {
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
  return { rim: own, count: rim, dark: luminance(around[0], around[1], around[2]) };
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
 * How far a light clips beyond its own rim, px: a pixel that sees only a part in `times` of it is white. A pixel sees about a
 * Gaussian of a quarter of its width.
 */
function spillOf(times: number): number {
  return times > 2 ? 0.25 * Math.sqrt(2 * Math.log(times / 2)) : 0;
}

/**
 * What lamps add to a picture: those found, lifted, those set by hand, and those strewn over areas.
 *
 * @param found in px of the full-size picture
 * @param strewn see `strewnLamps`
 * @param toFrame carries a point and a length of the full-size picture into the frame as rendered
 */
export function seenLamps(
  found: Pick<FoundLamps, 'lamps' | 'proposed'>,
  params: LampParams,
  toFrame: (x: number, y: number) => { x: number; y: number; size: number },
  strewn: readonly SetLamp[] = [],
): SeenLamp[] {
  const times = 2 ** liftOf(params, found) - 1;
  const out: SeenLamp[] = [];
  if (times > 0) {
    for (const lamp of found.lamps) {
      if (lamp.dropped) continue;
      const { x, y, size } = toFrame(lamp.x, lamp.y);
      const radius = Math.max(0.6 * lamp.radius, lamp.radius - spillOf(times + 1)) * size;
      out.push({ x, y, radius, softness: 0, light: lamp.colour.map((c) => c * times) as SeenLamp['light'] });
    }
  }
  for (const lamp of [...params.set, ...strewn]) {
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

import { geodesicDistance } from '../colour/geodesic';
import { luminance } from '../colour/cielab';
import { oklabPlanes } from '../colour/oklab';
import { encodeSrgb } from '../colour/srgb';
import type { Context } from '../runtime/context';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture, resizePlane } from '../raster/resize';
import { sampleAt } from '../raster/sample';
import { rasterRegions, strokeCover, type Path, type Region } from '../raster/strokeCover';

/** A spot whose distance is known. Lengths in px of the card's full-size picture, distances in m. */
interface Peg {
  x: number;
  y: number;
  distance: number;
}

/** How distance varies over a card. Lengths in px of its full-size picture, distances in m. */
export interface Distances {
  /** Level ground before the card: it is at a distance along the line, and runs away towards the horizon above it. */
  ground: { line: number; horizon: number; distance: number } | null;
  /** What is added from the left edge to the right, and from the upper to the lower. */
  lean: { across: number; down: number };
  /**
   * A picture of distances; it takes the place of the ground. `metres`: its lightest tone is `far`, black is not
   * known; `nearness`: black is `far`, white is `near`, even steps between them are even steps of blur.
   */
  map: { picture: string; reading: 'metres' | 'nearness'; near: number; far: number } | null;
  pegs: Peg[];
  /** Between pegs: by nearness alone, or along what is alike, changing at edges. */
  between: 'smooth' | 'edges';
  painted: { distance: number; radius: number; hardness: number; opacity: number; points: Path }[];
  /** What stands with the subject: things on the card that are as far away as the subject is, wherever that is moved. */
  standing: Region[];
}

/** The same distance everywhere. */
export const flatDistances: Distances = {
  ground: null,
  lean: { across: 0, down: 0 },
  map: null,
  pegs: [],
  between: 'edges',
  painted: [],
  standing: [],
};

/** Beyond this everything is as far as can be, m. */
const farthest = 10000;
/** Nearer than this nothing can be, m. */
const nearest = 0.05;

/** True when the card is flat: one distance does for all of it. */
export function isFlat({ ground, lean, map, pegs, painted, standing }: Distances): boolean {
  return !ground && lean.across === 0 && lean.down === 0 && !map && pegs.length === 0 && painted.length === 0 && standing.length === 0;
}

/** How far the horizon usually lies above where a subject stands, as a share of the picture's height. */
const usualHorizon = 0.45;

/**
 * Level ground on which something stands. Its horizon is a guess, to be drawn where it is.
 *
 * @param foot where its lowest part is seen, px
 * @param height of the picture, px
 * @param distance of what stands there, m
 */
export function groundUnder(foot: number, height: number, distance: number): NonNullable<Distances['ground']> {
  return { line: Math.round(foot), horizon: Math.round(foot - usualHorizon * height), distance };
}

/** Distance at a height of level ground; at the horizon and above it, the farthest. */
export function groundDistance({ line, horizon, distance }: NonNullable<Distances['ground']>, y: number): number {
  const below = (y - horizon) / (line - horizon);
  return below > distance / farthest ? distance / below : farthest;
}

/**
 * Distance of every pixel of a card: the card itself is what stands behind its ground. All is worked out in nearness (1/m), in which blur discs are even: ground or
 * map, lean, then what the pegs say, carried over by the inverse square of the way to each (Shepard 1968),
 * a way across edges being longer; then painted strokes; last what stands with the subject.
 *
 * @param card its picture at the context's scale
 * @param distance of the card, m
 * @param map the picture of distances, any size; only if there is one
 * @param subject distance of the subject, m, for what stands with it
 */
export function distanceField(
  card: Picture,
  distance: number,
  distances: Distances,
  map: Picture | undefined,
  context: Context,
  subject = distance,
): Plane {
  const { width, height } = card;
  const nearness = groundOrMap(width, height, distance, distances, map, context.scale);
  carryPegs(nearness, card, distances, context.scale);
  for (const stroke of distances.painted) {
    const cover = strokeCover(stroke, width, height, context.scale);
    if (!cover) continue;
    const { left, top, plane } = cover;
    for (let y = 0; y < plane.height; y++) {
      for (let x = 0; x < plane.width; x++) {
        const p = (top + y) * width + left + x;
        const k = plane.data[y * plane.width + x];
        nearness.data[p] += k * (1 / stroke.distance - nearness.data[p]);
      }
    }
  }
  const out = nearness.data;
  if (distances.standing.length > 0) {
    const stands = rasterRegions(distances.standing, width, height, context.scale).data;
    // A thing is at one distance up to its edge: between two there is nothing.
    for (let p = 0; p < out.length; p++) if (stands[p] >= 0.5) out[p] = 1 / subject;
  }
  for (let p = 0; p < out.length; p++) out[p] = Math.min(farthest, Math.max(nearest, 1 / Math.max(out[p], 1e-6)));
  return nearness;
}

function groundOrMap(width: number, height: number, distance: number, d: Distances, map: Picture | undefined, scale: number): Plane {
  const out = makePlane(width, height);
  const read = d.map && map ? mapped(map, d.map, width, height) : undefined;
  for (let y = 0, p = 0; y < height; y++) {
    const level = d.ground ? Math.min(distance, groundDistance(d.ground, (y + 0.5) / scale)) : distance;
    const down = d.lean.down * ((y + 0.5) / height - 0.5);
    for (let x = 0; x < width; x++, p++) {
      const metres = (read ? 1 / read.data[p] : level) + down + d.lean.across * ((x + 0.5) / width - 0.5);
      out.data[p] = 1 / Math.max(nearest, metres);
    }
  }
  return out;
}

/** Nearness by a picture of distances. */
function mapped(map: Picture, { reading, near, far }: NonNullable<Distances['map']>, width: number, height: number): Plane {
  const tone = makePlane(map.width, map.height);
  for (let p = 0; p < tone.data.length; p++) {
    // Codes of a map are even steps, not light.
    const v = encodeSrgb(luminance(map.r[p], map.g[p], map.b[p]));
    tone.data[p] = reading === 'metres' ? 1 / (v > 0 ? Math.max(nearest, v * far) : far) : 1 / far + v * (1 / near - 1 / far);
  }
  return resizePlane(tone, width, height);
}

/** Longest side, px, on which the ways to pegs are measured. */
const small = 320;
/** A way so long from a peg, what else is said of a spot counts as much as the peg does. */
const hold = 0.14;

/**
 * Lays what pegs say over what is there. Over level ground they stand on what rises from it, all of it at the peg's own
 * distance; over a map or a lean they move what is there by as much as it is off at the peg.
 */
function carryPegs(nearness: Plane, card: Picture, { pegs, between, ground, map }: Distances, scale: number): void {
  if (pegs.length === 0) return;
  const { width, height } = nearness;
  const shrink = Math.min(1, small / Math.max(width, height));
  const [w, h] = [Math.max(1, Math.round(width * shrink)), Math.max(1, Math.round(height * shrink))];
  const sum = makePlane(w, h);
  const rises = ground !== null && !map;
  // Where ground or a map says something of its own, that holds away from the pegs.
  const rest = ground || map ? 1 / hold ** 2 : 0;
  const weight = new Float64Array(w * h).fill(rest);
  const lab = between === 'edges' ? oklabPlanes(resizePicture({ ...card, a: undefined } as Picture, w, h)) : undefined;
  const toll = new Float32Array(w * h);
  for (const peg of pegs) {
    const [px, py] = [
      Math.min(w - 1, Math.max(0, (peg.x * scale * w) / width)),
      Math.min(h - 1, Math.max(0, (peg.y * scale * h) / height)),
    ];
    const says = 1 / peg.distance - (rises ? 0 : sampleAt(nearness, peg.x * scale - 0.5, peg.y * scale - 0.5));
    const way = lab ? ways(lab, Math.floor(px), Math.floor(py), toll) : undefined;
    for (let y = 0, p = 0; y < h; y++) {
      for (let x = 0; x < w; x++, p++) {
        const straight = Math.hypot(x + 0.5 - px, y + 0.5 - py) / Math.max(w, h);
        const far = way ? 0.1 * straight + way[p] : straight;
        const k = 1 / (far * far + 1e-5);
        sum.data[p] += k * says;
        weight[p] += k;
      }
    }
  }
  const kept = makePlane(w, h, 1);
  for (let p = 0; p < weight.length; p++) {
    sum.data[p] /= weight[p];
    if (rises) kept.data[p] = rest / weight[p];
  }
  const laid = resizePlane(sum, width, height).data;
  const stays = resizePlane(kept, width, height).data;
  for (let p = 0; p < laid.length; p++) nearness.data[p] = stays[p] * nearness.data[p] + laid[p];
}

function ways(lab: ReturnType<typeof oklabPlanes>, x: number, y: number, toll: Float32Array): Float32Array {
  const start = new Float32Array(toll.length).fill(Infinity);
  start[y * lab.width + x] = 0;
  return geodesicDistance(lab, start, toll, { flat: 0.001, edges: 60 });
}

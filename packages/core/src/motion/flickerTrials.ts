import { checkFlicker, type FlickerAt } from '../proof/checks/pictures';
import type { Check } from '../proof/checks/check';
import { gaussian } from '../raster/filter';
import { makePicture, type Picture, type Plane } from '../raster/plane';
import { seeded } from '../raster/random';
import type { Context } from '../runtime/context';
import { laidOver, proofScene, type ProofScene } from '../testing/faults';
import { flickerOf } from './flicker';
import { opticalFlow } from './flow';
import { brightnessOf } from '../colour/perceived';

/** A plane moved by whole pixels; beyond its borders it is 0. */
function moved({ width, height, data }: Plane, dx: number, dy: number): Plane {
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = [x - dx, y - dy];
      if (u >= 0 && v >= 0 && u < width && v < height) out[y * width + x] = data[v * width + u];
    }
  }
  return { width, height, data: out };
}

/** The same thing a frame later: it has gone on, its ground has not. */
function later(s: ProofScene, dx: number, dy: number): ProofScene {
  const { width, height } = s;
  const front: Picture = makePicture(width, height);
  for (const c of ['r', 'g', 'b'] as const) front[c].set(moved({ width, height, data: s.front[c] }, dx, dy).data);
  return { ...s, front, matte: moved(s.matte, dx, dy) };
}

/** A matte whose edge is another than a frame before: wider, uneven, or narrower. */
function unsteady(s: ProofScene, seed: number): Plane {
  const { matte } = s;
  const soft = gaussian(matte, 3).data;
  if (seed % 3 === 0) return { ...matte, data: matte.data.map((a, p) => Math.min(1, Math.max(a, 1.6 * soft[p]))) };
  const random = seeded(71 + seed);
  const noise = gaussian({ ...matte, data: matte.data.map(() => random() - 0.5) }, 4).data;
  if (seed % 3 === 1) return { ...matte, data: matte.data.map((a, p) => Math.min(1, Math.max(0, a + 120 * noise[p] * soft[p] * (1 - soft[p])))) }; // prettier-ignore
  return { ...matte, data: matte.data.map((a, p) => Math.max(0, Math.min(a, 1.6 * soft[p] - 0.6))) };
}

/** How far from its middle only a part of an edge is unsteady, px, and over how many it fades. */
const [partReach, partFade] = [34, 8];

/** The same only around a place of the edge. */
function unsteadyAt(s: ProofScene, seed: number): { matte: Plane; at: { x: number; y: number } } {
  const { width, data } = s.matte;
  const edge = [...data.keys()].filter((p) => data[p] > 0.4 && data[p] < 0.6);
  const middle = edge[Math.floor((((37 * seed) % 100) / 100) * edge.length)];
  const at = { x: middle % width, y: Math.floor(middle / width) };
  const bad = unsteady(s, seed).data;
  const mixed = data.map((a, p) => {
    const away = Math.hypot((p % width) - at.x, Math.floor(p / width) - at.y);
    return a + Math.max(0, Math.min(1, (partReach - away) / partFade)) * (bad[p] - a);
  });
  return { matte: { ...s.matte, data: mixed }, at };
}

/**
 * The check of flicker on two frames made up from a seed, the later one's matte unsteady all along, in a part of its edge, or as it is.
 *
 * @returns the check, and whether its place is that part
 */
export async function flickerTrial(
  seed: number,
  fault: 'whole' | 'part' | 'none',
  context: Context,
): Promise<{ check: Check; placed: boolean }> {
  const before = proofScene(seed);
  const now = later(before, 2 + (seed % 4), -1 - (seed % 3));
  const bright = [before, now].map((s) => brightnessOf(laidOver(s), context));
  const [there, back] = await opticalFlow(bright, [[1, 0], [0, 1]], context); // prettier-ignore
  const part = unsteadyAt(now, seed);
  const matte = { whole: () => unsteady(now, seed), part: () => part.matte, none: () => now.matte }[fault]();
  const found = flickerOf({ matte: before.matte, brightness: bright[0] }, { matte, brightness: bright[1] }, there, back);
  const places: FlickerAt[] = found ? [{ ...found, frame: 1 }] : [];
  const placed = found !== undefined && Math.hypot(found.at.x - part.at.x, found.at.y - part.at.y) <= partReach + 24;
  return { check: checkFlicker(places, before.scale), placed };
}

import { inArenaNow } from '../runtime/arena';
import type { Context } from '../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import type { Plane } from '../raster/plane';
import { halve, resizePlane } from '../raster/resize';

/** Where each pixel of one picture lies in another: at (x + u, y + v), in pixels. */
export interface Flow {
  width: number;
  height: number;
  u: Float32Array;
  v: Float32Array;
}

/** The coarsest level's shorter side is at least this, px; and the finest level's longer side at most that. */
const leastSide = 24;
const finestSide = 720;

interface FlowJob {
  /** Brightness, all of one size. */
  pictures: Plane[];
  pairs: (readonly [from: number, to: number])[];
  flows: Flow[];
}

/** Finds one pair's flow after the other. */
export const flowPair: Kernel<FlowJob> = {
  name: 'flowPair',
  begin({ pictures, pairs, flows }) {
    const levels = pictures.map(pyramidOf);
    return (part) => {
      const [from, to] = pairs[part].map((i) => levels[i]);
      const found = coarseToFine(from, to);
      const { width, height, u, v } = flows[part];
      u.set(stretched(found.u, found, width, height, width / found.width));
      v.set(stretched(found.v, found, width, height, height / found.height));
    };
  },
};

/** A flow at another size. */
export function flowAt(flow: Flow, width: number, height: number): Flow {
  const u = stretched(flow.u, flow, width, height, width / flow.width);
  const v = stretched(flow.v, flow, width, height, height / flow.height);
  return { width, height, u, v };
}

/** A plane of flow at another size; lengths grow with it. */
function stretched(data: Float32Array, { width, height }: Flow, w: number, h: number, factor: number): Float32Array {
  if (width === w && height === h) return data;
  const { data: out } = resizePlane({ width, height, data }, w, h);
  for (let p = 0; p < out.length; p++) out[p] *= factor;
  return out;
}

/** The picture and its halves, from the finest size that is looked at to the coarsest. */
function pyramidOf(p: Plane): Plane[] {
  const ratio = Math.min(1, finestSide / Math.max(p.width, p.height));
  const out = [ratio === 1 ? p : resizePlane(p, Math.round(p.width * ratio), Math.round(p.height * ratio))];
  for (let last = p; Math.min(last.width, last.height) >= 2 * leastSide; out.push(last)) last = halve(out[out.length - 1]);
  return out;
}

function coarseToFine(from: Plane[], to: Plane[]): Flow {
  let flow: Flow | undefined;
  for (let level = from.length - 1; level >= 0; level--) {
    const { width, height, data } = from[level];
    const next: Flow = { width, height, u: new Float32Array(data.length), v: new Float32Array(data.length) };
    const last = flow;
    inArenaNow((arena) => {
      const { run } = arena;
      run.flowOn(width, height, arena.copyIn(data), arena.copyIn(to[level].data), arena.alloc(4 * 256));
      const patches = run.patchesAlong(width) * run.patchesAlong(height);
      const [u, v, cost] = [0, 1, 2].map(() => arena.filled(4 * patches));
      if (last) run.flowBegin(last.width, last.height, arena.copyIn(last.u), arena.copyIn(last.v), u, v);
      run.flowSearch(u, v, cost, 0);
      run.flowSearch(u, v, cost, 1);
      const [allU, allV, weight] = [0, 1, 2].map(() => arena.alloc(4 * data.length));
      run.flowSpread(u, v, allU, allV, weight);
      arena.copyOut(allU, next.u);
      arena.copyOut(allV, next.v);
    });
    flow = next;
  }
  return flow!;
}

/**
 * Dense optical flow by inverse search of patches, coarse to fine, each patch also trying what its neighbours found (Kroeger et
 * al. 2016). Brightness may differ by a constant around a patch.
 *
 * @param pictures brightness of the frames, of one size, at least 16 px a side, 0 to 1
 * @param pairs which picture's pixels are looked for in which other one
 * @returns a flow a pair, of the pictures' size
 * @throws AbortError
 */
export async function opticalFlow(pictures: Plane[], pairs: FlowJob['pairs'], context: Context): Promise<Flow[]> {
  const flows = pairs.map(([i]): Flow => {
    const { width, height, data } = pictures[i];
    return { width, height, u: sharedFloats(data.length, context), v: sharedFloats(data.length, context) };
  });
  await parallelFor(flowPair, { pictures, pairs, flows }, pairs.length, context);
  return flows;
}

/** A plane seen along a flow: at each pixel the value where it lies in the other picture; bilinear, borders repeated. */
export function broughtBy(flow: Flow, from: Plane): Plane {
  const [data] = allBroughtBy(flow, [from.data]);
  return { width: flow.width, height: flow.height, data };
}

/** The same for several planes of the other picture. */
export function allBroughtBy({ width, height, u, v }: Flow, planes: readonly Float32Array[]): Float32Array[] {
  const bytes = 4 * width * height;
  return inArenaNow((arena) => {
    const from = arena.alloc(bytes * planes.length);
    planes.forEach((data, k) => arena.set(from + k * bytes, data));
    const out = arena.alloc(bytes * planes.length);
    arena.run.bringAlong(width, height, arena.copyIn(u), arena.copyIn(v), from, planes.length, out);
    return planes.map((_, k) => {
      const data = new Float32Array(width * height);
      arena.copyOut(out + k * bytes, data);
      return data;
    });
  });
}

/**
 * How far a pixel lands from itself when it goes there and comes back, px; infinite where it leaves the picture.
 *
 * @param there flow from this picture, and `back` the one from the other picture
 */
export function roundTrip(there: Flow, back: Flow): Float32Array {
  const { width, height, u, v } = there;
  const [homeU, homeV] = allBroughtBy(there, [back.u, back.v]);
  const out = new Float32Array(width * height);
  for (let j = 0, p = 0; j < height; j++) {
    for (let i = 0; i < width; i++, p++) {
      const x = i + u[p];
      const y = j + v[p];
      const leaves = x < -0.5 || y < -0.5 || x > width - 0.5 || y > height - 0.5;
      out[p] = leaves ? Infinity : Math.sqrt((u[p] + homeU[p]) ** 2 + (v[p] + homeV[p]) ** 2);
    }
  }
  return out;
}

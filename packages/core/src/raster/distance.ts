import { inArenaNow } from '../runtime/arena';
import { maskOf } from './mask';
import { makePlane, type Plane } from './plane';

/**
 * Euclidean distance, in pixels, from every pixel to the nearest one for which `isGoal` is non-zero; zero
 * on the goal itself, and `Infinity` everywhere when there is none. Exact, linear time: one lower envelope
 * of parabolas a row and a column (Felzenszwalb & Huttenlocher 2012), to which only the ends of a run of goals in a row
 * and what lies within the limit along its column belong.
 *
 * @param limit distances above it, px, are given as `Infinity`; a small one is much faster
 */
export function distanceTo(isGoal: ArrayLike<number>, width: number, height: number, limit = Infinity): Plane {
  const out = makePlane(width, height);
  const goal = isGoal instanceof Uint8Array ? isGoal : maskOf(isGoal, (v) => v !== 0);
  inArenaNow((arena) => {
    const away = arena.alloc(out.data.byteLength);
    arena.run.distanceTo(arena.copyIn(goal), width, height, limit, arena.alloc(20 * width + 8), away);
    arena.copyOut(away, out.data);
  });
  return out;
}

import { inArena, type Arena } from '../context/compiled';
import { pause, type Context } from '../context/context';

/**
 * A graph of pixels, each joined to up to eight neighbours. Direction d runs clockwise from the right; the
 * way back from it is d ^ 4.
 */
export interface PixelGraph {
  count: number;
  /** Node beside node p in direction d at `p * 8 + d`, or −1. */
  beside: Int32Array;
  /** Cost of separating p from that neighbour, a whole number, the same both ways. Used up by the cut. */
  joint: Int32Array;
  /** What p pulls towards the inside (positive) or the outside (negative), a whole number. Used up by the cut. */
  pull: Int32Array;
}

/** Steps of the search between two chances to be cancelled. */
const stretch = 20_000;

/**
 * The cheapest separation of inside from outside: 1 for every node on the inside, else 0. Augmenting paths
 * with two reused search trees (Boykov & Kolmogorov 2004); about linear in practice. Ties go to the outside.
 *
 * @throws AbortError
 */
export function minimumCut({ count, beside, joint, pull }: PixelGraph, context: Context): Promise<Uint8Array> {
  return inArena(async (arena) => {
    const places: GraphAt = { count, beside: arena.put(beside), joint: arena.put(joint), pull: arena.put(pull) };
    const sides = await cutAt(arena, places, context);
    arena.take(places.joint, joint);
    arena.take(places.pull, pull);
    const label = new Uint8Array(count);
    arena.take(sides, label);
    return label;
  });
}

/** A graph in an arena: the addresses of its arrays. */
export interface GraphAt {
  count: number;
  beside: number;
  joint: number;
  pull: number;
}

/** The same for a graph that is in an arena, and is used up there. @returns the address of the nodes' sides @throws AbortError */
export async function cutAt(arena: Arena, { count, beside, joint, pull }: GraphAt, context: Context): Promise<number> {
  const { run } = arena;
  const room = arena.room(run.cutRoom(count));
  run.cutBegin(count, beside, joint, pull, room);
  do await pause(context);
  while (!run.cutGrow(stretch));
  run.cutSides(room);
  return room;
}

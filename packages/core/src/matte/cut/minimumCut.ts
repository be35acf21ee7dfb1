import { inArena, type Arena } from '../../runtime/arena';
import { pause, type Context } from '../../runtime/context';

/**
 * A graph of pixels, each joined to up to eight neighbours. Direction d runs clockwise from the right; the
 * way back from it is d ^ 4.
 */
export interface PixelGraph {
  count: number;
  /** Node beside node p in direction d at `p * 8 + d`, or −1. */
  beside: Int32Array;
  /** Cost of separating p from that neighbour, a whole number, the same both ways. Used up by the cut. */
  pairwise: Int32Array;
  /** The unary term of p, towards the inside (positive) or the outside (negative), a whole number. Used up by the cut. */
  unary: Int32Array;
}

/** Steps of the search between two chances to be cancelled. */
const stretch = 20_000;

/**
 * The cheapest separation of inside from outside: 1 for every node on the inside, else 0. Augmenting paths
 * with two reused search trees (Boykov & Kolmogorov 2004); about linear in practice. Ties go to the outside.
 *
 * @throws AbortError
 */
export function minimumCut({ count, beside, pairwise, unary }: PixelGraph, context: Context): Promise<Uint8Array> {
  return inArena(async (arena) => {
    const places: GraphAt = { count, beside: arena.copyIn(beside), pairwise: arena.copyIn(pairwise), unary: arena.copyIn(unary) };
    const sides = await cutAt(arena, places, context);
    arena.copyOut(places.pairwise, pairwise);
    arena.copyOut(places.unary, unary);
    const label = new Uint8Array(count);
    arena.copyOut(sides, label);
    return label;
  });
}

/** A graph in an arena: the addresses of its arrays. */
export interface GraphAt {
  count: number;
  beside: number;
  pairwise: number;
  unary: number;
}

/** The same for a graph that is in an arena, and is used up there. @returns the address of the nodes' sides @throws AbortError */
export async function cutAt(arena: Arena, { count, beside, pairwise, unary }: GraphAt, context: Context): Promise<number> {
  const { run } = arena;
  const room = arena.alloc(run.cutRoom(count));
  run.cutBegin(count, beside, pairwise, unary, room);
  do await pause(context);
  while (!run.cutGrow(stretch));
  run.cutSides(room);
  return room;
}

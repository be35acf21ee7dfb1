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

/** Steps to the eight neighbours, clockwise from the right. */
export const stepX = [1, 1, 0, -1, -1, -1, 0, 1];
export const stepY = [0, 1, 1, 1, 0, -1, -1, -1];

const free = 0;
const inside = 1;
const outside = 2;
const none = -1;
const terminal = 8;

/**
 * The cheapest separation of inside from outside: 1 for every node on the inside, else 0. Augmenting paths
 * with two reused search trees (Boykov & Kolmogorov 2004); about linear in practice. Ties go to the outside.
 *
 * @throws AbortError
 */
export async function minimumCut(graph: PixelGraph, context: Context): Promise<Uint8Array> {
  const { count, beside, joint, pull } = graph;
  const tree = new Uint8Array(count);
  const parent = new Int8Array(count).fill(none);
  const stamp = new Int32Array(count);
  const depth = new Int32Array(count);
  const queue = new Int32Array(count + 1);
  const queued = new Uint8Array(count);
  let head = 0;
  let tail = 0;
  let time = 1;
  const orphans: number[] = [];

  const activate = (p: number): void => {
    if (queued[p]) return;
    queued[p] = 1;
    queue[tail++] = p;
    if (tail > count) tail = 0;
  };

  for (let p = 0; p < count; p++) {
    if (pull[p] === 0) continue;
    tree[p] = pull[p] > 0 ? inside : outside;
    parent[p] = terminal;
    depth[p] = 1;
  }
  // Amid its own kind nothing grows.
  for (let p = 0; p < count; p++) {
    const side = tree[p];
    if (side === free) continue;
    for (let k = 8 * p, end = k + 8; k < end; k++) {
      const q = beside[k];
      if (q < 0 || tree[q] === side) continue;
      activate(p);
      break;
    }
  }

  /** The smallest joint along one tree from p to its terminal, and the terminal's own remaining pull. */
  const bottleneck = (from: number, smallest: number): number => {
    let p = from;
    while (parent[p] !== terminal) {
      const d = parent[p];
      const q = beside[p * 8 + d];
      const room = tree[p] === inside ? joint[q * 8 + (d ^ 4)] : joint[p * 8 + d];
      if (room < smallest) smallest = room;
      p = q;
    }
    return Math.min(smallest, Math.abs(pull[p]));
  };

  const push = (from: number, flow: number): void => {
    let p = from;
    while (parent[p] !== terminal) {
      const d = parent[p];
      const q = beside[p * 8 + d];
      const towards = q * 8 + (d ^ 4);
      const away = p * 8 + d;
      const used = tree[p] === inside ? towards : away;
      joint[used] -= flow;
      joint[used === towards ? away : towards] += flow;
      if (joint[used] === 0) {
        parent[p] = none;
        orphans.push(p);
      }
      p = q;
    }
    pull[p] += tree[p] === inside ? -flow : flow;
    if (pull[p] === 0) {
      parent[p] = none;
      orphans.push(p);
    }
  };

  /** Steps to a terminal if p still hangs on one, else −1; marks the way so that it is walked once. */
  const rooted = (start: number): number => {
    let p = start;
    let steps = 0;
    while (stamp[p] !== time) {
      if (parent[p] === terminal) {
        stamp[p] = time;
        depth[p] = 1;
        break;
      }
      if (parent[p] === none) return -1;
      steps++;
      p = beside[p * 8 + parent[p]];
    }
    const total = depth[p] + steps;
    let d = total;
    for (let q = start; stamp[q] !== time; q = beside[q * 8 + parent[q]]) {
      stamp[q] = time;
      depth[q] = d--;
    }
    return total;
  };

  const adopt = (p: number): void => {
    const side = tree[p];
    let best = none;
    let least = Infinity;
    for (let d = 0; d < 8; d++) {
      const q = beside[p * 8 + d];
      if (q < 0 || tree[q] !== side) continue;
      const room = side === inside ? joint[q * 8 + (d ^ 4)] : joint[p * 8 + d];
      if (room === 0) continue;
      const steps = rooted(q);
      if (steps >= 0 && steps < least) {
        least = steps;
        best = d;
      }
    }
    if (best !== none) {
      parent[p] = best;
      stamp[p] = time;
      depth[p] = least + 1;
      return;
    }
    tree[p] = free;
    for (let d = 0; d < 8; d++) {
      const q = beside[p * 8 + d];
      if (q < 0 || tree[q] !== side) continue;
      const room = side === inside ? joint[q * 8 + (d ^ 4)] : joint[p * 8 + d];
      if (room > 0) activate(q);
      if (parent[q] === (d ^ 4)) {
        parent[q] = none;
        orphans.push(q);
      }
    }
  };

  for (let rounds = 0; head !== tail; rounds++) {
    if ((rounds & 1023) === 0) await pause(context);
    const p = queue[head];
    const side = tree[p];
    let meeting = none;
    if (side !== free) {
      for (let d = 0; d < 8; d++) {
        const q = beside[p * 8 + d];
        if (q < 0) continue;
        const room = side === inside ? joint[p * 8 + d] : joint[q * 8 + (d ^ 4)];
        if (room === 0) continue;
        if (tree[q] === free) {
          tree[q] = side;
          parent[q] = d ^ 4;
          stamp[q] = stamp[p];
          depth[q] = depth[p] + 1;
          activate(q);
        } else if (tree[q] !== side) {
          meeting = d;
          break;
        }
      }
    }
    if (meeting === none) {
      queued[p] = 0;
      if (++head > count) head = 0;
      continue;
    }
    const q = beside[p * 8 + meeting];
    const a = side === inside ? p : q;
    const b = side === inside ? q : p;
    const arc = side === inside ? p * 8 + meeting : q * 8 + (meeting ^ 4);
    const back = side === inside ? q * 8 + (meeting ^ 4) : p * 8 + meeting;
    const flow = bottleneck(b, bottleneck(a, joint[arc]));
    time++;
    joint[arc] -= flow;
    joint[back] += flow;
    push(a, flow);
    push(b, flow);
    while (orphans.length > 0) adopt(orphans.pop()!);
  }

  const label = new Uint8Array(count);
  for (let p = 0; p < count; p++) label[p] = tree[p] === inside ? 1 : 0;
  return label;
}

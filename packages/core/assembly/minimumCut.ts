import { byteAt, numberAt, setByte, setNumber } from './memory';

// Augmenting paths with two reused search trees (Boykov & Kolmogorov 2004). Nodes are numbers, each joined to up to eight others;
// the way back from direction d is d ^ 4. Ties go to the outside.

const free: i32 = 0;
const inside: i32 = 1;
const outside: i32 = 2;
const none: i32 = 255;
const terminal: i32 = 8;

let count: i32 = 0;
/** The graph: node beside node p in direction d at 8p + d, or −1; what separating them costs; the unary term of each node. */
let beside: usize = 0;
let pairwise: usize = 0;
let unary: usize = 0;
/** The trees: whose a node is, by which direction it hangs, and how deep; when that was last looked at. */
let tree: usize = 0;
let parent: usize = 0;
let stamp: usize = 0;
let depth: usize = 0;
/** Nodes that may grow, in a ring; nodes that have lost their parents, in a pile. */
let queue: usize = 0;
let queued: usize = 0;
let orphans: usize = 0;
let head: i32 = 0;
let tail: i32 = 0;
let lost: i32 = 0;
let time: i32 = 1;

/** Bytes that a cut of so many nodes needs besides its graph. */
export function cutRoom(nodes: i32): i32 {
  return 19 * nodes + 16;
}

/** Begins a cut. @param room memory of `cutRoom` bytes */
export function cutBegin(nodes: i32, besideAt: usize, pairwiseAt: usize, unaryAt: usize, room: usize): void {
  count = nodes;
  beside = besideAt;
  pairwise = pairwiseAt;
  unary = unaryAt;
  stamp = room;
  depth = stamp + 4 * <usize>nodes;
  queue = depth + 4 * <usize>nodes;
  orphans = queue + 4 * <usize>(nodes + 1);
  tree = orphans + 4 * <usize>nodes;
  parent = tree + <usize>nodes;
  queued = parent + <usize>nodes;
  head = tail = lost = 0;
  time = 1;
  for (let p = 0; p < nodes; p++) {
    const capacity = numberAt(unary, p);
    setByte(parent, p, capacity === 0 ? none : terminal);
    setByte(tree, p, capacity === 0 ? free : capacity > 0 ? inside : outside);
    setNumber(depth, p, capacity === 0 ? 0 : 1);
    setNumber(stamp, p, 0);
    setByte(queued, p, 0);
  }
  // Amid its own kind nothing grows.
  for (let p = 0; p < nodes; p++) {
    const side = byteAt(tree, p);
    for (let d = 0; d < 4; d++) {
      const q = numberAt(beside, 8 * p + d);
      if (q < 0) continue;
      const other = byteAt(tree, q);
      if (other === side) continue;
      if (side !== free) activate(p);
      if (other !== free) activate(q);
    }
  }
}

function activate(p: i32): void {
  if (byteAt(queued, p)) return;
  setByte(queued, p, 1);
  setNumber(queue, tail++, p);
  if (tail > count) tail = 0;
}

function orphan(p: i32): void {
  setByte(parent, p, none);
  setNumber(orphans, lost++, p);
}

/** The smallest capacity left along one tree from a node to its terminal, the terminal's own with it. */
function bottleneck(from: i32, smallest: i32): i32 {
  let p = from;
  for (let d = byteAt(parent, p); d !== terminal; d = byteAt(parent, p)) {
    const q = numberAt(beside, 8 * p + d);
    const room = byteAt(tree, p) === inside ? numberAt(pairwise, 8 * q + (d ^ 4)) : numberAt(pairwise, 8 * p + d);
    if (room < smallest) smallest = room;
    p = q;
  }
  const capacity = numberAt(unary, p);
  return min(smallest, capacity < 0 ? -capacity : capacity);
}

/** Sends flow along one tree from a node to its terminal. */
function push(from: i32, flow: i32): void {
  let p = from;
  for (let d = byteAt(parent, p); d !== terminal; d = byteAt(parent, p)) {
    const q = numberAt(beside, 8 * p + d);
    const towards = 8 * q + (d ^ 4);
    const away = 8 * p + d;
    const forth = byteAt(tree, p) === inside;
    const used = forth ? towards : away;
    const other = forth ? away : towards;
    const left = numberAt(pairwise, used) - flow;
    setNumber(pairwise, used, left);
    setNumber(pairwise, other, numberAt(pairwise, other) + flow);
    if (left === 0) orphan(p);
    p = q;
  }
  const left = numberAt(unary, p) + (byteAt(tree, p) === inside ? -flow : flow);
  setNumber(unary, p, left);
  if (left === 0) orphan(p);
}

/** Steps to a terminal if a node still hangs on one, else −1; marks the way so that it is walked once. */
function rooted(start: i32): i32 {
  let p = start;
  let steps = 0;
  while (numberAt(stamp, p) !== time) {
    const d = byteAt(parent, p);
    if (d === terminal) {
      setNumber(stamp, p, time);
      setNumber(depth, p, 1);
      break;
    }
    if (d === none) return -1;
    steps++;
    p = numberAt(beside, 8 * p + d);
  }
  const total = numberAt(depth, p) + steps;
  let d = total;
  for (let q = start; numberAt(stamp, q) !== time; q = numberAt(beside, 8 * q + byteAt(parent, q))) {
    setNumber(stamp, q, time);
    setNumber(depth, q, d--);
  }
  return total;
}

/** Finds another parent for a node, or lets it and what hangs on it go. */
function adopt(p: i32): void {
  const side = byteAt(tree, p);
  let best = none;
  let least: i32 = i32.MAX_VALUE;
  for (let d = 0; d < 8; d++) {
    const q = numberAt(beside, 8 * p + d);
    if (q < 0 || byteAt(tree, q) !== side) continue;
    const room = side === inside ? numberAt(pairwise, 8 * q + (d ^ 4)) : numberAt(pairwise, 8 * p + d);
    if (room === 0) continue;
    const steps = rooted(q);
    if (steps >= 0 && steps < least) {
      least = steps;
      best = d;
    }
  }
  if (best !== none) {
    setByte(parent, p, best);
    setNumber(stamp, p, time);
    setNumber(depth, p, least + 1);
    return;
  }
  setByte(tree, p, free);
  for (let d = 0; d < 8; d++) {
    const q = numberAt(beside, 8 * p + d);
    if (q < 0 || byteAt(tree, q) !== side) continue;
    const room = side === inside ? numberAt(pairwise, 8 * q + (d ^ 4)) : numberAt(pairwise, 8 * p + d);
    if (room > 0) activate(q);
    if (byteAt(parent, q) === (d ^ 4)) orphan(q);
  }
}

/** Grows the trees and sends flow where they meet, for so many rounds at most. @returns 1 when nothing can grow any more, else 0 */
export function cutGrow(rounds: i32): i32 {
  for (let round = 0; round < rounds; round++) {
    if (head === tail) return 1;
    const p = numberAt(queue, head);
    const side = byteAt(tree, p);
    let meeting = -1;
    if (side !== free) {
      for (let d = 0; d < 8; d++) {
        const q = numberAt(beside, 8 * p + d);
        if (q < 0) continue;
        const room = side === inside ? numberAt(pairwise, 8 * p + d) : numberAt(pairwise, 8 * q + (d ^ 4));
        if (room === 0) continue;
        const other = byteAt(tree, q);
        if (other === free) {
          setByte(tree, q, side);
          setByte(parent, q, d ^ 4);
          setNumber(stamp, q, numberAt(stamp, p));
          setNumber(depth, q, numberAt(depth, p) + 1);
          activate(q);
        } else if (other !== side) {
          meeting = d;
          break;
        }
      }
    }
    if (meeting < 0) {
      setByte(queued, p, 0);
      if (++head > count) head = 0;
      continue;
    }
    const q = numberAt(beside, 8 * p + meeting);
    const forth = 8 * p + meeting;
    const back = 8 * q + (meeting ^ 4);
    const a = side === inside ? p : q;
    const b = side === inside ? q : p;
    const arc = side === inside ? forth : back;
    const other = side === inside ? back : forth;
    const flow = bottleneck(b, bottleneck(a, numberAt(pairwise, arc)));
    time++;
    setNumber(pairwise, arc, numberAt(pairwise, arc) - flow);
    setNumber(pairwise, other, numberAt(pairwise, other) + flow);
    push(a, flow);
    push(b, flow);
    while (lost > 0) adopt(numberAt(orphans, --lost));
  }
  return head === tail ? 1 : 0;
}

/** 1 for each node on the inside, else 0; may be the room of the cut, which ends with it. */
export function cutSides(out: usize): void {
  for (let p = 0; p < count; p++) setByte(out, p, byteAt(tree, p) === inside ? 1 : 0);
}

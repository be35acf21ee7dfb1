import { byteAt, floatAt, nextClear, nextSet, numberAt, setByte, setNumber } from './memory';

const markedInside: i32 = 1;
const markedOutside: i32 = 2;

/** Weight of a separated pair of like pixels against one unit of colour evidence, how far evidence is trusted, and its unit. */
const jointWeight: f64 = 12;
const evidenceLimit: f64 = 4;
const unit: f64 = 64;
/** The unary term of a marked pixel. */
const hard: i32 = 1 << 24;

let l: usize = 0;
let a: usize = 0;
let b: usize = 0;
let steepness: f64 = 0;
let contours: usize = 0;
let size: i32 = 0;

/** The same where contours are known: they count more than the difference of two pixels. */
const contourWeight: f64 = 6;
const fineShare: f64 = 0.5;
const fineEnd: f64 = 4;
/** What texture and noise alone make of a contour. */
const contourFloor: f64 = 0.4;

/**
 * The picture whose pixels are joined, and how much a difference of neighbours counts.
 *
 * @param lines four planes of contour strengths of n pixels each, or 0
 */
export function pairwiseOn(light: usize, green: usize, blue: usize, steep: f64, lines: usize, n: i32): void {
  l = light;
  a = green;
  b = blue;
  steepness = steep;
  contours = lines;
  size = n;
}

/** Cost of separating two neighbours: high between like pixels, low across an edge. */
function jointCost(p: i32, q: i32, d: i32): i32 {
  const x = floatAt(l, p) - floatAt(l, q);
  const y = floatAt(a, p) - floatAt(a, q);
  const z = floatAt(b, p) - floatAt(b, q);
  const fine = (x * x + y * y + z * z) * steepness;
  let cost = unit;
  if (contours === 0) cost *= jointWeight * Math.exp(-fine);
  else {
    const line = contours + 4 * <usize>((d & 3) * size);
    cost *= contourWeight * Math.exp(-fineShare * min(fineEnd, fine) - max(0, max(floatAt(line, p), floatAt(line, q)) - contourFloor));
  }
  return 1 + <i32>floor((d & 1 ? cost / Math.SQRT2 : cost) + 0.5);
}

/** Steps to the eight neighbours, clockwise from the right. */
function stepX(d: i32): i32 {
  return d === 2 || d === 6 ? 0 : d > 2 && d < 6 ? -1 : 1;
}

function stepY(d: i32): i32 {
  return d === 0 || d === 4 ? 0 : d < 4 ? 1 : -1;
}

function link(beside: usize, p: i32, q: i32, d: i32): void {
  setNumber(beside, 8 * p + d, q);
  setNumber(beside, 8 * q + (d ^ 4), p);
}

/** Joins all pixels of a picture to their neighbours. @param beside filled with −1 @param pairwise filled with 0 */
export function joinAll(width: i32, height: i32, beside: usize, pairwise: usize): void {
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      for (let d = 0; d < 4; d++) {
        const nx = x + stepX(d);
        const ny = y + stepY(d);
        if (nx < 0 || nx >= width || ny >= height) continue;
        const q = ny * width + nx;
        const cost = jointCost(p, q, d);
        link(beside, p, q, d);
        setNumber(pairwise, 8 * p + d, cost);
        setNumber(pairwise, 8 * q + (d ^ 4), cost);
      }
    }
  }
}

/** Numbers the pixels of a mask; −1 for the others. @returns how many there are */
export function numberPixels(mask: usize, n: i32, node: usize): i32 {
  let count = 0;
  memory.fill(node, 255, 4 * <usize>n);
  for (let p = nextSet(mask, 0, n); p < n; p = nextSet(mask, p, n)) {
    for (const end = nextClear(mask, p, n); p < end; p++) setNumber(node, p, count++);
  }
  return count;
}

/**
 * Joins the numbered pixels to their neighbours and to what is settled around them, and gives them the unary terms of marks and evidence.
 *
 * @param label 1 inside, else 0
 * @param seeds the marks' codes
 * @param drawn evidence of colour
 * @param node the node of each pixel, or −1
 * @param beside filled with −1, and the pairwise and unary terms with 0
 * @param lastNode the same of an earlier graph of the picture, or 0: what flows between pixels of both is taken over
 */
export function joinNarrowBand(
  width: i32,
  height: i32,
  label: usize,
  seeds: usize,
  drawn: usize,
  node: usize,
  beside: usize,
  pairwise: usize,
  unary: usize,
  lastNode: usize,
  lastBeside: usize,
  lastJoint: usize,
): void {
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const at = numberAt(node, p);
      if (at < 0) continue;
      const before = lastNode !== 0 ? numberAt(lastNode, p) : -1;
      setNumber(unary, at, numberAt(unary, at) + pullOf(byteAt(seeds, p), floatAt(drawn, p), 0));
      for (let d = 0; d < 8; d++) {
        const nx = x + stepX(d);
        const ny = y + stepY(d);
        if (nx < 0 || nx >= width || ny < 0 || ny >= height) continue;
        const q = ny * width + nx;
        const other = numberAt(node, q);
        if (other < 0) {
          const cost = jointCost(p, q, d);
          setNumber(unary, at, numberAt(unary, at) + (byteAt(label, q) !== 0 ? cost : -cost));
        } else if (d < 4) {
          link(beside, at, other, d);
          const forth = 8 * at + d;
          const back = 8 * other + (d ^ 4);
          if (before >= 0 && numberAt(lastNode, q) >= 0) {
            const there = numberAt(lastJoint, 8 * before + d);
            const here = numberAt(lastJoint, 8 * numberAt(lastBeside, 8 * before + d) + (d ^ 4));
            setNumber(pairwise, forth, there);
            setNumber(pairwise, back, here);
            const flow = (here - there) / 2;
            setNumber(unary, at, numberAt(unary, at) - flow);
            setNumber(unary, other, numberAt(unary, other) + flow);
          } else {
            const cost = jointCost(p, q, d);
            setNumber(pairwise, forth, cost);
            setNumber(pairwise, back, cost);
          }
        }
      }
    }
  }
}

/** @param colour evidence of colour @param place the same of place, in the graph's units */
function pullOf(code: i32, colour: f64, place: f64): i32 {
  if (code === markedInside) return hard;
  if (code === markedOutside) return -hard;
  return <i32>floor(unit * (max(-evidenceLimit, min(evidenceLimit, colour / 2)) + place) + 0.5);
}

/** Unary terms of n pixels by marks, colour and place; of what they were before only the difference is new. */
export function unaryAnew(n: i32, seeds: usize, colour: usize, place: usize, unary: usize, unaryBefore: usize): void {
  for (let p = 0; p < n; p++) {
    const wanted = pullOf(byteAt(seeds, p), floatAt(colour, p), floatAt(place, p));
    setNumber(unary, p, numberAt(unary, p) + wanted - numberAt(unaryBefore, p));
    setNumber(unaryBefore, p, wanted);
  }
}

/** 1 on every pixel with a neighbour, to the right or below or the other way about, on the other side; into a zeroed mask. */
export function borderOf(label: usize, width: i32, height: i32, out: usize): void {
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (x + 16 < width && y + 1 < height && sameAround(label, p, width)) {
        x += 15;
        continue;
      }
      const own = byteAt(label, p);
      if (x + 1 < width && own !== byteAt(label, p + 1)) {
        setByte(out, p, 1);
        setByte(out, p + 1, 1);
      }
      if (y + 1 < height && own !== byteAt(label, p + width)) {
        setByte(out, p, 1);
        setByte(out, p + width, 1);
      }
    }
  }
}

/** Whether each of sixteen pixels is as the one to the right of it and the one below. */
function sameAround(label: usize, p: i32, width: i32): bool {
  const at = label + <usize>p;
  const own = v128.load(at);
  const right = v128.xor(own, v128.load(at, 1));
  return !v128.any_true(v128.or(right, v128.xor(own, v128.load(at + <usize>width))));
}

/** Puts marks over a cut. */
export function markLabel(n: i32, seeds: usize, label: usize): void {
  for (let p = 0; p < n; p++) {
    const code = byteAt(seeds, p);
    if (code === markedInside) setByte(label, p, 1);
    else if (code === markedOutside) setByte(label, p, 0);
  }
}

/** Puts the numbered pixels on the sides that their nodes are on. */
export function takeSides(n: i32, node: usize, sides: usize, label: usize): void {
  for (let p = 0; p < n; p++) {
    const at = numberAt(node, p);
    if (at >= 0) setByte(label, p, byteAt(sides, at));
  }
}

import { byteAt, doubleAt, floatAt, numberAt, setDouble, setFloat, setNumber } from './memory';

// Opacity from sampled colour pairs (after Gastal & Oliveira 2010).

const undecided: i32 = 1;
const surelyIn: i32 = 2;
const rays: i32 = 8;
const turns: i32 = 9;

/** The picture, and what is behind it: the picture again unless that is known. */
let width: i32 = 0;
let height: i32 = 0;
let r: usize = 0;
let g: usize = 0;
let b: usize = 0;
let backR: usize = 0;
let backG: usize = 0;
let backB: usize = 0;
let known: bool = false;
/** How much dearer half covered is than opaque or clear. */
let dear: f64 = 0;

const ins = memory.data(32, 8);
const outs = memory.data(32, 8);
const inAway = memory.data(64, 8);
const outAway = memory.data(64, 8);

/** @param backRed address of what is known to be behind, with its green and blue; 0 when it is not known */
export function pairsOn(
  across: i32,
  down: i32,
  red: usize,
  green: usize,
  blue: usize,
  backRed: usize,
  backGreen: usize,
  backBlue: usize,
  half: f64,
): void {
  width = across;
  height = down;
  r = red;
  g = green;
  b = blue;
  known = backRed !== 0;
  backR = known ? backRed : red;
  backG = known ? backGreen : green;
  backB = known ? backBlue : blue;
  dear = half;
}

/** Fraction of the pair's first colour, pixel i, in pixel p, clamped; the second is pixel o of what is behind. */
function mix(p: i32, i: i32, o: i32): f64 {
  const fr = floatAt(r, i) - floatAt(backR, o);
  const fg = floatAt(g, i) - floatAt(backG, o);
  const fb = floatAt(b, i) - floatAt(backB, o);
  const d = fr * fr + fg * fg + fb * fb;
  if (d < 1e-8) return 0.5;
  const t =
    ((floatAt(r, p) - floatAt(backR, o)) * fr + (floatAt(g, p) - floatAt(backG, o)) * fg + (floatAt(b, p) - floatAt(backB, o)) * fb) / d;
  return t < 0 ? 0 : t > 1 ? 1 : t;
}

/** How far pixel p is from the best mixture of the pair, and what a half costs by as much as it is one. */
function misfit(p: i32, i: i32, o: i32, half: f64): f64 {
  const t = mix(p, i, o);
  const x = floatAt(r, p) - t * floatAt(r, i) - (1 - t) * floatAt(backR, o);
  const y = floatAt(g, p) - t * floatAt(g, i) - (1 - t) * floatAt(backG, o);
  const z = floatAt(b, p) - t * floatAt(b, i) - (1 - t) * floatAt(backB, o);
  return sqrt(x * x + y * y + z * z) + 4 * half * t * (1 - t);
}

/**
 * Looks along a few rays, whose directions turn from pixel to pixel, for the first known colours, and keeps the pair that
 * explains the pixel's best at the least distance; for rows `from` up to `to`.
 *
 * @param trimap of the whole picture
 * @param looking 1 where pairs are looked for, of these rows, or 0 for everywhere
 * @param reach farthest step
 * @param ways steps of each ray, x and y, at [turn + 9 * ray], by cosine and sine
 * @param bestIn of these rows, as bestOut and looked
 */
export function lookForPairs(
  from: i32,
  to: i32,
  trimap: usize,
  looking: usize,
  reach: i32,
  ways: usize,
  bestIn: usize,
  bestOut: usize,
  looked: usize,
): void {
  for (let y = from, at = 0; y < to; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (looking !== 0 && byteAt(looking, at) === 0) continue;
      setNumber(bestIn, at, -1);
      setNumber(bestOut, at, -1);
      setFloat(looked, at, 0);
      if (byteAt(trimap, y * width + x) === undecided) look(x, y, at, trimap, reach, ways, bestIn, bestOut, looked);
    }
  }
}

function look(x: i32, y: i32, at: i32, trimap: usize, reach: i32, ways: usize, bestIn: usize, bestOut: usize, looked: usize): void {
  const p = y * width + x;
  const turn = (x % 3) + 3 * (y % 3);
  let nIn = 0;
  let nOut = 0;
  let farthest = 0;
  for (let k = 0; k < rays; k++) {
    const way = ways + ((<usize>(turn + turns * k)) << 4);
    const dx = load<f64>(way);
    const dy = load<f64>(way, 8);
    let s = 1;
    for (; s < reach; s++) {
      const qx = <i32>Math.floor(x + dx * s + 0.5);
      const qy = <i32>Math.floor(y + dy * s + 0.5);
      if (qx < 0 || qy < 0 || qx >= width || qy >= height) break;
      const q = qy * width + qx;
      const side = byteAt(trimap, q);
      if (side === undecided) continue;
      if (side === surelyIn) {
        setNumber(ins, nIn, q);
        setDouble(inAway, nIn++, s);
      } else if (!known) {
        setNumber(outs, nOut, q);
        setDouble(outAway, nOut++, s);
      }
      break;
    }
    if (s > farthest) farthest = s;
  }
  setFloat(looked, at, farthest);
  if (known) {
    setNumber(outs, 0, p);
    nOut = 1;
    setDouble(outAway, 0, 1);
  }
  let nearIn: f64 = Infinity;
  let nearOut: f64 = Infinity;
  for (let i = 0; i < nIn; i++) nearIn = min(nearIn, doubleAt(inAway, i));
  for (let j = 0; j < nOut; j++) nearOut = min(nearOut, doubleAt(outAway, j));
  let least: f64 = Infinity;
  for (let i = 0; i < nIn; i++) {
    for (let j = 0; j < nOut; j++) {
      const cost =
        misfit(p, numberAt(ins, i), numberAt(outs, j), dear) + 4e-3 * (doubleAt(inAway, i) / nearIn + doubleAt(outAway, j) / nearOut);
      if (cost < least) {
        least = cost;
        setNumber(bestIn, at, numberAt(ins, i));
        setNumber(bestOut, at, numberAt(outs, j));
      }
    }
  }
}

/**
 * Takes the best of the pairs that a pixel and its neighbours have found; for rows `from` up to `to`.
 *
 * @param top the row with which bestIn and bestOut begin, two above `from` or the first; they end two below `to` or with the last
 * @param trimap of these rows, as taking, or 0 for everywhere, opacity, trust, and left, or 0 when it is not wanted
 */
export function takePairs(
  from: i32,
  to: i32,
  top: i32,
  bestIn: usize,
  bestOut: usize,
  trimap: usize,
  taking: usize,
  opacity: usize,
  trust: usize,
  left: usize,
): void {
  for (let y = from, at = 0; y < to; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (taking !== 0 && byteAt(taking, at) === 0) continue;
      setFloat(opacity, at, 0);
      setFloat(trust, at, 0);
      if (byteAt(trimap, at) !== undecided) continue;
      const p = y * width + x;
      let least: f64 = Infinity;
      let pickIn = -1;
      let pickOut = -1;
      for (let ny = max(0, y - 2); ny <= min(height - 1, y + 2); ny++) {
        for (let nx = max(0, x - 2); nx <= min(width - 1, x + 2); nx++) {
          const q = (ny - top) * width + nx;
          const front = numberAt(bestIn, q);
          if (front < 0) continue;
          const back = known ? p : numberAt(bestOut, q);
          const cost = misfit(p, front, back, dear);
          if (cost < least) {
            least = cost;
            pickIn = front;
            pickOut = back;
          }
        }
      }
      if (pickIn < 0) continue;
      setFloat(opacity, at, mix(p, pickIn, pickOut));
      if (left !== 0) setFloat(left, at, misfit(p, pickIn, pickOut, 0));
      const x0 = floatAt(r, pickIn) - floatAt(backR, pickOut);
      const y0 = floatAt(g, pickIn) - floatAt(backG, pickOut);
      const z0 = floatAt(b, pickIn) - floatAt(backB, pickOut);
      const apart = sqrt(x0 * x0 + y0 * y0 + z0 * z0);
      setFloat(trust, at, Math.exp(-least * 60) * min(1, apart / 0.15));
    }
  }
}

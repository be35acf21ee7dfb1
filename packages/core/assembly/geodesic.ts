import { floatAt, numberAt, setFloat, setNumber } from './memory';

/** So many buckets, each for costs a flat step apart; the last holds whatever is dearer until it is dealt out anew. */
const buckets: i32 = 4096;

let cost: usize = 0;
let flat: f64 = 0;
let base: f64 = 0;
/** The first pixel of each bucket, and the chain it begins; the bucket of each pixel, or −1: a pixel is in one at most. */
const first = memory.data(4 * 4096, 8);
let next: usize = 0;
let before: usize = 0;
let bucketOf: usize = 0;

function take(p: i32): void {
  const q = numberAt(next, p);
  const o = numberAt(before, p);
  if (o >= 0) setNumber(next, o, q);
  else setNumber(first, numberAt(bucketOf, p), q);
  if (q >= 0) setNumber(before, q, o);
  setNumber(bucketOf, p, -1);
}

function put(p: i32): void {
  const k = <i32>max(0, min(<f64>(buckets - 1), floor((floatAt(cost, p) - base) / flat)));
  const had = numberAt(bucketOf, p);
  if (had === k) return;
  if (had >= 0) take(p);
  const q = numberAt(first, k);
  setNumber(bucketOf, p, k);
  setNumber(before, p, -1);
  setNumber(next, p, q);
  if (q >= 0) setNumber(before, q, p);
  setNumber(first, k, p);
}

/**
 * Shortens ways from some pixels on until none gets shorter: cheapest first, from buckets of nearly equal cost (Dial 1969).
 *
 * @param costs of each pixel, shortened in place
 * @param step what a step costs on flat colour
 * @param edges how much the square of a difference costs, or NaN where the difference itself counts
 * @param from so many pixels to begin with
 * @param room memory for three numbers a pixel
 */
export function followWays(
  width: i32,
  height: i32,
  l: usize,
  a: usize,
  b: usize,
  toll: usize,
  costs: usize,
  step: f64,
  edges: f64,
  from: usize,
  count: i32,
  room: usize,
): void {
  const n = width * height;
  cost = costs;
  flat = step;
  base = 0;
  next = room;
  before = next + 4 * <usize>n;
  bucketOf = before + 4 * <usize>n;
  memory.fill(first, 255, 4 * buckets);
  memory.fill(bucketOf, 255, 4 * <usize>n);
  for (let i = 0; i < count; i++) {
    const p = numberAt(from, i);
    if (floatAt(cost, p) < Infinity) put(p);
  }
  for (let k = 0; k < buckets; k++) {
    if (k === buckets - 1 && numberAt(first, k) >= 0) {
      dealOut();
      k = 0;
    }
    for (let q = numberAt(first, k); q >= 0; q = numberAt(first, k)) {
      take(q);
      const x = q % width;
      const y = q / width;
      const own = floatAt(cost, q);
      for (let ny = max(0, y - 1); ny <= min(height - 1, y + 1); ny++) {
        for (let nx = max(0, x - 1); nx <= min(width - 1, x + 1); nx++) {
          const p = ny * width + nx;
          // What is as near already cannot come nearer from here.
          if (floatAt(cost, p) <= own) continue;
          const dl = floatAt(l, p) - floatAt(l, q);
          const da = floatAt(a, p) - floatAt(a, q);
          const db = floatAt(b, p) - floatAt(b, q);
          const apart = dl * dl + 4 * (da * da + db * db);
          const length = nx !== x && ny !== y ? Math.SQRT2 : 1;
          const way = <f64>(<f32>(own + length * (flat + floatAt(toll, p)) + (isNaN(edges) ? sqrt(apart) : edges * apart)));
          if (way >= floatAt(cost, p)) continue;
          setFloat(cost, p, way);
          put(p);
        }
      }
    }
  }
}

/** Deals the last bucket's pixels out anew, from the cheapest of them on. */
function dealOut(): void {
  base = Infinity;
  const head = numberAt(first, buckets - 1);
  for (let q = head; q >= 0; q = numberAt(next, q)) base = min(base, floatAt(cost, q));
  // As a chain of its own, in the order in which they were.
  setNumber(first, buckets - 1, -1);
  for (let q = head; q >= 0;) {
    const then = numberAt(next, q);
    setNumber(bucketOf, q, -1);
    put(q);
    q = then;
  }
}

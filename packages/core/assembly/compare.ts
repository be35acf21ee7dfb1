import { byteAt, floatAt, setByte, setFloat } from './memory';

// A shot beside the ground behind its subject. Planes hold some whole rows of the picture; windows end where they end. Three planes of
// a picture lie one after the other.

/** Mean over a (2·radius+1)² window, ends repeated: its numbers are added one by one, which is quick while it is small. @param across room for a plane */
function windowMean(width: i32, height: i32, radius: i32, data: usize, across: usize, out: usize): void {
  const pitch = (<usize>width) << 2;
  for (let y = 0; y < height; y++) {
    const row = data + <usize>y * pitch;
    const goal = across + <usize>y * pitch;
    let x = 0;
    for (; x < min(radius, width); x++) store<f32>(goal + ((<usize>x) << 2), atEnd(width, radius, row, x));
    for (; x + radius + 4 <= width; x += 4) {
      let sum = f32x4.splat(0);
      for (let k = x - radius; k <= x + radius; k++) sum = f32x4.add(sum, v128.load(row + ((<usize>k) << 2)));
      v128.store(goal + ((<usize>x) << 2), sum);
    }
    for (; x < width; x++) store<f32>(goal + ((<usize>x) << 2), atEnd(width, radius, row, x));
  }
  const side: i32 = 2 * radius + 1;
  const weight: f32 = 1 / (<f32>side * <f32>side);
  const four = f32x4.splat(weight);
  for (let y = 0; y < height; y++) {
    const goal = out + <usize>y * pitch;
    let at: usize = 0;
    for (; at + 16 <= pitch; at += 16) {
      let sum = f32x4.splat(0);
      for (let k = y - radius; k <= y + radius; k++) {
        sum = f32x4.add(sum, v128.load(across + <usize>min(height - 1, max(0, k)) * pitch + at));
      }
      v128.store(goal + at, f32x4.mul(sum, four));
    }
    for (; at < pitch; at += 4) {
      let sum: f32 = 0;
      for (let k = y - radius; k <= y + radius; k++) sum += load<f32>(across + <usize>min(height - 1, max(0, k)) * pitch + at);
      store<f32>(goal + at, sum * weight);
    }
  }
}

function atEnd(width: i32, radius: i32, row: usize, x: i32): f32 {
  let sum: f32 = 0;
  for (let k = x - radius; k <= x + radius; k++) sum += load<f32>(row + ((<usize>min(width - 1, max(0, k))) << 2));
  return sum;
}

function products(n: i32, p: usize, q: usize, out: usize): void {
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = (<usize>i) << 2;
    v128.store(out + at, f32x4.mul(v128.load(p + at), v128.load(q + at)));
  }
  for (; i < n; i++) setFloat(out, i, floatAt(p, i) * floatAt(q, i));
}

/** Mean of a product of two planes over a window. */
function meanProduct(width: i32, height: i32, radius: i32, p: usize, q: usize, product: usize, across: usize, out: usize): void {
  products(width * height, p, q, product);
  windowMean(width, height, radius, product, across, out);
}

/** Squared distance of colours, n pixels of two pictures. */
export function squaredAway(n: i32, light: usize, behind: usize, out: usize): void {
  const plane = (<usize>n) << 2;
  for (let p = 0; p < n; p++) {
    let sum: f64 = 0;
    for (let c = 0; c < 3; c++) {
      const d = floatAt(light + <usize>c * plane, p) - floatAt(behind + <usize>c * plane, p);
      sum += d * d;
    }
    setFloat(out, p, sum);
  }
}

/**
 * Where the shot is the ground only darker, by 5 × 5 windows that one factor a channel below 1 explains: blue falls no more than green
 * and green no more than red.
 *
 * @param left share of a shadow's light that its factors need not explain
 * @param textured so many times the noise's energy the ground's texture has where it is seen, and correlates better than `like`
 * @param rooms room for seventeen planes
 * @param factor how much light is left, 0 where it is no shadow
 * @param certain 1 where the ground's texture is seen, else 0
 */
export function shadeOf(
  width: i32,
  height: i32,
  light: usize,
  behind: usize,
  noise: f64,
  left: f64,
  textured: f64,
  like: f64,
  rooms: usize,
  factor: usize,
  certain: usize,
): void {
  const n = width * height;
  const plane = (<usize>n) << 2;
  const product = rooms + 15 * plane;
  const across = product + plane;
  for (let c: usize = 0; c < 3; c++) {
    const shot = light + c * plane;
    const ground = behind + c * plane;
    const out = rooms + 5 * c * plane;
    meanProduct(width, height, 2, shot, ground, product, across, out);
    meanProduct(width, height, 2, ground, ground, product, across, out + plane);
    meanProduct(width, height, 2, shot, shot, product, across, out + 2 * plane);
    windowMean(width, height, 2, shot, across, out + 3 * plane);
    windowMean(width, height, 2, ground, across, out + 4 * plane);
  }
  for (let p = 0; p < n; p++) {
    let unexplained: f64 = 0;
    let own2: f64 = 0;
    let seen2: f64 = 0;
    let both2: f64 = 0;
    let least: f64 = 1;
    let before: f64 = 0;
    let fits = true;
    for (let c: usize = 0; c < 3; c++) {
      const at = rooms + 5 * c * plane;
      const both = floatAt(at, p);
      const own = floatAt(at + plane, p);
      const seen = floatAt(at + 2 * plane, p);
      const here = floatAt(at + 3 * plane, p);
      const there = floatAt(at + 4 * plane, p);
      own2 += own - there * there;
      seen2 += seen - here * here;
      both2 += both - here * there;
      const f = both / max<f64>(1e-6, own);
      unexplained += (seen - f * both) / max<f64>(1e-6, seen);
      least = min(least, f);
      if (f >= 1 || f <= before - 0.06) fits = false;
      before = f;
    }
    const shaded = fits && least > 0.2 && unexplained < 3 * left;
    setFloat(factor, p, shaded ? least : 0);
    const texture = least * least * own2;
    setByte(certain, p, shaded && texture > textured * noise * noise && both2 > like * sqrt(max<f64>(0, own2 * seen2)) ? 1 : 0);
  }
}

/**
 * 1 where what is seen is smooth and plainly other than the ground, else 0.
 *
 * @param green of the shot
 * @param away squared distance of colours; from `other` on a pixel shows no ground, and `share` of such around make a body
 * @param smooth standard deviation of light
 * @param rooms room for five planes
 */
export function plainOf(
  width: i32,
  height: i32,
  green: usize,
  away: usize,
  other: f64,
  share: f64,
  smooth: f64,
  rooms: usize,
  out: usize,
): void {
  const n = width * height;
  const plane = (<usize>n) << 2;
  const product = rooms + 3 * plane;
  const across = product + plane;
  for (let p = 0; p < n; p++) setFloat(product, p, floatAt(away, p) > other ? 1 : 0);
  windowMean(width, height, 3, product, across, rooms);
  windowMean(width, height, 2, green, across, rooms + plane);
  meanProduct(width, height, 2, green, green, product, across, rooms + 2 * plane);
  for (let p = 0; p < n; p++) {
    const level = floatAt(rooms + plane, p);
    const variance = floatAt(rooms + 2 * plane, p) - level * level;
    setByte(out, p, floatAt(rooms, p) > share && variance < smooth * smooth ? 1 : 0);
  }
}

/**
 * How many times the ground's light is in the shot, by 5 × 5 windows of what is known to show it.
 *
 * @param known 1 where the shot shows ground, else 0
 * @param rooms room for five planes
 */
export function lightOnGround(width: i32, height: i32, known: usize, shot: usize, ground: usize, rooms: usize, out: usize): void {
  const n = width * height;
  const plane = (<usize>n) << 2;
  const product = rooms + 3 * plane;
  const across = product + plane;
  products(n, known, ground, rooms);
  meanProduct(width, height, 2, rooms, shot, product, across, rooms + plane);
  meanProduct(width, height, 2, rooms, ground, product, across, rooms + 2 * plane);
  for (let p = 0; p < n; p++) {
    const f = (floatAt(rooms + plane, p) + 1e-4) / (floatAt(rooms + 2 * plane, p) + 1e-4);
    setFloat(out, p, min<f64>(1.1, max<f64>(0.1, f)));
  }
}

/**
 * 1 where no mixture with the ground comes near an open pixel, by itself and on the mean around, and its colour is not the ground's at
 * any brightness.
 *
 * @param open 1 where opacity is open, else 0
 * @param lit the ground in the shot's light
 * @param left what mixtures leave unexplained a pixel
 * @param limit of it
 * @param off least mean distance from the ground
 * @param rooms room for five planes
 */
export function unexplained(
  width: i32,
  height: i32,
  open: usize,
  light: usize,
  lit: usize,
  left: usize,
  limit: f64,
  off: f64,
  rooms: usize,
  out: usize,
): void {
  const n = width * height;
  const plane = (<usize>n) << 2;
  const away = rooms + 3 * plane;
  const across = away + plane;
  for (let p = 0; p < n; p++) {
    const r = floatAt(lit, p);
    const g = floatAt(lit + plane, p);
    const b = floatAt(lit + 2 * plane, p);
    const own = floatAt(light, p);
    const ownG = floatAt(light + plane, p);
    const ownB = floatAt(light + 2 * plane, p);
    const fits = (own * r + ownG * g + ownB * b) / max<f64>(1e-6, r * r + g * g + b * b);
    const t = min<f64>(brightest, max<f64>(darkest, fits));
    const dr = own - t * r;
    const dg = ownG - t * g;
    const db = ownB - t * b;
    setFloat(away, p, sqrt(dr * dr + dg * dg + db * db));
  }
  windowMean(width, height, 2, away, across, rooms);
  windowMean(width, height, 2, open, across, rooms + plane);
  windowMean(width, height, 2, left, across, rooms + 2 * plane);
  for (let p = 0; p < n; p++) {
    const bare =
      floatAt(open, p) > 0 &&
      floatAt(left, p) >= limit &&
      floatAt(rooms + 2 * plane, p) >= limit * floatAt(rooms + plane, p) &&
      floatAt(rooms, p) >= off;
    setByte(out, p, bare ? 1 : 0);
  }
}

/** Between these many times its own light ground may be seen behind an edge. */
const darkest: f64 = 0.6;
const brightest: f64 = 1.3;

/**
 * What the comparison says for inside, n pixels: much where the ground is plainly not seen, a little against where it may be.
 *
 * @param around squared distance of colours on the mean around
 * @param seen below a half the ground is not known
 * @param threshold so many times the noise a pixel must differ
 */
export function groundEvidence(
  n: i32,
  around: usize,
  factor: usize,
  certain: usize,
  seen: usize,
  threshold: f64,
  noise: f64,
  out: usize,
): void {
  for (let p = 0; p < n; p++) {
    let e: f64 = 0;
    if (floatAt(seen, p) < 0.5) e = 0;
    else if (byteAt(certain, p)) e = leastEvidence;
    // Dark may be the subject or its shadow: contours tell.
    else if (floatAt(factor, p) > 0) e = floatAt(factor, p) < deepShade ? inDeepShade : inShade;
    else {
      const deviations = sqrt(floatAt(around, p) / 3) / noise;
      e = max(leastEvidence, min(mostEvidence, perDeviation * (deviations - threshold)));
    }
    setFloat(out, p, e);
  }
}

/** Evidence by standard deviation beyond the threshold, its ends, and where a shadow or a dark subject may be. */
const perDeviation: f64 = 5;
const leastEvidence: f64 = -16;
const mostEvidence: f64 = 6;
const deepShade: f64 = 0.45;
const inShade: f64 = -1;
const inDeepShade: f64 = -0.3;

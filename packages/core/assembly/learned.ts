import { encoded } from './encode';
import { byteAt, floatAt, numberAt, setFloat, setNumber } from './memory';

// Opacity corrected by what a small network of convolutions has learned. It works on places of 2 × 2 pixels: a first mixing
// of what is seen there, layers that look around in each channel and then mix the channels, and a last look around that gives
// a correction for each of the four pixels.

/** Channels of every layer, and bytes of one place. */
const channels: i32 = 32;
const place: usize = 4 * channels;
/** What is seen of one place: red, green, blue and opacity of its pixels, and how much of it is known to be in or out. */
const seen: i32 = 18;

const surelyOut: i32 = 0;
const surelyIn: i32 = 2;

let width: i32 = 0;
let height: i32 = 0;
let red: usize = 0;
let green: usize = 0;
let blue: usize = 0;
let opacity: usize = 0;
let codes: usize = 0;
let trimap: usize = 0;

let layers: i32 = 0;
let steps: usize = 0;
let weights: usize = 0;
let share: f64 = 1;
let plainly: f64 = 0;

/** The pictures to work on: linear light, opacity, the table of the light's codes, and what is known of each pixel. */
export function learnedOn(across: i32, down: i32, r: usize, g: usize, b: usize, a: usize, table: usize, states: usize): void {
  width = across;
  height = down;
  red = r;
  green = g;
  blue = b;
  opacity = a;
  codes = table;
  trimap = states;
}

/**
 * The network to work with: how many layers look around, how far each does, and all weights; how much of what is said to lack
 * is added, and how much must lack where opacity was sure.
 */
export function learnedBy(count: i32, reaches: usize, numbers: usize, added: f64, least: f64): void {
  layers = count;
  steps = reaches;
  weights = numbers;
  share = added;
  plainly = least;
}

/** The tile: places of its room, of which the outermost belong to its surroundings, and where the room begins in the picture. */
let across: i32 = 0;
let down: i32 = 0;
let left: i32 = 0;
let upper: i32 = 0;
/** The first wanted place of each of its rows, and the one after the last. */
let ends: usize = 0;
let begin: i32 = 0;
let end: i32 = 0;

/** Which of a row's places lie within `reach` of a wanted one and in the picture: sets begin and end. */
function span(y: i32, reach: i32): void {
  begin = across;
  end = 0;
  if (upper + y < 0 || upper + y >= (height + 1) >> 1) return;
  for (let v = max(0, y - reach); v <= min(down - 1, y + reach); v++) {
    begin = min(begin, numberAt(ends, 2 * v) - reach);
    end = max(end, numberAt(ends, 2 * v + 1) + reach);
  }
  begin = max(begin, max(0, -left));
  end = min(end, min(across, ((width + 1) >> 1) - left));
}

/**
 * Corrects the opacity of the wanted places of one tile.
 *
 * @param x, y the tile's first place in the picture
 * @param wanted 1 for the wanted places of the tile, row by row
 * @param halo places around the tile that are looked at
 * @param room for 2 * (high + 2 * halo) numbers
 * @param one, other rooms for (wide + 2 * halo) * (high + 2 * halo) places, and `row` for a row of them
 * @param out corrected opacity, 0 to 1, of the picture
 */
export function correct(
  x: i32,
  y: i32,
  wide: i32,
  high: i32,
  wanted: usize,
  halo: i32,
  room: usize,
  one: usize,
  other: usize,
  row: usize,
  out: usize,
): void {
  across = wide + 2 * halo;
  down = high + 2 * halo;
  left = x - halo;
  upper = y - halo;
  ends = room;
  for (let v = 0; v < down; v++) {
    let first = across;
    let last = 0;
    if (v >= halo && v < halo + high) {
      for (let u = 0; u < wide; u++) {
        if (byteAt(wanted, (v - halo) * wide + u) === 0) continue;
        first = min(first, halo + u);
        last = halo + u + 1;
      }
    }
    // Far to the right and to the left, so that no reach makes a place of them.
    setNumber(ends, 2 * v, last > 0 ? first : 1 << 20);
    setNumber(ends, 2 * v + 1, last > 0 ? last : -(1 << 20));
  }
  // What lies outside the picture is nothing to any layer; all else that a layer looks at is worked out before it.
  if (left < 0 || upper < 0 || left + across > (width + 1) >> 1 || upper + down > (height + 1) >> 1) {
    memory.fill(one, 0, <usize>(across * down) * place);
    memory.fill(other, 0, <usize>(across * down) * place);
  }
  let reach = 1;
  for (let k = 0; k < layers; k++) reach += numberAt(steps, k);
  let now = one;
  for (let v = 0; v < down; v++) {
    span(v, reach);
    if (begin >= end) continue;
    for (let u = begin; u < end; u++) see(left + u, upper + v, row + <usize>(4 * seen * (u - begin)));
    mix(end - begin, row, seen, weights, now + <usize>(v * across + begin) * place, 0);
  }
  let numbers = weights + 4 * channels * (seen + 1);
  for (let k = 0; k < layers; k++) {
    const step = numberAt(steps, k);
    const next = now === one ? other : one;
    reach -= step;
    for (let v = 0; v < down; v++) {
      span(v, reach);
      if (begin >= end) continue;
      const at = <usize>(v * across + begin) * place;
      around(now + at, step, numbers, end - begin, row);
      mix(end - begin, row, channels, numbers + 36 * channels, next + at, now + at);
    }
    numbers += 4 * channels * (9 + channels + 1);
    now = next;
  }
  for (let v = 0; v < high; v++) {
    for (let u = 0; u < wide; u++) {
      if (byteAt(wanted, v * wide + u) === 0) continue;
      finish(now + <usize>((v + halo) * across + u + halo) * place, numbers, 2 * (x + u), 2 * (y + v), out);
    }
  }
}

/** What is seen of a place; beyond the picture's last column and row that is the last once more. */
function see(x: i32, y: i32, to: usize): void {
  let ins: f32 = 0;
  let outs: f32 = 0;
  for (let k = 0; k < 4; k++) {
    const u = min(width - 1, 2 * x + (k & 1));
    const v = min(height - 1, 2 * y + (k >> 1));
    const p = v * width + u;
    store<f32>(to + <usize>(4 * k), <f32>(2 * encoded(codes, floatAt(red, p)) - 0.8));
    store<f32>(to + <usize>(4 * k), <f32>(2 * encoded(codes, floatAt(green, p)) - 0.8), 16);
    store<f32>(to + <usize>(4 * k), <f32>(2 * encoded(codes, floatAt(blue, p)) - 0.8), 32);
    store<f32>(to + <usize>(4 * k), <f32>(2 * stepped(p) - 1), 48);
    const known = byteAt(trimap, p);
    if (known === surelyIn) ins += 0.25;
    if (known === surelyOut) outs += 0.25;
  }
  store<f32>(to, ins, 64);
  store<f32>(to, outs, 68);
}

/** Opacity in 255 steps, as it was when it was learned from. */
function stepped(p: i32): f64 {
  return floor(255 * floatAt(opacity, p) + 0.5) / 255;
}

/** Mixes the numbers of a run of places into channels, none below zero. @param plus what they are added to, or 0 */
function mix(count: i32, from: usize, each: i32, numbers: usize, to: usize, plus: usize): void {
  const offset = numbers + <usize>each * place;
  const pitch = <usize>(4 * each);
  let i = 0;
  for (; i + 4 <= count; i += 4) {
    const at = from + <usize>i * pitch;
    const goal = to + <usize>i * place;
    const base = plus + <usize>i * place;
    for (let c: usize = 0; c < place; c += 32) {
      let a0 = v128.load(offset + c);
      let b0 = v128.load(offset + c, 16);
      let a1 = a0;
      let b1 = b0;
      let a2 = a0;
      let b2 = b0;
      let a3 = a0;
      let b3 = b0;
      let w = numbers + c;
      for (let k: usize = at; k < at + pitch; k += 4, w += place) {
        const p = v128.load(w);
        const q = v128.load(w, 16);
        let v = v128.load_splat<f32>(k);
        a0 = f32x4.add(a0, f32x4.mul(v, p));
        b0 = f32x4.add(b0, f32x4.mul(v, q));
        v = v128.load_splat<f32>(k + pitch);
        a1 = f32x4.add(a1, f32x4.mul(v, p));
        b1 = f32x4.add(b1, f32x4.mul(v, q));
        v = v128.load_splat<f32>(k + 2 * pitch);
        a2 = f32x4.add(a2, f32x4.mul(v, p));
        b2 = f32x4.add(b2, f32x4.mul(v, q));
        v = v128.load_splat<f32>(k + 3 * pitch);
        a3 = f32x4.add(a3, f32x4.mul(v, p));
        b3 = f32x4.add(b3, f32x4.mul(v, q));
      }
      settle(goal + c, plus, base + c, a0, b0);
      settle(goal + c + place, plus, base + c + place, a1, b1);
      settle(goal + c + 2 * place, plus, base + c + 2 * place, a2, b2);
      settle(goal + c + 3 * place, plus, base + c + 3 * place, a3, b3);
    }
  }
  for (; i < count; i++) {
    const at = from + <usize>i * pitch;
    for (let c: usize = 0; c < place; c += 32) {
      let a = v128.load(offset + c);
      let b = v128.load(offset + c, 16);
      let w = numbers + c;
      for (let k: usize = at; k < at + pitch; k += 4, w += place) {
        const v = v128.load_splat<f32>(k);
        a = f32x4.add(a, f32x4.mul(v, v128.load(w)));
        b = f32x4.add(b, f32x4.mul(v, v128.load(w, 16)));
      }
      settle(to + <usize>i * place + c, plus, plus + <usize>i * place + c, a, b);
    }
  }
}

/** Keeps eight channels, none below zero, added to what is at `base` if anything is to be. */
function settle(goal: usize, plus: usize, base: usize, a: v128, b: v128): void {
  const zero = f32x4.splat(0);
  let p = f32x4.max(a, zero);
  let q = f32x4.max(b, zero);
  if (plus !== 0) {
    p = f32x4.add(p, v128.load(base));
    q = f32x4.add(q, v128.load(base, 16));
  }
  v128.store(goal, p);
  v128.store(goal, q, 16);
}

/** Looks around a run of places in each channel by itself: 3 × 3 places, `step` apart. */
function around(from: usize, step: i32, numbers: usize, count: i32, to: usize): void {
  const x = <usize>step * place;
  const y = <usize>(step * across) * place;
  for (let c: usize = 0; c < place; c += 16) {
    const w = numbers + c;
    const w0 = v128.load(w);
    const w1 = v128.load(w, place);
    const w2 = v128.load(w, 2 * place);
    const w3 = v128.load(w, 3 * place);
    const w4 = v128.load(w, 4 * place);
    const w5 = v128.load(w, 5 * place);
    const w6 = v128.load(w, 6 * place);
    const w7 = v128.load(w, 7 * place);
    const w8 = v128.load(w, 8 * place);
    let p = from + c;
    let goal = to + c;
    for (let i = 0; i < count; i++, p += place, goal += place) {
      const a = f32x4.add(f32x4.mul(v128.load(p - y - x), w0), f32x4.mul(v128.load(p - y), w1));
      const b = f32x4.add(f32x4.mul(v128.load(p - y + x), w2), f32x4.mul(v128.load(p - x), w3));
      const d = f32x4.add(f32x4.mul(v128.load(p), w4), f32x4.mul(v128.load(p + x), w5));
      const e = f32x4.add(f32x4.mul(v128.load(p + y - x), w6), f32x4.mul(v128.load(p + y), w7));
      v128.store(goal, f32x4.add(f32x4.add(f32x4.add(a, b), f32x4.add(d, e)), f32x4.mul(v128.load(p + y + x), w8)));
    }
  }
}

/** The last look around a place: a correction for each of its pixels, which begin at (u, v). */
function finish(from: usize, numbers: usize, u: i32, v: i32, out: usize): void {
  let even = v128.load(numbers + 9 * channels * 16);
  let odd = f32x4.splat(0);
  let w = numbers;
  for (let dy = -1; dy <= 1; dy++) {
    for (let dx = -1; dx <= 1; dx++) {
      const p = from + <usize>(dy * across + dx) * place;
      for (let k: usize = 0; k < place; k += 8, w += 32) {
        even = f32x4.add(even, f32x4.mul(v128.load_splat<f32>(p + k), v128.load(w)));
        odd = f32x4.add(odd, f32x4.mul(v128.load_splat<f32>(p + k, 4), v128.load(w, 16)));
      }
    }
  }
  const by = f32x4.add(even, odd);
  put(u, v, f32x4.extract_lane(by, 0), out);
  put(u + 1, v, f32x4.extract_lane(by, 1), out);
  put(u, v + 1, f32x4.extract_lane(by, 2), out);
  put(u + 1, v + 1, f32x4.extract_lane(by, 3), out);
}

/** Corrects a pixel; one that was taken as sure, or was solved as wholly clear or opaque, only where something plainly lacks. */
function put(u: i32, v: i32, by: f32, out: usize): void {
  if (u >= width || v >= height) return;
  const p = v * width + u;
  const known = byteAt(trimap, p);
  const before = stepped(p);
  const isSure = known === surelyIn || known === surelyOut || before === 0 || before === 1;
  const after = max<f64>(0, min<f64>(1, before + share * by));
  setFloat(out, p, isSure && abs(after - before) < plainly ? before : after);
}

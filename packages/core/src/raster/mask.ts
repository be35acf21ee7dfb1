import { bytesFrom, inArenaNow, type Arena, type Numbers } from '../runtime/arena';

/**
 * 1 where a test holds, else 0. A plain loop: the typed arrays' own `from` with a function takes twenty times as long.
 *
 * @param values a plane's data, or another mask
 */
export function maskOf(values: ArrayLike<number>, test: (value: number, p: number) => boolean): Uint8Array {
  const out = new Uint8Array(values.length);
  for (let p = 0; p < out.length; p++) if (test(values[p], p)) out[p] = 1;
  return out;
}

/** Numbers made of others, one of each. A plain loop here as well: a typed array's own `map` takes three times as long. */
export function numbersOf(values: ArrayLike<number>, make: (value: number, p: number) => number): Float32Array {
  const out = new Float32Array(values.length);
  for (let p = 0; p < out.length; p++) out[p] = make(values[p], p);
  return out;
}

/** As `maskOf`, as numbers that can be a plane's data. */
export function weightOf(values: ArrayLike<number>, test: (value: number, p: number) => boolean): Float32Array {
  const out = new Float32Array(values.length);
  for (let p = 0; p < out.length; p++) if (test(values[p], p)) out[p] = 1;
  return out;
}

/** The numbers below n for which a test holds, in order. */
export function indicesWhere(n: number, test: (i: number) => boolean): Int32Array {
  const out = new Int32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) if (test(i)) out[count++] = i;
  return out.subarray(0, count);
}

/** The places of a mask's non-zero values, in order. */
export function placesOf(mask: Uint8Array): Int32Array {
  return inArenaNow((arena) => {
    const out = arena.alloc(4 * mask.length);
    const places = new Int32Array(arena.run.placesOf(mask.length, arena.copyIn(mask), out));
    arena.copyOut(out, places);
    return places;
  });
}

/** 1 where a plane of codes has this one, else 0. */
export function maskOfCode(codes: Uint8Array, code: number): Uint8Array {
  return bytesFrom(codes.length, (arena, out) => arena.run.maskOfCode(codes.length, arena.copyIn(codes), code, out));
}

/** A plane of codes and one of numbers. */
export interface CodesAndNumbers {
  codes: Uint8Array;
  numbers: Float32Array;
}

/** 1 wherever either plane differs from another's, else 0. */
export function differing(one: CodesAndNumbers, other: CodesAndNumbers): Uint8Array {
  const out = new Uint8Array(one.codes.length);
  for (let from = 0; from < out.length; from += stretch) {
    const part = out.subarray(from, from + stretch);
    inArenaNow((arena) => {
      const own = <T extends Numbers>(data: T): Numbers => data.subarray(from, from + part.length);
      const planes = arena.copiesIn(own(one.codes), own(other.codes), own(one.numbers), own(other.numbers));
      const goal = arena.alloc(part.length);
      arena.run.differing(part.length, ...planes, goal);
      arena.copyOut(goal, part);
    });
  }
  return out;
}

/** Pixels that are compared at a time: what is put in an arena for them stays close at hand. */
const stretch = 1 << 15;

/** What both masks have. */
export function bothOf(mask: Uint8Array, part: Uint8Array): Uint8Array {
  return changedBy(mask, part, (run, ...at) => run.keepWhere(...at, 1));
}

/** What a mask has and another has not. */
export function butNot(mask: Uint8Array, part: Uint8Array): Uint8Array {
  return changedBy(mask, part, (run, ...at) => run.keepWhere(...at, 0));
}

/** What either mask has; both of ones. */
export function eitherOf(mask: Uint8Array, part: Uint8Array): Uint8Array {
  return changedBy(mask, part, (run, ...at) => run.addTo(...at));
}

type Change = (run: Arena['run'], n: number, mask: number, part: number) => void;

function changedBy(mask: Uint8Array, part: Uint8Array, change: Change): Uint8Array {
  const changed = new Uint8Array(mask.length);
  inArenaNow((arena) => {
    const out = arena.copyIn(mask);
    change(arena.run, mask.length, out, arena.copyIn(part));
    arena.copyOut(out, changed);
  });
  return changed;
}

/** For each of so many pixels in a row the one of a row of another length that its middle falls on. */
export function nearestPlaces(from: number, to: number): Int32Array {
  const out = new Int32Array(from);
  for (let i = 0; i < from; i++) out[i] = Math.min(to - 1, Math.floor(((i + 0.5) * to) / from));
  return out;
}

/** A mask at another size: each pixel as the one its middle falls on. */
export function maskAt(mask: Uint8Array, w: number, h: number, width: number, height: number): Uint8Array {
  const [column, line] = [nearestPlaces(width, w), nearestPlaces(height, h)];
  const out = new Uint8Array(width * height);
  for (let y = 0, p = 0; y < height; y++) for (let x = 0; x < width; x++, p++) out[p] = mask[line[y] * w + column[x]];
  return out;
}

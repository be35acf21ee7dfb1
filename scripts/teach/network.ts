import type { Random } from '@ritaglio/core';

/** The network's shape: how many numbers are seen of a place, channels of every layer, how far each looks, numbers that come out. */
export interface Shape {
  seen: number;
  channels: number;
  steps: readonly number[];
  given: number;
}

/** Numbers of places in a rectangle, place by place. */
export interface Places {
  width: number;
  height: number;
  data: Float64Array;
}

/** How many weights such a network has. */
export function weightsOf({ seen, channels, steps, given }: Shape): number {
  return (seen + 1) * channels + steps.length * (9 + channels + 1) * channels + (9 * channels + 1) * given;
}

/** Weights to begin with: by chance, as large as keeps what goes through them as large (He et al. 2015); no correction is given. */
export function firstWeights(shape: Shape, random: Random): Float64Array {
  const { seen, channels, steps } = shape;
  const out = new Float64Array(weightsOf(shape));
  let at = 0;
  const some = (count: number, from: number): void => {
    const size = Math.sqrt(2 / from);
    for (let i = 0; i < count; i++) out[at++] = size * 2 * (random() + random() + random() - 1.5);
  };
  some(seen * channels, seen);
  at += channels;
  for (let k = 0; k < steps.length; k++) {
    some(9 * channels, 18);
    some(channels * channels, channels);
    at += channels;
  }
  return out;
}

/** The layers of a network whose weights are being learned. */
export class Network {
  readonly slope: Float64Array;
  private inside: { before: Float64Array; around: Float64Array; mixed: Float64Array }[] = [];
  private seen: Places = { width: 0, height: 0, data: new Float64Array(0) };
  private first: Float64Array = new Float64Array(0);
  private last: Float64Array = new Float64Array(0);

  constructor(
    readonly shape: Shape,
    readonly weights: Float64Array,
  ) {
    this.slope = new Float64Array(weights.length);
  }

  /** What comes out for each place; what lies outside is nothing. Keeps what `learn` needs. */
  run(seen: Places): Float64Array {
    const { shape, weights } = this;
    const { channels, steps, given } = shape;
    const { width, height } = seen;
    const count = width * height;
    this.seen = seen;
    let at = 0;
    this.first = mixed(seen.data, weights, at, shape.seen, channels, count);
    let now: Float64Array = this.first.map(aboveZero);
    at += (shape.seen + 1) * channels;
    this.inside = steps.map((step) => {
      const before = now;
      const around = lookedAround(before, weights.subarray(at), width, height, channels, step);
      at += 9 * channels;
      const own = mixed(around, weights, at, channels, channels, count);
      at += (channels + 1) * channels;
      now = before.map((v, i) => v + aboveZero(own[i]));
      return { before, around, mixed: own };
    });
    this.last = now;
    const out = new Float64Array(count * given);
    eachRow(width, height, 1, (p, q, n, k) => {
      for (let i = 0; i < n; i++) {
        const goal = (p + i) * given;
        for (let c = 0, w = at + k * channels * given; c < channels; c++, w += given) {
          const v = now[(q + i) * channels + c];
          for (let o = 0; o < given; o++) out[goal + o] += v * weights[w + o];
        }
      }
    });
    at += 9 * channels * given;
    for (let i = 0; i < out.length; i++) out[i] += weights[at + (i % given)];
    return out;
  }

  /** Adds to `slope` how an error grows with each weight. @param wrong how it grows with what came out last */
  learn(wrong: Float64Array): void {
    const { shape, weights, slope } = this;
    const { channels, steps, given } = shape;
    const { width, height } = this.seen;
    const count = width * height;
    let at = weights.length - given;
    for (let i = 0; i < wrong.length; i++) slope[at + (i % given)] += wrong[i];
    at -= 9 * channels * given;
    let back: Float64Array = new Float64Array(count * channels);
    const { last } = this;
    eachRow(width, height, 1, (p, q, n, k) => {
      for (let i = 0; i < n; i++) {
        const goal = (p + i) * given;
        for (let c = 0, w = at + k * channels * given; c < channels; c++, w += given) {
          const v = last[(q + i) * channels + c];
          let sum = 0;
          for (let o = 0; o < given; o++) {
            const e = wrong[goal + o];
            sum += e * weights[w + o];
            slope[w + o] += e * v;
          }
          back[(q + i) * channels + c] += sum;
        }
      }
    });
    for (let k = steps.length - 1; k >= 0; k--) {
      const { before, around, mixed: own } = this.inside[k];
      at -= (channels + 1) * channels;
      const through = back.map((v, i) => (own[i] > 0 ? v : 0));
      const looked = unmixed(through, around, weights, slope, at, channels, channels, count);
      at -= 9 * channels;
      back = unlooked(back, looked, before, weights, slope, at, width, height, channels, steps[k]);
    }
    at -= (shape.seen + 1) * channels;
    const through = back.map((v, i) => (this.first[i] > 0 ? v : 0));
    unmixed(through, this.seen.data, weights, slope, at, shape.seen, channels, count);
  }
}

function aboveZero(v: number): number {
  return v > 0 ? v : 0;
}

/**
 * Calls back for each of the 3 × 3 places that lie `step` apart around one, and each row: from place p on, so many places have
 * their k-th neighbour from place q on.
 */
function eachRow(width: number, height: number, step: number, each: (p: number, q: number, count: number, k: number) => void): void {
  for (let k = 0; k < 9; k++) {
    const [dx, dy] = [step * ((k % 3) - 1), step * (Math.floor(k / 3) - 1)];
    const count = width - Math.abs(dx);
    for (let y = Math.max(0, -dy); count > 0 && y < Math.min(height, height - dy); y++) {
      const p = y * width + Math.max(0, -dx);
      each(p, p + dy * width + dx, count, k);
    }
  }
}

function mixed(from: Float64Array, weights: Float64Array, at: number, ins: number, outs: number, count: number): Float64Array {
  const out = new Float64Array(count * outs);
  const constants = at + ins * outs;
  for (let p = 0; p < count; p++) {
    const goal = p * outs;
    for (let o = 0; o < outs; o++) out[goal + o] = weights[constants + o];
    for (let k = 0; k < ins; k++) {
      const v = from[p * ins + k];
      const w = at + k * outs;
      for (let o = 0; o < outs; o++) out[goal + o] += v * weights[w + o];
    }
  }
  return out;
}

/** What an error means for what was mixed; adds to the slopes of the weights it was mixed by. */
function unmixed(
  wrong: Float64Array,
  from: Float64Array,
  weights: Float64Array,
  slope: Float64Array,
  at: number,
  ins: number,
  outs: number,
  count: number,
): Float64Array {
  const out = new Float64Array(count * ins);
  const constants = at + ins * outs;
  for (let p = 0; p < count; p++) {
    const goal = p * outs;
    for (let o = 0; o < outs; o++) slope[constants + o] += wrong[goal + o];
    for (let k = 0; k < ins; k++) {
      const v = from[p * ins + k];
      const w = at + k * outs;
      let sum = 0;
      for (let o = 0; o < outs; o++) {
        const e = wrong[goal + o];
        sum += e * weights[w + o];
        slope[w + o] += e * v;
      }
      out[p * ins + k] = sum;
    }
  }
  return out;
}

function lookedAround(
  from: Float64Array,
  weights: Float64Array,
  width: number,
  height: number,
  channels: number,
  step: number,
): Float64Array {
  const out = new Float64Array(from.length);
  eachRow(width, height, step, (p, q, n, k) => {
    for (let i = 0, to = p * channels, at = q * channels; i < n; i++) {
      for (let c = 0; c < channels; c++, to++, at++) out[to] += from[at] * weights[k * channels + c];
    }
  });
  return out;
}

/** What an error after a layer's look around means before the layer: for what it was added to, and for what was looked at. */
function unlooked(
  passed: Float64Array,
  wrong: Float64Array,
  before: Float64Array,
  weights: Float64Array,
  slope: Float64Array,
  at: number,
  width: number,
  height: number,
  channels: number,
  step: number,
): Float64Array {
  const out = passed.slice();
  eachRow(width, height, step, (p, q, n, k) => {
    for (let i = 0, to = p * channels, from = q * channels; i < n; i++) {
      for (let c = 0, w = at + k * channels; c < channels; c++, w++, to++, from++) {
        slope[w] += wrong[to] * before[from];
        out[from] += wrong[to] * weights[w];
      }
    }
  });
  return out;
}

import { pause, type Context } from '../context/context';
import { seenByAll, sharedFloats, sharedNumbers, together, type Kernel } from '../context/together';
import { seenPicture, type Picture, type Plane } from '../raster/plane';
import { widened } from '../raster/widened';
import type { Guess } from './colourPairs';
import { surelyIn, undecided } from './undecided';

/** How the matting system is set up and how long it is worked on. */
export interface ClosedFormOptions {
  /** Regularisation of the local colour lines, in squared light; larger is smoother. Default 1e-5. */
  epsilon?: number;
  /** Pull towards the guess where it is fully trusted. Default 0.01. */
  dataWeight?: number;
  /** Rounds of the solver: the more, the farther opacity is led, two pixels a round. Default 45. */
  rounds?: number;
}

/** What was solved before, and from what. */
export interface Solved {
  state: Uint8Array;
  guess: Guess;
  matte: Plane;
}

/** The pixels after this one in reading order that share a 3 × 3 window with it. */
const ahead: readonly (readonly [number, number])[] = [
  [1, 0],
  [2, 0],
  ...[1, 2].flatMap((dy) => [-2, -1, 0, 1, 2].map((dx) => [dx, dy] as const)),
];
const aheadCount = ahead.length;
/** Slot in `ahead` of the step (dx, dy) at [(dy) * 5 + dx + 2]. */
const slotOf = new Int8Array(15).fill(-1);
ahead.forEach(([dx, dy], i) => (slotOf[dy * 5 + dx + 2] = i));
/** Slot in `ahead` from place i of a 3 × 3 window to a later place j, at [i * 9 + j]. */
const slotBetween = Int8Array.from({ length: 81 }, (_, n) => {
  const i = Math.floor(n / 9);
  const j = n % 9;
  return j > i ? slotOf[(Math.floor(j / 3) - Math.floor(i / 3)) * 5 + (j % 3) - (i % 3) + 2] : -1;
});

/** The sparse symmetric system over the undecided pixels. */
interface System {
  count: number;
  /** Pixel of each unknown. */
  pixel: Int32Array;
  diagonal: Float32Array;
  /** Coefficient towards the unknown at the same place of `partner`. */
  off: Float32Array;
  partner: Int32Array;
  right: Float32Array;
}

/**
 * Opacity of the undecided pixels such that in every 3 × 3 window it is as nearly as can be a linear function of
 * colour: the closed-form Laplacian (Levin et al. 2008), known pixels fixed, a guess drawn in by its trust
 * (Gastal & Oliveira 2010), solved by a fixed number of Chebyshev rounds (Golub & Varga 1961). These know no sums over
 * the whole picture: an answer depends on nothing farther away than two pixels a round, so that beside what was
 * solved before only the surroundings of what differs are solved, and the answer is the same to the bit.
 *
 * Costs about 1 µs an undecided pixel to set up and 0.04 µs a pixel and round.
 *
 * @param light the picture in the light in which mixing is taken as linear
 * @param state one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @param guess opacity to start from and to be drawn to
 * @param last the answer to another question on the same picture with the same options
 * @returns opacity of the whole picture, 0 to 1
 * @throws AbortError
 */
export async function solveClosedForm(
  light: Picture,
  state: Uint8Array,
  guess: Guess,
  options: ClosedFormOptions,
  context: Context,
  last?: Solved,
): Promise<Plane> {
  const { width, height } = light;
  const rounds = options.rounds ?? 45;
  const differs = last && changed(state, guess, last);
  if (differs?.includes(1) === false) return last!.matte;
  const again = differs && widened(differs, width, height, 2 * rounds + 2);
  // What surrounds that is solved along, and is wrong by as much as the rounds reach.
  const along = differs && widened(differs, width, height, 4 * rounds + 4);
  const known = new Float32Array(width * height);
  const open = new Uint8Array(width * height);
  for (let p = 0; p < state.length; p++) {
    if (state[p] !== undecided) known[p] = state[p] === surelyIn ? 1 : 0;
    else {
      known[p] = guess.opacity.data[p];
      open[p] = along ? along[p] : 1;
    }
  }
  const system = await assemble(light, open, known, options.epsilon ?? 1e-5, context);
  const { count, pixel } = system;
  const weight = options.dataWeight ?? 0.01;
  const x = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const p = pixel[i];
    const pull = weight * guess.trust.data[p] + 1e-6;
    system.diagonal[i] += pull;
    system.right[i] += pull * guess.opacity.data[p];
    x[i] = known[p];
  }
  await chebyshev(system, x, rounds, context);
  const data = known;
  if (last && again) for (let p = 0; p < state.length; p++) if (!again[p]) data[p] = last.matte.data[p];
  for (let i = 0; i < count; i++) {
    const v = x[i];
    if (!again || again[pixel[i]]) data[pixel[i]] = v < 0 ? 0 : v > 1 ? 1 : v;
  }
  return { width, height, data };
}

/** 1 where a question differs from an earlier one. */
function changed(state: Uint8Array, { opacity, trust }: Guess, last: Solved): Uint8Array {
  const [o, t] = [last.guess.opacity.data, last.guess.trust.data];
  const out = new Uint8Array(state.length);
  for (let p = 0; p < out.length; p++) {
    if (state[p] !== last.state[p] || (state[p] === undecided && (opacity.data[p] !== o[p] || trust.data[p] !== t[p]))) out[p] = 1;
  }
  return out;
}

async function assemble(light: Picture, open: Uint8Array, known: Float32Array, epsilon: number, context: Context): Promise<System> {
  const { width, height } = light;
  const node = sharedNumbers(width * height, context).fill(-1);
  let count = 0;
  const pixel = new Int32Array(width * height);
  /** The first and the last column of each row in which something is unknown */
  const ends = new Int32Array(2 * height);
  for (let y = 0, p = 0; y < height; y++) {
    ends[2 * y] = width;
    ends[2 * y + 1] = -1;
    for (let x = 0; x < width; x++, p++) {
      if (!open[p]) continue;
      if (ends[2 * y + 1] < 0) ends[2 * y] = x;
      ends[2 * y + 1] = x;
      pixel[count] = p;
      node[p] = count++;
    }
  }
  const system: System = {
    count,
    pixel: pixel.subarray(0, count),
    diagonal: sharedFloats(count, context),
    off: sharedFloats(count * aheadCount, context),
    partner: sharedNumbers(count * aheadCount, context),
    right: sharedFloats(count, context),
  };
  const { diagonal, off, partner, right } = system;
  const job = {
    light: await seenPicture(light, context),
    node,
    ends,
    known: seenByAll(known, context),
    epsilon,
    diagonal,
    off,
    partner,
    right,
  };
  await together(assembleBand, job, Math.ceil(height / band), context);
  return system;
}

interface AssembleJob extends Pick<System, 'diagonal' | 'off' | 'partner' | 'right'> {
  light: Picture;
  /** The unknown of each pixel, or −1. */
  node: Int32Array;
  /** The first and the last column of each row with an unknown. */
  ends: Int32Array;
  known: Float32Array;
  epsilon: number;
}

/** Rows whose unknowns a thread looks after at a time. */
const band = 48;

/** Sets the system up, one band of unknowns after the other; windows across a border are looked at from both sides. */
export const assembleBand: Kernel<AssembleJob> = {
  name: 'assembleBand',
  begin: (job) => (part) => addWindows(job, part * band, Math.min(job.light.height, (part + 1) * band)),
};

/** Adds what all windows say to the unknowns of rows `from` up to `to`. */
function addWindows({ light, node, ends, known, epsilon, diagonal, off, partner, right }: AssembleJob, from: number, to: number): void {
  const { width, height, r, g, b } = light;
  const [first, last] = [from * width, to * width];
  const at = new Int32Array(9);
  const cr = new Float64Array(9);
  const cg = new Float64Array(9);
  const cb = new Float64Array(9);
  for (let y = Math.max(1, from - 1); y < Math.min(height - 1, to + 1); y++) {
    const farLeft = Math.min(ends[2 * y - 2], ends[2 * y], ends[2 * y + 2]);
    const farRight = Math.max(ends[2 * y - 1], ends[2 * y + 1], ends[2 * y + 3]);
    for (let x = Math.max(1, farLeft - 1); x <= Math.min(width - 2, farRight + 1); x++) {
      const c = y * width + x;
      let open = 0;
      for (let k = 0, dy = -width; dy <= width; dy += width) {
        for (let dx = -1; dx <= 1; dx++, k++) {
          at[k] = c + dy + dx;
          if (node[at[k]] >= 0) open++;
        }
      }
      if (open === 0) continue;
      let mr = 0;
      let mg = 0;
      let mb = 0;
      for (let k = 0; k < 9; k++) {
        mr += r[at[k]];
        mg += g[at[k]];
        mb += b[at[k]];
      }
      mr /= 9;
      mg /= 9;
      mb /= 9;
      let xx = 0;
      let xy = 0;
      let xz = 0;
      let yy = 0;
      let yz = 0;
      let zz = 0;
      for (let k = 0; k < 9; k++) {
        const u = (cr[k] = r[at[k]] - mr);
        const v = (cg[k] = g[at[k]] - mg);
        const w = (cb[k] = b[at[k]] - mb);
        xx += u * u;
        xy += u * v;
        xz += u * w;
        yy += v * v;
        yz += v * w;
        zz += w * w;
      }
      xx = xx / 9 + epsilon / 9;
      yy = yy / 9 + epsilon / 9;
      zz = zz / 9 + epsilon / 9;
      xy /= 9;
      xz /= 9;
      yz /= 9;
      const axx = yy * zz - yz * yz;
      const axy = xz * yz - xy * zz;
      const axz = xy * yz - xz * yy;
      const det = 1 / (xx * axx + xy * axy + xz * axz);
      const ixx = axx * det;
      const ixy = axy * det;
      const ixz = axz * det;
      const iyy = (xx * zz - xz * xz) * det;
      const iyz = (xy * xz - xx * yz) * det;
      const izz = (xx * yy - xy * xy) * det;
      for (let i = 0; i < 9; i++) {
        const vr = ixx * cr[i] + ixy * cg[i] + ixz * cb[i];
        const vg = ixy * cr[i] + iyy * cg[i] + iyz * cb[i];
        const vb = ixz * cr[i] + iyz * cg[i] + izz * cb[i];
        const ni = node[at[i]];
        const own = ni >= 0 && at[i] >= first && at[i] < last;
        if (own) diagonal[ni] += 1 - (1 + vr * cr[i] + vg * cg[i] + vb * cb[i]) / 9;
        for (let j = i + 1; j < 9; j++) {
          const nj = node[at[j]];
          // A pair is kept at its earlier pixel.
          if (!own && (ni >= 0 || nj < 0 || at[j] < first || at[j] >= last)) continue;
          const affinity = (1 + vr * cr[j] + vg * cg[j] + vb * cb[j]) / 9;
          if (!own) right[nj] += affinity * known[at[i]];
          else if (nj < 0) right[ni] += affinity * known[at[j]];
          else {
            const slot = ni * aheadCount + slotBetween[i * 9 + j];
            off[slot] -= affinity;
            partner[slot] = nj;
          }
        }
      }
    }
  }
}

/** y = A·x */
function multiply(s: System, x: Float32Array, y: Float32Array): void {
  const { count, off, partner, diagonal } = s;
  for (let i = 0; i < count; i++) y[i] = diagonal[i] * x[i];
  for (let i = 0, k = 0; i < count; i++) {
    const xi = x[i];
    let sum = 0;
    for (const end = k + aheadCount; k < end; k++) {
      const c = off[k];
      const j = partner[k];
      sum += c * x[j];
      y[j] += c * xi;
    }
    y[i] += sum;
  }
}

/**
 * Improves x in place, so many times. Unknowns are scaled by the sums of their rows' sizes, which keeps every eigenvalue below
 * one; those below the least looked after change slowly and keep to the guess.
 */
async function chebyshev(s: System, x: Float32Array, rounds: number, context: Context): Promise<void> {
  const n = s.count;
  const least = Math.min(0.5, (2.2 / rounds) ** 2);
  const [middle, half] = [(1 + least) / 2, (1 - least) / 2];
  const scale = rowSums(s).map((v) => (v > 1e-9 ? 1 / v : 1));
  const residual = new Float32Array(n);
  const step = new Float32Array(n);
  const product = new Float32Array(n);
  multiply(s, x, product);
  for (let i = 0; i < n; i++) {
    residual[i] = s.right[i] - product[i];
    step[i] = (residual[i] * scale[i]) / middle;
  }
  let rho = half / middle;
  for (let round = 0; round < rounds; round++) {
    await pause(context, 'Solving opacity', round / rounds);
    for (let i = 0; i < n; i++) x[i] += step[i];
    if (round + 1 === rounds) return;
    multiply(s, step, product);
    const next = 1 / ((2 * middle) / half - rho);
    const [keep, add] = [next * rho, (2 * next) / half];
    for (let i = 0; i < n; i++) {
      residual[i] -= product[i];
      step[i] = keep * step[i] + add * residual[i] * scale[i];
    }
    rho = next;
  }
}

/** Sum of the sizes of each row's coefficients. */
function rowSums({ count, diagonal, off, partner }: System): Float32Array {
  const sums = diagonal.slice();
  for (let i = 0, k = 0; i < count; i++) {
    for (const end = k + aheadCount; k < end; k++) {
      const size = Math.abs(off[k]);
      sums[i] += size;
      sums[partner[k]] += size;
    }
  }
  return sums;
}

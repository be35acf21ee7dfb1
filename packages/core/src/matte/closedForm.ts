import { pause, type Context } from '../context/context';
import { seenByAll, sharedFloats, sharedNumbers, together, type Kernel } from '../context/together';
import { seenPicture, type Picture, type Plane } from '../raster/plane';
import type { Guess } from './colourPairs';
import { surelyIn, undecided } from './undecided';

/** How the matting system is set up and how long it is worked on. */
export interface ClosedFormOptions {
  /** Regularisation of the local colour lines, in squared light; larger is smoother. Default 1e-5. */
  epsilon?: number;
  /** Pull towards the guess where it is fully trusted. Default 0.01. */
  dataWeight?: number;
  /** Most iterations of the solver. Default 45. */
  iterations?: number;
  /** Stops when the residual has fallen to this share of its first value. Default 1e-3. */
  tolerance?: number;
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
 * (Gastal & Oliveira 2010), solved by conjugate gradients with a diagonal preconditioner.
 *
 * Costs about 1 µs an undecided pixel to set up and 0.04 µs a pixel and iteration.
 *
 * @param light the picture in the light in which mixing is taken as linear
 * @param state one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @param guess opacity to start from and to be drawn to
 * @returns opacity of the whole picture, 0 to 1
 * @throws AbortError
 */
export async function solveClosedForm(
  light: Picture,
  state: Uint8Array,
  guess: Guess,
  options: ClosedFormOptions,
  context: Context,
): Promise<Plane> {
  const { width, height } = light;
  const result: Plane = { width, height, data: new Float32Array(width * height) };
  for (let p = 0; p < state.length; p++) {
    result.data[p] = state[p] === undecided ? guess.opacity.data[p] : state[p] === surelyIn ? 1 : 0;
  }
  const system = await assemble(light, state, result.data, options.epsilon ?? 1e-5, context);
  const weight = options.dataWeight ?? 0.01;
  for (let i = 0; i < system.count; i++) {
    const p = system.pixel[i];
    const pull = weight * guess.trust.data[p] + 1e-6;
    system.diagonal[i] += pull;
    system.right[i] += pull * guess.opacity.data[p];
  }
  const x = new Float32Array(system.count);
  for (let i = 0; i < system.count; i++) x[i] = result.data[system.pixel[i]];
  await conjugateGradients(system, x, options.iterations ?? 45, options.tolerance ?? 1e-3, context);
  for (let i = 0; i < system.count; i++) {
    const v = x[i];
    result.data[system.pixel[i]] = v < 0 ? 0 : v > 1 ? 1 : v;
  }
  return result;
}

async function assemble(light: Picture, state: Uint8Array, known: Float32Array, epsilon: number, context: Context): Promise<System> {
  const { width, height } = light;
  const node = sharedNumbers(width * height, context).fill(-1);
  let count = 0;
  for (let p = 0; p < state.length; p++) if (state[p] === undecided) node[p] = count++;
  const system: System = {
    count,
    pixel: new Int32Array(count),
    diagonal: sharedFloats(count, context),
    off: sharedFloats(count * aheadCount, context),
    partner: sharedNumbers(count * aheadCount, context),
    right: sharedFloats(count, context),
  };
  for (let p = 0; p < node.length; p++) if (node[p] >= 0) system.pixel[node[p]] = p;
  const { diagonal, off, partner, right } = system;
  const job = { light: await seenPicture(light, context), node, known: seenByAll(known, context), epsilon, diagonal, off, partner, right };
  await together(assembleBand, job, Math.ceil(height / band), context);
  return system;
}

interface AssembleJob extends Pick<System, 'diagonal' | 'off' | 'partner' | 'right'> {
  light: Picture;
  /** The unknown of each pixel, or −1. */
  node: Int32Array;
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
function addWindows({ light, node, known, epsilon, diagonal, off, partner, right }: AssembleJob, from: number, to: number): void {
  const { width, height, r, g, b } = light;
  const [first, last] = [from * width, to * width];
  const at = new Int32Array(9);
  const cr = new Float64Array(9);
  const cg = new Float64Array(9);
  const cb = new Float64Array(9);
  for (let y = Math.max(1, from - 1); y < Math.min(height - 1, to + 1); y++) {
    for (let x = 1; x < width - 1; x++) {
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

/** Improves x in place until A·x is close to the right-hand side. */
async function conjugateGradients(s: System, x: Float32Array, most: number, tolerance: number, context: Context): Promise<void> {
  const n = s.count;
  const r = new Float32Array(n);
  const p = new Float32Array(n);
  const q = new Float32Array(n);
  const inverse = s.diagonal.map((d) => (d > 1e-9 ? 1 / d : 1));
  multiply(s, x, q);
  let rho = 0;
  for (let i = 0; i < n; i++) {
    r[i] = s.right[i] - q[i];
    p[i] = inverse[i] * r[i];
    rho += r[i] * p[i];
  }
  const goal = rho * tolerance * tolerance;
  for (let round = 0; round < most && rho > goal && rho > 1e-18; round++) {
    await pause(context, 'Solving opacity', round / most);
    multiply(s, p, q);
    let curve = 0;
    for (let i = 0; i < n; i++) curve += p[i] * q[i];
    if (!(curve > 0)) return;
    const step = rho / curve;
    let next = 0;
    for (let i = 0; i < n; i++) {
      x[i] += step * p[i];
      r[i] -= step * q[i];
      next += r[i] * r[i] * inverse[i];
    }
    const keep = next / rho;
    for (let i = 0; i < n; i++) p[i] = inverse[i] * r[i] + keep * p[i];
    rho = next;
  }
}

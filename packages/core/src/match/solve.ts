import { solveSymmetric } from '../align/solve';
import { glowShare, grader, defaultGrade, protectedShare, type Grade, type HueRange } from '../grade/grade';
import { toneOf, type ColourSample, type Tone } from './tone';

/** What of tone and cast can be made equal, each by one number of a grade. */
export const toneProperties = ['cast', 'tint', 'black', 'white', 'middle', 'contrast', 'saturation'] as const;
export type ToneProperty = (typeof toneProperties)[number];

/** How far each property is to be moved: 0 leaves it, 1 makes it equal. */
export type Strengths = Record<ToneProperty, number>;

/**
 * What is moved unasked: cast and black are of the light and go all the way; light is hardly ever far off the black-body locus, so that of
 * tint half may be the scene's; the rest belongs to the scene.
 */
export const restrained: Strengths = { cast: 1, tint: 1 / 2, black: 1, white: 1 / 3, middle: 1 / 3, contrast: 1 / 3, saturation: 1 / 3 };

/** How far a grade may go in what is moved no farther than that. */
const calm: Partial<Record<ToneProperty, readonly [number, number]>> = {
  tint: [-10, 10],
  white: [-0.7, 0.7],
  middle: [-8, 8],
  contrast: [-0.25, 0.25],
  saturation: [0.8, 1.2],
};

/** Share of the side that may be clipped more than before. */
const clippedMore = 0.003;

interface Handle {
  measured: (t: Tone) => number;
  /** A gap of this size is what the eye lets pass. */
  tolerance: number;
  get: (g: Grade) => number;
  set: (g: Grade, v: number) => void;
  least: number;
  most: number;
  /** A step for which the measured answer is clear of rounding. */
  step: number;
}

/** Each property with the number of a grade that moves it. */
export const handles: Record<ToneProperty, Handle> = {
  cast: { measured: (t) => t.mired, tolerance: 30, ...handle('temperature', -110, 340, 4) },
  tint: { measured: (t) => t.tint, tolerance: 6, ...handle('tint', -80, 80, 1) },
  black: { measured: (t) => t.black, tolerance: 6, ...handle('black', -30, 40, 0.5) },
  white: { measured: (t) => t.white, tolerance: 12, ...handle('exposure', -4, 4, 0.05) },
  middle: { measured: (t) => t.middle, tolerance: 15, ...handle('middle', -40, 40, 0.5) },
  contrast: { measured: (t) => t.contrast, tolerance: 8, ...handle('contrast', -1, 1, 0.05) },
  saturation: { measured: (t) => t.saturation, tolerance: 4, ...handle('saturation', 0.2, 3, 0.03) },
};

function handle(
  key: 'temperature' | 'tint' | 'black' | 'exposure' | 'middle' | 'contrast' | 'saturation',
  least: number,
  most: number,
  step: number,
) {
  return { least, most, step, get: (g: Grade) => g[key], set: (g: Grade, v: number) => void (g[key] = v) };
}

/** Colours that the search looks at, and those that its answer is refined on; rounds of each, and when it is good enough. */
const passes = [
  { looked: 3000, rounds: 14, enough: 2e-4 },
  { looked: 24000, rounds: 3, enough: 1e-5 },
];

/** What is left as it is, and whether a coarse answer will do. */
export interface SolveLimits {
  protect?: readonly HueRange[];
  /** Whether what glows is left as it is. */
  glow?: boolean;
  quick?: boolean;
}

/**
 * The grade that carries the measured tone and cast of one side to a goal: damped least squares (Levenberg 1944) on a
 * sample of its colours, gaps told in tolerances, so that all properties count alike and each is measured again as it
 * would be seen. What has strength 0 keeps a plain handle. What is moved no farther than `restrained` stays within narrow limits, and
 * goes no farther than clipping allows.
 *
 * @param from colours of the side that is moved
 * @param to what is measured of the other side
 */
export function solveGrade(
  from: ColourSample,
  to: Tone,
  strengths: Strengths,
  { protect = [], glow = false, quick = false }: SolveLimits = {},
): Grade {
  const used = toneProperties.filter((k) => strengths[k] > 0);
  const grade: Grade = { ...defaultGrade };
  if (used.length === 0 || to.weight === 0 || from.weights.length === 0) return grade;
  let values = used.map((k) => handles[k].get(defaultGrade));
  for (const pass of quick ? passes.slice(0, 1) : passes) values = searched(thinnedSample(from, pass.looked), values, pass);
  const unasked = used.map((k) => (k in calm && k !== 'tint' ? strengths[k] <= restrained[k] + 1e-6 : false));
  put(values);
  if (unasked.includes(true)) put(unclipped());
  return grade;

  function put(at: number[]): void {
    used.forEach((k, i) => handles[k].set(grade, at[i]));
  }

  /** What was not asked for drawn back as far as needed for clipping. */
  function unclipped(): number[] {
    const sample = thinnedSample(from, passes[1].looked);
    const spared = sparedOf(sample);
    const drawn = (share: number): number[] =>
      values.map((v, i) => {
        const plain = handles[used[i]].get(defaultGrade);
        return unasked[i] ? plain + share * (v - plain) : v;
      });
    const clips = (share: number): number => {
      put(drawn(share));
      return clippedShare(changed(sample, grade, spared));
    };
    const limit = Math.max(clippedShare(sample), clips(0)) + clippedMore;
    if (clips(1) <= limit) return values;
    let [low, high] = [0, 1];
    for (let k = 0; k < 7; k++) {
      const middle = (low + high) / 2;
      if (clips(middle) <= limit) low = middle;
      else high = middle;
    }
    return drawn(low);
  }

  function sparedOf(sample: ColourSample): Float32Array | undefined {
    return protect.length > 0 || glow ? shares(sample, protect, glow) : undefined;
  }

  function limits(k: ToneProperty): readonly [number, number] {
    const narrow = strengths[k] <= restrained[k] + 1e-6 ? calm[k] : undefined;
    return narrow ?? [handles[k].least, handles[k].most];
  }

  function searched(sample: ColourSample, start: number[], { rounds, enough }: (typeof passes)[number]): number[] {
    const before = toneOf(sample);
    const spared = sparedOf(sample);
    const goals = used.map((k) => {
      const { measured } = handles[k];
      return measured(before) + strengths[k] * (measured(to) - measured(before));
    });
    /** Gaps in tolerances, and a slight pull of each handle towards where it was. */
    const residuals = (at: number[]): number[] => {
      used.forEach((k, i) => handles[k].set(grade, at[i]));
      const t = toneOf(changed(sample, grade, spared));
      return [
        ...used.map((k, i) => (handles[k].measured(t) - goals[i]) / handles[k].tolerance),
        ...used.map((k, i) => (0.004 * (at[i] - handles[k].get(defaultGrade))) / (8 * handles[k].step)),
      ];
    };
    let values = start;
    let here = residuals(values);
    let damping = 0.01;
    for (let round = 0; round < rounds && energy(here.slice(0, used.length)) > enough; round++) {
      const slopes = used.map((k, j) => {
        const moved = values.map((v, i) => (i === j ? v + handles[k].step : v));
        return residuals(moved).map((r, i) => (r - here[i]) / handles[k].step);
      });
      let better = false;
      for (let tries = 0; tries < 6 && !better; tries++) {
        const move = dampedStep(slopes, here, damping);
        const next = values.map((v, i) => {
          const [least, most] = limits(used[i]);
          return Math.min(most, Math.max(least, v + move[i]));
        });
        const there = residuals(next);
        better = energy(there) < energy(here);
        if (better) [values, here] = [next, there];
        damping = better ? Math.max(1e-5, damping / 4) : damping * 6;
      }
      if (!better) break;
    }
    return values;
  }
}

function energy(r: number[]): number {
  return r.reduce((sum, v) => sum + v * v, 0);
}

function thinnedSample({ colours, weights }: ColourSample, looked: number): ColourSample {
  const every = Math.ceil(weights.length / looked);
  if (every <= 1) return { colours, weights };
  const n = Math.floor(weights.length / every);
  const out = { colours: new Float32Array(3 * n), weights: new Float32Array(n) };
  for (let i = 0; i < n; i++) {
    out.weights[i] = weights[i * every];
    for (let c = 0; c < 3; c++) out.colours[3 * i + c] = colours[3 * i * every + c];
  }
  return out;
}

function shares({ colours, weights }: ColourSample, protect: readonly HueRange[], glow: boolean): Float32Array {
  return weights.map((_, i) => {
    const [r, g, b] = [colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]];
    return (1 - protectedShare(protect, r, g, b)) * (glow ? 1 - glowShare(r, g, b) : 1);
  });
}

/** Share of a sample with a channel at either end of the range. */
export function clippedShare({ colours, weights }: ColourSample): number {
  let [clipped, all] = [0, 0];
  for (let i = 0; i < weights.length; i++) {
    all += weights[i];
    const [r, g, b] = [colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]];
    if (Math.max(r, g, b) >= 0.998 || Math.min(r, g, b) <= 0.0003) clipped += weights[i];
  }
  return all > 0 ? clipped / all : 0;
}

function changed({ colours, weights }: ColourSample, grade: Grade, spared?: Float32Array): ColourSample {
  const change = grader(grade);
  const out = new Float32Array(colours.length);
  const to = new Float64Array(3);
  for (let i = 0, k = 0; i < weights.length; i++, k += 3) {
    change(colours[k], colours[k + 1], colours[k + 2], to);
    const s = spared ? spared[i] : 1;
    for (let c = 0; c < 3; c++) out[k + c] = colours[k + c] + s * (to[c] - colours[k + c]);
  }
  return { colours: out, weights };
}

/** (JᵀJ + λ·diag)⁻¹·(−Jᵀr); slopes[j] is column j of J. */
function dampedStep(slopes: number[][], r: number[], damping: number): number[] {
  const n = slopes.length;
  const dot = (a: number[], b: number[]): number => a.reduce((sum, v, i) => sum + v * b[i], 0);
  const matrix = Float64Array.from({ length: n * n }, (_, k) => {
    const [i, j] = [Math.floor(k / n), k % n];
    return dot(slopes[i], slopes[j]) * (i === j ? 1 + damping : 1) + (i === j ? 1e-12 : 0);
  });
  const right = Float64Array.from(slopes, (column) => -dot(column, r));
  return [...(solveSymmetric(matrix, right, n) ?? new Float64Array(n))];
}

import { inArena, inArenaNow, type Numbers } from '../../runtime/arena';
import { pause, type Context } from '../../runtime/context';
import { sharedFloats, sharedNumbers, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { seenPicture, type Picture, type Plane } from '../../raster/plane';
import { differing } from '../../raster/mask';
import { widened } from '../../raster/widened';
import type { Guess } from './colourPairs';

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
  trimap: Uint8Array;
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
 * Costs what is undecided, not the picture.
 *
 * @param light the picture in the light in which mixing is taken as linear
 * @param trimap one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @param guess opacity to start from and to be drawn to
 * @param last the answer to another question on the same picture with the same options
 * @returns opacity of the whole picture, 0 to 1
 * @throws AbortError
 */
export async function solveClosedForm(
  light: Picture,
  trimap: Uint8Array,
  guess: Guess,
  options: ClosedFormOptions,
  context: Context,
  last?: Solved,
): Promise<Plane> {
  const { width, height } = light;
  const rounds = options.rounds ?? 45;
  const differs = last && changed(trimap, guess, last);
  if (differs?.includes(1) === false) return last!.matte;
  const again = differs && widened(differs, width, height, 2 * rounds + 2);
  // What surrounds that is solved along, and is wrong by as much as the rounds reach.
  const along = differs && widened(differs, width, height, 4 * rounds + 4);
  const unknowns = openUnknowns(trimap, guess, along, context);
  const { known } = unknowns;
  const system = await assemble(light, unknowns, options.epsilon ?? 1e-5, context);
  const { count, pixel } = system;
  const weight = options.dataWeight ?? 0.01;
  const x = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const p = pixel[i];
    const dataTerm = weight * guess.trust.data[p] + 1e-6;
    system.diagonal[i] += dataTerm;
    system.right[i] += dataTerm * guess.opacity.data[p];
    x[i] = known[p];
  }
  await chebyshev(system, x, rounds, context);
  const data = sharedFloats(known.length, context);
  inArenaNow((arena) => {
    const [pixels, solved, out] = arena.copiesIn(pixel, x, known);
    const before = last && again ? arena.copiesIn(again, last.matte.data) : ([0, 0] as const);
    arena.run.settleUnknowns(data.length, count, pixels, solved, ...before, out);
    arena.copyOut(out, data);
  });
  return { width, height, data };
}

/** 1 where a question differs from an earlier one. */
function changed(trimap: Uint8Array, { opacity, trust }: Guess, last: Solved): Uint8Array {
  const out = differing({ codes: trimap, numbers: opacity.data }, { codes: last.trimap, numbers: last.guess.opacity.data });
  if (trust.data === last.guess.trust.data) return out;
  const other = differing({ codes: trimap, numbers: trust.data }, { codes: last.trimap, numbers: last.guess.trust.data });
  for (let p = 0; p < out.length; p++) out[p] |= other[p];
  return out;
}

/** What is known of each pixel and which are unknown. */
interface Unknowns {
  known: Float32Array;
  node: Int32Array;
  pixel: Int32Array;
  ends: Int32Array;
}

/** Numbers the undecided pixels, or only those along which it is to be solved. */
function openUnknowns(trimap: Uint8Array, { opacity }: Guess, along: Uint8Array | undefined, context: Context): Unknowns {
  const { width, height } = opacity;
  const n = width * height;
  const out = { known: sharedFloats(n, context), node: sharedNumbers(n, context), ends: new Int32Array(2 * height) };
  return inArenaNow((arena) => {
    const [knownOf, guess] = [arena.copyIn(trimap), arena.copyIn(opacity.data)];
    const [known, node, pixel, ends] = [n, n, n, 2 * height].map((numbers) => arena.alloc(4 * numbers));
    const count = arena.run.openUnknowns(width, height, knownOf, along ? arena.copyIn(along) : 0, guess, known, node, pixel, ends);
    const pixels = new Int32Array(count);
    arena.copyOut(known, out.known);
    arena.copyOut(node, out.node);
    arena.copyOut(ends, out.ends);
    arena.copyOut(pixel, pixels);
    return { ...out, pixel: pixels };
  });
}

async function assemble(light: Picture, { known, node, pixel, ends }: Unknowns, epsilon: number, context: Context): Promise<System> {
  const count = pixel.length;
  const system: System = {
    ...{ count, pixel },
    diagonal: sharedFloats(count, context),
    off: sharedFloats(count * aheadCount, context),
    partner: sharedNumbers(count * aheadCount, context),
    right: sharedFloats(count, context),
  };
  const { diagonal, off, partner, right } = system;
  const job: AssembleJob = { light: await seenPicture(light, context), node, ends, known, epsilon, diagonal, off, partner, right };
  await parallelFor(assembleBand, job, Math.ceil(light.height / band), context);
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
  begin({ light, node, ends, known, epsilon, ...system }) {
    const { width, height } = light;
    const firstOf = (y: number): number => node[y * width + ends[2 * y]];
    const isOpen = (y: number): boolean => ends[2 * y + 1] >= 0;
    return (part) => {
      const [from, to] = [part * band, Math.min(height, (part + 1) * band)];
      let [begin, end] = [from, to - 1];
      while (begin < to && !isOpen(begin)) begin++;
      if (begin === to) return;
      while (!isOpen(end)) end--;
      const [first, last] = [firstOf(begin), node[end * width + ends[2 * end + 1]] + 1];
      // Windows of the rows beside the band, and what is around those.
      const top = Math.max(0, from - 2);
      const rows = (plane: Numbers): Numbers => plane.subarray(top * width, Math.min(height, to + 2) * width);
      const ofBand = <T extends Numbers>(all: T): Numbers => {
        const each = all.length / system.diagonal.length;
        return all.subarray(first * each, last * each);
      };
      const parts = [ofBand(system.diagonal), ofBand(system.off), ofBand(system.partner), ofBand(system.right)] as const;
      inArenaNow((arena) => {
        const given = arena.copiesIn(rows(light.r), rows(light.g), rows(light.b), rows(node), rows(known));
        const places = arena.copiesIn(...parts);
        arena.run.addWindows(
          width,
          height,
          from,
          to,
          top,
          ...given,
          arena.copyIn(ends),
          arena.copyIn(slotBetween),
          epsilon,
          first,
          ...places,
        );
        parts.forEach((p, i) => arena.copyOut(places[i], p));
      });
    };
  },
};

/**
 * Improves x in place, so many times. Unknowns are scaled by the sums of their rows' sizes, which keeps every eigenvalue below
 * one; those below the least looked after change slowly and keep to the guess.
 */
function chebyshev({ count, diagonal, off, partner, right }: System, x: Float32Array, rounds: number, context: Context): Promise<void> {
  const least = Math.min(0.5, (2.2 / rounds) ** 2);
  return inArena(async (arena) => {
    const places = arena.copiesIn(diagonal, off, partner, right, x);
    arena.run.roundsBegin(count, ...places, least, arena.alloc(12 * count));
    for (let round = 0; round < rounds; round++) {
      await pause(context, 'Solving opacity', round / rounds);
      arena.run.round(round + 1 === rounds);
    }
    arena.copyOut(places[4], x);
  });
}

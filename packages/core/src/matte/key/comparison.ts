import { inArenaNow, type Arena } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { parallelFor, sharedBytes, sharedFloats, toShared, type Kernel } from '../../runtime/parallelFor';
import { gaussianTaps } from '../../raster/filter';
import type { Picture, Plane } from '../../raster/plane';
import { pushPull } from '../../raster/pushPull';
import { rankOf } from '../../raster/rank';

/** A shot beside the ground behind its subject, pixel by pixel; both encoded and in memory that the pool sees. */
export interface Comparison {
  light: Picture;
  behind: Picture;
  /** Squared distance of their colours, on the mean around. */
  around: Float32Array;
  /** How much light is left where the shot is the ground only darker, 0 elsewhere; and 1 where the ground's texture is certainly seen there. */
  factor: Float32Array;
  certain: Uint8Array;
  /** 1 where the shot is smooth and plainly other than the ground. */
  plain: Uint8Array;
  /** Standard deviation of what differs without a subject, in encoded light (1 = white). */
  noise: number;
}

/** Rows that a thread takes at a time, and how far windows reach beyond them. */
const rows = 32;
const beyond = 3;

/** A small window, so that single noisy pixels are no subject and thin strands still are. */
const aroundSigma = 0.7;
/** Share of a shadow's light that its factors need not explain: bumps are lit from another side there. */
const mostLeft = 0.1;
/** The plate's texture is seen through a shadow when it has so many times the noise's energy, and correlates so well. */
const textured = 12;
const likeTexture = 0.8;
/** Squared light by which a pixel that shows no plate differs from it; and the share of such pixels around that makes a body. */
const plainlyOther = 0.02;
const bodyShare = 0.7;
/** Standard deviation of encoded light on what is smooth. */
const smooth = 0.06;

/** A picture's colours, one after the other. */
function coloursOf({ r, g, b }: Picture): Float32Array[] {
  return [r, g, b];
}

/** Some rows of a plane, and those around that windows reach. */
interface Band {
  width: number;
  from: number;
  to: number;
  top: number;
  bottom: number;
}

function bandOf(part: number, { width, height }: { width: number; height: number }): Band {
  const from = part * rows;
  const to = Math.min(height, from + rows);
  return { width, from, to, top: Math.max(0, from - beyond), bottom: Math.min(height, to + beyond) };
}

/** The band of some planes, one after the other. @returns the first one's address */
function bandIn(arena: Arena, planes: readonly Float32Array[], { width, top, bottom }: Band): number {
  const each = width * (bottom - top);
  const at = arena.alloc(4 * each * planes.length);
  planes.forEach((plane, k) => arena.set(at + 4 * k * each, plane.subarray(top * width, bottom * width)));
  return at;
}

/** The band's own rows, of a plane whose rows begin at its top, from so many bytes a pixel. */
function bandOut(arena: Arena, at: number, into: Float32Array | Uint8Array, { width, from, to, top }: Band): void {
  arena.copyOut(at + into.BYTES_PER_ELEMENT * width * (from - top), into.subarray(from * width, to * width));
}

/** Compares a band. */
export const compareBand: Kernel<Comparison> = {
  name: 'compareBand',
  begin(job) {
    const { light, behind, noise } = job;
    const taps = gaussianTaps(aroundSigma);
    return (part) =>
      inArenaNow((arena) => {
        const { run } = arena;
        const band = bandOf(part, light);
        const { width, from, to, top, bottom } = band;
        const high = bottom - top;
        const n = width * high;
        const shot = bandIn(arena, coloursOf(light), band);
        const ground = bandIn(arena, coloursOf(behind), band);
        const [away, factor, certain, plain, rooms] = arena.allocs(4 * n, 4 * n, n, n, 4 * n * 17);
        run.squaredAway(n, shot, ground, away);
        const [padded, across, around] = arena.allocs(4 * (width + 2 * taps.length), 4 * n, 4 * width * (to - from));
        run.blurRows(width, light.height, top, bottom, from, to, away, arena.copyIn(taps), taps.length - 1, padded, across, around);
        arena.copyOut(around, job.around.subarray(from * width, to * width));
        run.shadeOf(width, high, shot, ground, noise, mostLeft, textured, likeTexture, rooms, factor, certain);
        run.plainOf(width, high, shot + 4 * n, away, plainlyOther, bodyShare, smooth, rooms, plain);
        bandOut(arena, factor, job.factor, band);
        bandOut(arena, certain, job.certain, band);
        bandOut(arena, plain, job.plain, band);
      });
  },
};

/**
 * @param light the shot, encoded, in memory that the pool sees; as `behind`, the ground
 * @param seen where it has something to show
 * @throws AbortError
 */
export async function compared(light: Picture, behind: Picture, seen: Plane, context: Context): Promise<Comparison> {
  const { width, height } = light;
  const n = width * height;
  const [around, factor] = [0, 1].map(() => sharedFloats(n, context));
  const [certain, plain] = [0, 1].map(() => sharedBytes(n, context));
  const noise = Math.max(leastNoise, typicalNoise(light, behind, seen));
  const job: Comparison = { light, behind, around, factor, certain, plain, noise };
  await parallelFor(compareBand, job, Math.ceil(height / rows), context, 'Comparing with the plate', 0.3, 0.7);
  return job;
}

const leastNoise = 0.004;

/** Robust standard deviation of the difference a channel: most of the picture shows the same thing. */
function typicalNoise(light: Picture, behind: Picture, seen: Plane): number {
  const found = new Float64Array(light.g.length);
  const step = Math.max(1, Math.floor(light.g.length / 100_000));
  let count = 0;
  for (let p = 0; p < light.g.length; p += step) if (seen.data[p]) found[count++] = Math.abs(light.g[p] - behind.g[p]);
  // The lower half, because a subject may cover up to half of the picture: its median is the quartile of |x|.
  return count === 0 ? 0 : rankOf(found.subarray(0, count), Math.floor(0.25 * count)) / 0.3186;
}

/** What a comparison says for inside (positive) a pixel. @param threshold so many times the noise a pixel must differ */
export function evidenceOf({ around, factor, certain, noise }: Comparison, seen: Plane, threshold: number): Float32Array {
  const out = new Float32Array(around.length);
  inArenaNow((arena) => {
    const planes = arena.copiesIn(around, factor, certain, seen.data);
    const evidence = arena.alloc(out.byteLength);
    arena.run.groundEvidence(out.length, ...planes, threshold, noise, evidence);
    arena.copyOut(evidence, out);
  });
  return out;
}

interface LightJob {
  known: Float32Array;
  light: Picture;
  behind: Picture;
  factors: Float32Array[];
}

/** How many times the ground's light a band of the shot has. */
export const lightBand: Kernel<LightJob> = {
  name: 'lightBand',
  begin:
    ({ known, light, behind, factors }) =>
    (part) =>
      inArenaNow((arena) => {
        const band = bandOf(part, light);
        const high = band.bottom - band.top;
        const n = band.width * high;
        const weight = bandIn(arena, [known], band);
        const [out, rooms] = arena.allocs(4 * n, 4 * n * 5);
        const shot = bandIn(arena, coloursOf(light), band);
        const ground = bandIn(arena, coloursOf(behind), band);
        factors.forEach((factor, c) => {
          arena.run.lightOnGround(band.width, high, weight, shot + 4 * n * c, ground + 4 * n * c, rooms, out);
          bandOut(arena, out, factor, band);
        });
      }),
};

/**
 * The ground in the light that falls on it in the shot: a shadow that the subject casts goes on behind its edge.
 *
 * @param known 1 where the shot shows the ground, else 0
 * @throws AbortError
 */
export async function inItsLight({ light, behind }: Comparison, known: Float32Array, context: Context): Promise<Picture> {
  const { width, height } = light;
  const factors = [0, 1, 2].map(() => sharedFloats(known.length, context));
  const weight = toShared(known, context);
  await parallelFor(
    lightBand,
    { known: weight, light, behind, factors },
    Math.ceil(height / rows),
    context,
    'Comparing with the plate',
    0.7,
    0.8,
  );
  const spread = pushPull(
    factors.map((data) => ({ width, height, data })),
    { width, height, data: known },
  );
  const [r, g, b] = coloursOf(behind).map((ground, c) => {
    const out = sharedFloats(ground.length, context);
    const factor = spread[c].data;
    for (let p = 0; p < out.length; p++) out[p] = factor[p] * ground[p];
    return out;
  });
  return { width, height, r, g, b };
}

/** Light that mixtures leave unexplained where the subject has a colour that was not found around. */
const leftFrom = 0.08;
/** Least mean distance from the plate there, however bright it is: shadows are not known well behind the edge. */
const offPlate = 0.1;

interface BareJob {
  open: Float32Array;
  light: Picture;
  lit: Picture;
  left: Float32Array;
  bare: Uint8Array;
}

/** Looks for what no mixture explains in a band. */
export const bareBand: Kernel<BareJob> = {
  name: 'bareBand',
  begin:
    ({ open, light, lit, left, bare }) =>
    (part) =>
      inArenaNow((arena) => {
        const band = bandOf(part, light);
        const high = band.bottom - band.top;
        const n = band.width * high;
        const planes = [[open], coloursOf(light), coloursOf(lit), [left]].map((p) => bandIn(arena, p, band));
        const [rooms, out] = arena.allocs(4 * n * 5, n);
        const [weight, shot, ground, unmixed] = planes;
        arena.run.unexplained(band.width, high, weight, shot, ground, unmixed, leftFrom, offPlate, rooms, out);
        bandOut(arena, out, bare, band);
      }),
};

/**
 * 1 where an open pixel has a colour that no mixture of ground and subject comes near, on its own and on the mean around.
 *
 * @param open 1 where opacity is open, else 0
 * @param lit the ground in the shot's light
 * @param left what mixtures leave unexplained a pixel
 * @throws AbortError
 */
export async function unexplainedBy(
  lit: Picture,
  light: Picture,
  open: Float32Array,
  left: Float32Array,
  context: Context,
): Promise<Uint8Array> {
  const bare = sharedBytes(open.length, context);
  const job: BareJob = { open: toShared(open, context), light, lit, left: toShared(left, context), bare };
  await parallelFor(bareBand, job, Math.ceil(light.height / rows), context, 'Comparing with the plate', 0.9);
  return bare;
}

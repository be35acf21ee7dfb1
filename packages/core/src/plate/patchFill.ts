import { decodedQuickly, encodedQuickly } from '../colour/srgb';
import type { Context } from '../runtime/context';
import { sharedBytes, sharedNumbers, parallelFor, type Kernel } from '../runtime/parallelFor';
import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { maskOf } from '../raster/mask';
import { assertSameSize, makePlane, seenPicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { resizeHoled, resizePicture, resizePlane, scaledSize, type Holed } from '../raster/resize';
import { sampleAt } from '../raster/sample';
import { continueLines } from './continueLines';
import { shut } from './membrane';
import { layeredFill } from './smooth';
import { betterPatches, carriedOver, carriedSource, vote, type Copied } from './nearestPatches';
import { inventedFrom, makeLevel, type PatchLevel } from './patchLevel';
import { usualScale } from '../raster/usual';

/** Longest sides, px, at which patches are chosen, whatever the picture's own size: so content is chosen alike at all of them. */
const ladder = [240, 450, 900];
/** A size is left out when the next one is nearer than this. */
const apart = 0.75;
/** Rounds of search and farthest look, px, at each step of the ladder. */
const searches = [
  { rounds: 2, far: 40 },
  { rounds: 2, far: 12 },
  { rounds: 1, far: 8 },
];
/**
 * What the membrane and not the patches decide: all that is broader than so many px of the ladder's last step, and how much of it. At
 * the rim, where it shows and the membrane is right, more than deep inside, where it knows nothing.
 */
const atRim = { broad: 2, share: 1 };
const inside = { broad: 5, share: 0.9 };
/** Over so many px of a shot of the usual size the rim's way turns into the inside's. */
const turning = 24;
/** Over so many px of a shot of the usual size texture fades in from the rim. */
const fade = 8;
/** The texture's contrast is changed at most by this factor to be that of the surroundings. */
const strongest = 1.2;

/** So many px around the hole are its surroundings, whose contrast counts. */
const surroundings = 48;

/** So many px around, at the ladder's last step, a shift is looked for when a pixel's own leads to nothing. */
const nearby = 4;

/** A filled picture, and where everything in it came from. */
export interface PatchFilled {
  picture: Picture;
  copied: Copied;
}

/** There is nothing that may be copied. */
export class NoSourceError extends RangeError {
  override name = 'NoSourceError';
}

/**
 * Fills the hole with what is seen elsewhere. Content is chosen at up to 900 px: lines are continued from the rim inwards,
 * then patches of 7 × 7 (colour and slopes of brightness) look for like ones and vote, coarse to fine. At the picture's own size the
 * chosen pixels are copied; what they are on average is taken from a membrane (see `layeredFill`), their contrast from the surroundings.
 *
 * @param picture what is seen; in half-covered pixels what was recovered
 * @param hole 0 (keep) to 1 (invent)
 * @param allowed 1 where it may be copied from, 0 in the subject
 * @param seed another one gives another fill, the same one the same bytes
 * @param chosen where everything came from at another size of the same picture: then nothing is looked for
 * @throws NoSourceError when nothing may be copied; RangeError when sizes differ; AbortError
 */
export async function patchFill(
  picture: Picture,
  hole: Plane,
  allowed: Plane,
  seed: number,
  context: Context,
  chosen?: Copied,
): Promise<PatchFilled> {
  assertSameSize(picture, hole, 'patch fill');
  const { width, height } = picture;
  const { small: work, guess, full } = await layeredFill(picture, hole, context);
  let small = work;
  const mayCopy = resizePlane(allowed, guess.width, guess.height);
  const steps: PatchLevel[] = [];
  for (const side of [...ladder].reverse()) {
    const size = scaledSize(width, height, Math.min(1, side / Math.max(width, height)));
    if (steps.length > 0 && size.width > apart * steps[0].width) continue;
    small = resizeHoled(small, size.width, size.height);
    steps.unshift(makeLevel(resizePicture(guess, size.width, size.height), small, resizePlane(mayCopy, size.width, size.height)));
  }
  const last = steps[steps.length - 1];
  if (!last.open.includes(1)) return { picture: full, copied: { ...last, from: new Int32Array(last.open.length).fill(-1) } };
  if (!steps[0].source.includes(1)) throw new NoSourceError(nothingToCopy);
  const from = chosen ? takenOver(last, chosen, seed) : await lookedFor(steps, seed, context);
  const copied = { width: last.width, height: last.height, from };
  return { picture: await copiedUp(full, { picture, hole }, allowed, last, guess, copied, context), copied };
}

/** Sources found coarse to fine, those of the last step; its colours are then what the patches vote for. */
async function lookedFor(steps: PatchLevel[], seed: number, context: Context): Promise<Int32Array> {
  let from = await continueLines(steps[0], seed, context);
  for (let i = 0; i < steps.length; i++) {
    const level = steps[i];
    const { rounds, far } = searches[searches.length - steps.length + i];
    const near = carriedOver(level, steps[Math.max(0, i - 1)], from, seed);
    for (let k = 0; k < rounds; k++) {
      vote(level, near);
      await betterPatches(level, near, { rounds: 1 + (k & 1), far, seed: 1000 * seed + 100 * i + 10 * k }, context);
    }
    from = near.at;
  }
  return from;
}

/** Sources that were found at another size, and the colours they give. */
function takenOver(level: PatchLevel, chosen: Copied, seed: number): Int32Array {
  const near = carriedOver(level, chosen, chosen.from, seed);
  vote(level, near);
  return near.at;
}

const nothingToCopy =
  'There is nothing to copy from: all that is not invented is subject, or the region to borrow from lies in the hole or is smaller than 7 × 7 px. Draw a larger region, or take the smooth fill.';

/** The chosen pixels at the picture's own size laid into the membrane. */
async function copiedUp(
  full: Picture,
  holed: Holed,
  allowed: Plane,
  last: PatchLevel,
  guess: Picture,
  copied: Copied,
  context: Context,
): Promise<Picture> {
  const { width, height } = full;
  const scale = width / last.width;
  const picture = await seenPicture(withOpacity(holed.picture), context);
  const from = await sourcesAt(holed.hole, allowed, copied, context);
  const gain = contrast(picture, from, last, scale);
  const away = distanceTo(
    maskOf(last.open, (o) => o === 0),
    last.width,
    last.height,
  );
  const usual = usualScale(picture, context.scale);
  const job: CopyJob = {
    ...{ picture, from, gain, away, box: last.box },
    full: await seenPicture(full, context),
    near: shiftsOf(last, guess, gain, atRim),
    far: shiftsOf(last, guess, gain, inside),
    turning: turning * usual,
    fade: fade * usual,
  };
  await parallelFor(copyBand, job, Math.ceil(height / band), context, 'Copying patches');
  return job.full;
}

/** Rows that a thread takes at a time. */
const band = 64;

interface CopyJob {
  picture: Picture;
  /** Where each pixel copies from, or −1. */
  from: Int32Array;
  /** The membrane, which the copies are laid into. */
  full: Picture;
  gain: number;
  /** Distance to the rim at the ladder's last step, px of it. */
  away: Plane;
  /** See `shiftsOf`; both in that box of the last step. */
  near: Plane[];
  far: Plane[];
  box: { x: number; y: number };
  turning: number;
  fade: number;
}

/** Copies into one band of rows after the other. */
export const copyBand: Kernel<CopyJob> = {
  name: 'copyBand',
  begin: (job) => (part) => {
    const { picture, from, full, gain, away, near, far, box } = job;
    const { width, height } = picture;
    const scale = width / away.width;
    const colours = [picture.r, picture.g, picture.b];
    const lights = [full.r, full.g, full.b];
    for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
      const sy = ((y + 0.5) * away.height) / height - 0.5;
      for (let x = 0; x < width; x++, p++) {
        const q = from[p];
        if (q < 0) continue;
        const sx = ((x + 0.5) * away.width) / width - 0.5;
        const depth = sampleAt(away, sx, sy) * scale;
        const [bx, by] = [sx - box.x, sy - box.y];
        const rim = Math.exp(-depth / job.turning);
        const texture = Math.min(1, depth / job.fade);
        for (let c = 0; c < 3; c++) {
          const shift = rim * sampleAt(near[c], bx, by) + (1 - rim) * sampleAt(far[c], bx, by);
          const code = gain * encodedQuickly(colours[c][q]) + shift;
          const light = lights[c];
          light[p] += texture * (code <= 0 ? -light[p] : decodedQuickly(Math.min(1.2, code)) - light[p]);
        }
      }
    }
  },
};

/** What is added to the copied, strengthened codes so that their broad part moves towards the membrane's; one plane a channel. */
function shiftsOf({ box, colour, open, width }: PatchLevel, guess: Picture, gain: number, { broad, share }: typeof atRim): Plane[] {
  const size = { width: box.width, height: box.height };
  const inBox = (make: (p: number) => number): Plane => {
    const out = makePlane(size.width, size.height);
    for (let y = 0, k = 0; y < size.height; y++) {
      for (let p = (y + box.y) * width + box.x, end = p + size.width; p < end; p++, k++) out.data[k] = open[p] ? make(p) : 0;
    }
    return gaussian(out, broad);
  };
  const total = inBox(() => 1).data;
  return (['r', 'g', 'b'] as const).map((c) => {
    // All of it is linear, so the difference is smoothed at once.
    const shift = inBox((p) => {
      const v = encodedQuickly(colour[c][p]);
      return (1 - gain) * v + share * (encodedQuickly(guess[c][p]) - v);
    });
    for (let k = 0; k < total.length; k++) shift.data[k] /= Math.max(1e-4, total[k]);
    return shift;
  });
}

/** Where each invented pixel copies from, at the picture's own size: by the shift chosen at the smaller one, else a neighbour's. */
async function sourcesAt(hole: Plane, allowed: Plane, copied: Copied, context: Context): Promise<Int32Array> {
  const { width, height } = hole;
  const job: SourceJob = {
    ...{ width, height, copied },
    role: sharedBytes(width * height, context),
    from: sharedNumbers(width * height, context).fill(-1),
  };
  for (let p = 0; p < job.role.length; p++) {
    if (hole.data[p] >= inventedFrom) job.role[p] = invented;
    else if (hole.data[p] < shut && allowed.data[p] > 0.5) job.role[p] = source;
  }
  await parallelFor(sourceBand, job, Math.ceil(height / band), context);
  return job.from;
}

const invented = 1;
const source = 2;

interface SourceJob {
  width: number;
  height: number;
  copied: Copied;
  /** What is invented and what may be copied. */
  role: Uint8Array;
  from: Int32Array;
}

/** Finds the sources of one band of rows after the other. */
export const sourceBand: Kernel<SourceJob> = {
  name: 'sourceBand',
  begin({ width, height, copied, role, from }) {
    const size = { width, height };
    const isSource = (p: number): boolean => role[p] === source;
    return (part) => {
      for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
        for (let x = 0; x < width; x++, p++) {
          if (role[p] === invented) from[p] = carriedSource(x, y, size, copied, isSource, nearby);
        }
      }
    };
  },
};

/** How much the copied texture must be strengthened to have the surroundings' energy of slopes. */
function contrast(picture: Picture, from: Int32Array, last: PatchLevel, scale: number): number {
  const { width, height, g } = picture;
  const near = distanceTo(last.open, last.width, last.height);
  const copiedEnergy = { sum: 0, count: 0 };
  const aroundEnergy = { sum: 0, count: 0 };
  for (let y = 0; y + 1 < height; y += 2) {
    for (let x = 0; x + 1 < width; x++) {
      const p = y * width + x;
      const inHole = from[p] >= 0 && from[p + 1] >= 0 && from[p + width] >= 0;
      if (!inHole) {
        const distance =
          near.data[Math.min(last.height - 1, Math.floor(y / scale)) * last.width + Math.min(last.width - 1, Math.floor(x / scale))];
        if (from[p] >= 0 || distance * scale > surroundings || distance < 2) continue;
      }
      const v = encodedQuickly(g[inHole ? from[p] : p]);
      const right = encodedQuickly(g[inHole ? from[p + 1] : p + 1]);
      const below = encodedQuickly(g[inHole ? from[p + width] : p + width]);
      const energy = inHole ? copiedEnergy : aroundEnergy;
      energy.sum += (right - v) ** 2 + (below - v) ** 2;
      energy.count++;
    }
  }
  if (copiedEnergy.sum === 0 || aroundEnergy.count === 0) return 1;
  const ratio = aroundEnergy.sum / aroundEnergy.count / (copiedEnergy.sum / copiedEnergy.count);
  return Math.min(strongest, Math.max(1 / strongest, Math.sqrt(ratio)));
}

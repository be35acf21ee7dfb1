import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import type { Context } from '../runtime/context';
import { sharedBytes, sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import { boxAround, coloursIn, planeIn, withColoursIn } from '../raster/box';
import { assertSameSize, seenPicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { halveHoled, resizeHoled, scaledSize, type Holed } from '../raster/resize';
import { membraneFill, settle, shut } from './membrane';

/** Longest side, px, at which the layering is measured: what counts are whole things, not their texture. */
const measuredAt = 60;
/** The layering is taken for no stronger than this. */
const strongest = 4;
/** Longest side, px, at which the membrane is stretched; what is finer settles in a few sweeps at every doubling. */
const stretchedAt = 450;
/** The same where patches will be laid over it. */
const workSide = 900;
const sweeps = 4;

/**
 * How much farther things reach sideways than upwards, from what is seen: the squared ratio of brightness steps down and across
 * at 60 px. 1 when neither leads; a quay with boats behind it has about 2, an evening sky about 4.
 */
export function layering(picture: Picture, hole: Plane): number {
  const longest = Math.max(picture.width, picture.height);
  const { width, height } = scaledSize(picture.width, picture.height, Math.min(1, measuredAt / longest));
  const small = resizeHoled({ picture, hole }, width, height);
  const { r, g, b } = small.picture;
  const seen = (p: number): boolean => small.hole.data[p] < 0.5;
  const light = r.map((_, p) => encodedQuickly(luminance(r[p], g[p], b[p])));
  let [across, down] = [1e-6, 1e-6];
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const p = y * width + x;
      if (!seen(p) || !seen(p + 1) || !seen(p + width)) continue;
      across += Math.abs(light[p + 1] - light[p]);
      down += Math.abs(light[p + width] - light[p]);
    }
  }
  return Math.min(strongest, Math.max(1 / strongest, (down / across) ** 2));
}

/**
 * The smooth fill: a membrane over the hole's rim, see `membraneFill`, stretched at 450 px at most and settled at every doubling from
 * there. Where nothing is invented the picture is kept to the bit.
 *
 * @param hole 0 (keep) to 1 (invent)
 * @throws RangeError when sizes differ; AbortError
 */
export async function smoothFill(picture: Picture, hole: Plane, context: Context): Promise<Picture> {
  assertSameSize(picture, hole, 'smooth fill');
  const halvings = Math.ceil(Math.log2(Math.max(picture.width, picture.height) / stretchedAt));
  if (halvings <= 0) return membraneFill(picture, hole, context);
  // Only the hole and what is around it counts.
  const box = boxAround(hole, shut, 4 * 2 ** halvings);
  if (!box) return { width: picture.width, height: picture.height, r: picture.r, g: picture.g, b: picture.b };
  const sizes: Holed[] = [{ picture: coloursIn(picture, box), hole: planeIn(hole, box) }];
  while (sizes.length <= halvings) sizes.unshift(halveHoled(sizes[0]));
  let filled = await membraneFill(sizes[0].picture, sizes[0].hole, context, 4 ** halvings);
  for (let i = 1; i <= halvings; i++) filled = await enlarged(filled, sizes[i], [2, 2], 4 ** (halvings - i), context);
  return withColoursIn(withOpacity(picture), box, filled);
}

/** A guess at what the hole holds: see `layeredFill`. */
export interface LayeredGuess {
  /** The picture and its hole at 900 px at most, and there with the guess in it. */
  small: Holed;
  guess: Picture;
  /** The same at the picture's own size. */
  full: Picture;
}

/**
 * The smooth fill, stiffer along the layers of the scene than across them, see `layering`: what lies to the left and right of the
 * hole counts more than what lies above and below, or the other way round. The membrane is stretched over the picture squeezed.
 *
 * @param hole 0 (keep) to 1 (invent)
 * @throws RangeError when sizes differ; AbortError
 */
export async function layeredFill(picture: Picture, hole: Plane, context: Context): Promise<LayeredGuess> {
  assertSameSize(picture, hole, 'smooth fill');
  const small = atWorkSize({ picture, hole });
  const { width, height } = small.picture;
  const factor = layering(small.picture, small.hole);
  const squeezed = resizeHoled(
    small,
    Math.max(1, Math.round(width / Math.max(1, factor))),
    Math.max(1, Math.round(height * Math.min(1, factor))),
  );
  const filled = await membraneFill(squeezed.picture, squeezed.hole, context, (picture.width / width) ** 2);
  const laidInto = (to: Holed): Promise<Picture> =>
    enlarged(filled, to, [to.picture.width / filled.width, to.picture.height / filled.height], 1, context);
  const guess = await laidInto(small);
  return { small, guess, full: width === picture.width && height === picture.height ? guess : await laidInto({ picture, hole }) };
}

function atWorkSize(holed: Holed): Holed {
  const { width, height } = holed.picture;
  const size = scaledSize(width, height, Math.min(1, workSide / Math.max(width, height)));
  let near = holed;
  while (near.picture.width >= 3 * size.width) near = halveHoled(near);
  return resizeHoled(near, size.width, size.height);
}

/**
 * A smaller or squeezed picture's membrane in the hole of a larger one, bilinear, and settled.
 *
 * @param steps pixels of the larger one in one of the smaller, across and down
 * @param strength see `membraneFill`
 */
async function enlarged(
  filled: Picture,
  { picture, hole }: Holed,
  [stepX, stepY]: readonly [number, number],
  strength: number,
  context: Context,
): Promise<Picture> {
  const { width, height } = picture;
  const out: Picture = { width, height, r: ownCopy(picture.r, context), g: ownCopy(picture.g, context), b: ownCopy(picture.b, context) };
  const job: StretchJob = {
    filled: await seenPicture(filled, context),
    open: sharedBytes(width * height, context),
    ...{ out, stepX, stepY },
  };
  for (let p = 0; p < job.open.length; p++) if (hole.data[p] >= shut) job.open[p] = 1;
  await parallelFor(stretchBand, job, Math.ceil(height / band), context);
  await settle(out, picture, hole, { sweeps, strength }, context);
  return out;
}

function ownCopy(data: Float32Array, context: Context): Float32Array {
  const out = sharedFloats(data.length, context);
  out.set(data);
  return out;
}

interface StretchJob {
  filled: Picture;
  /** 1 in the hole. */
  open: Uint8Array;
  out: Picture;
  stepX: number;
  stepY: number;
}

/** Rows that a thread takes at a time. */
const band = 64;

/** Stretches a membrane into the hole of a larger picture, band by band. */
export const stretchBand: Kernel<StretchJob> = {
  name: 'stretchBand',
  begin:
    ({ filled, open, out, stepX, stepY }) =>
    (part) => {
      const { width, height } = out;
      const { r, g, b } = filled;
      const last = { x: filled.width - 1, y: filled.height - 1 };
      for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
        const sy = Math.min(last.y, Math.max(0, (y + 0.5) / stepY - 0.5));
        const top = Math.floor(sy);
        const v = sy - top;
        const row = top * filled.width;
        const down = top < last.y ? filled.width : 0;
        for (let x = 0; x < width; x++, p++) {
          if (open[p] === 0) continue;
          const sx = Math.min(last.x, Math.max(0, (x + 0.5) / stepX - 0.5));
          const left = Math.floor(sx);
          const u = sx - left;
          const q = row + left;
          const right = left < last.x ? 1 : 0;
          const a = (1 - u) * (1 - v);
          const e = u * (1 - v);
          const c = (1 - u) * v;
          const d = u * v;
          out.r[p] = a * r[q] + e * r[q + right] + c * r[q + down] + d * r[q + down + right];
          out.g[p] = a * g[q] + e * g[q + right] + c * g[q + down] + d * g[q + down + right];
          out.b[p] = a * b[q] + e * b[q + right] + c * b[q + down] + d * b[q + down + right];
        }
      }
    },
};

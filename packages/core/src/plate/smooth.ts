import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import type { Context } from '../context/context';
import { boxAround, coloursIn, planeIn, withColoursIn } from '../raster/box';
import { assertSameSize, planesOf, withOpacity, type Picture, type Plane } from '../raster/plane';
import { resizeHoled, scaledSize, type Holed } from '../raster/resize';
import { sampleAt } from '../raster/sample';
import { membraneFill, settle, shut } from './membrane';

/** Longest side, px, at which the layering is measured: what counts are whole things, not their texture. */
const measuredAt = 60;
/** The layering is taken for no stronger than this. */
const strongest = 4;
/** Longest side, px, at which the membrane is stretched; what is finer settles in a few sweeps at full size. */
const workSide = 900;
const sweeps = 6;

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
 * The smooth fill: a membrane over the hole's rim, see `membraneFill`, stretched at 900 px at most and settled at full size. Where
 * nothing is invented the picture is kept to the bit.
 *
 * @param hole 0 (keep) to 1 (invent)
 * @throws RangeError when sizes differ; AbortError
 */
export async function smoothFill(picture: Picture, hole: Plane, context: Context): Promise<Picture> {
  assertSameSize(picture, hole, 'smooth fill');
  const ratio = workSide / Math.max(picture.width, picture.height);
  if (ratio >= 1) return membraneFill(picture, hole, context);
  // Only the hole and what is around it counts.
  const box = boxAround(hole, shut, Math.ceil(4 / ratio));
  if (!box) return { width: picture.width, height: picture.height, r: picture.r, g: picture.g, b: picture.b };
  const part: Holed = { picture: coloursIn(picture, box), hole: planeIn(hole, box) };
  const [width, height] = [box.width, box.height].map((v) => Math.max(1, Math.round(v * ratio)));
  const small = resizeHoled(part, width, height);
  const filled = await membraneFill(small.picture, small.hole, context, 1 / ratio ** 2);
  return withColoursIn(withOpacity(picture), box, await enlarged(filled, part, context));
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
  const guess = await enlarged(filled, small, context);
  return { small, guess, full: width === picture.width ? guess : await enlarged(filled, { picture, hole }, context) };
}

function atWorkSize(holed: Holed): Holed {
  const { width, height } = holed.picture;
  const size = scaledSize(width, height, Math.min(1, workSide / Math.max(width, height)));
  return resizeHoled(holed, size.width, size.height);
}

/** A smaller or squeezed picture's membrane in the hole of a larger one. */
async function enlarged(filled: Picture, { picture, hole }: Holed, context: Context): Promise<Picture> {
  const { width, height } = picture;
  const planes = planesOf(filled);
  const out = { width, height, r: picture.r.slice(), g: picture.g.slice(), b: picture.b.slice() };
  const channels = [out.r, out.g, out.b];
  for (let y = 0, p = 0; y < height; y++) {
    const sy = ((y + 0.5) * filled.height) / height - 0.5;
    for (let x = 0; x < width; x++, p++) {
      if (hole.data[p] < shut) continue;
      const sx = ((x + 0.5) * filled.width) / width - 0.5;
      for (let c = 0; c < 3; c++) channels[c][p] = sampleAt(planes[c], sx, sy);
    }
  }
  await settle(out, picture, hole, sweeps, context);
  return out;
}

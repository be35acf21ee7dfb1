import type { Triple } from '../colour/oklab';
import { inArenaNow } from '../runtime/arena';
import type { Context } from '../runtime/context';
import { parallelFor, sharedFloats, sharedNumbers, type Kernel } from '../runtime/parallelFor';
import { seenPicture, withOpacity, type Picture } from '../raster/plane';
import { mapped, type Projective } from './projective';

/** A picture brought to where another one looks. */
export interface Brought {
  picture: Picture;
  /** The pixel of the given picture that is nearest to each place, −1 where it does not reach. */
  nearest: Int32Array;
}

interface BringJob {
  from: Picture;
  map: Projective;
  gain: Triple;
  margin: number;
  to: Brought;
}

/** Rows that a thread takes at a time. */
const band = 32;
/** How far from its place a sample looks, px. */
const reach = 6;

/** Brings a band of rows. */
export const bringBand: Kernel<BringJob> = {
  name: 'bringBand',
  begin({ from, map, gain, margin, to: { picture, nearest } }) {
    const planes = [from.r, from.g, from.b];
    return (part) => {
      const { width } = picture;
      const [first, end] = [part * band, Math.min(picture.height, (part + 1) * band)];
      const [top, bottom] = rowsUnder(map, width, first, end, from.height);
      inArenaNow((arena) => {
        const each = width * (end - first);
        const rows = arena.alloc(4 * 3 * from.width * (bottom - top));
        planes.forEach((plane, c) => {
          arena.set(rows + 4 * c * from.width * (bottom - top), plane.subarray(top * from.width, bottom * from.width));
        });
        const [mapAt, weights, gainAt] = arena.copiesIn(Float64Array.from(map), sincWeights, Float64Array.from(gain));
        const [out, near] = arena.allocs(4 * 3 * each, 4 * each);
        const size = [from.width, from.height, top, bottom - top] as const;
        arena.run.bringRows(width, first, end, mapAt, ...size, rows, weights, gainAt, margin, out, near);
        [picture.r, picture.g, picture.b].forEach((plane, c) =>
          arena.copyOut(out + 4 * c * each, plane.subarray(first * width, end * width)),
        );
        arena.copyOut(near, nearest.subarray(first * width, end * width));
      });
    };
  },
};

/** The rows of a picture that some rows of another are made of: those under its corners, as a map keeps lines; all where it folds. */
function rowsUnder(map: Projective, width: number, first: number, end: number, height: number): [number, number] {
  const corners = [0, width - 1].flatMap((x) =>
    [first, end - 1].map((y) => ({ y: mapped(map, x, y)[1], w: map[6] * x + map[7] * y + map[8] })),
  );
  if (corners.some(({ y, w }) => !Number.isFinite(y) || w * corners[0].w <= 0)) return [0, height];
  const places = corners.map(({ y }) => Math.min(height - 1, Math.max(0, y)));
  return [Math.max(0, Math.floor(Math.min(...places)) - reach), Math.min(height, Math.ceil(Math.max(...places)) + reach + 1)];
}

/**
 * A picture brought to where another looks, with its sharpness kept: a sinc under a wider one (Duchon 1979) over ten by ten pixels,
 * borders repeated.
 *
 * @param map from a pixel of what is made to a place in the picture, px
 * @param gain factor of each channel
 * @param size of what is made
 * @param margin how far beyond its outermost pixels' middles the picture is said to reach, px
 * @throws AbortError
 */
export async function broughtTo(
  from: Picture,
  map: Projective,
  gain: Triple,
  { width, height }: { width: number; height: number },
  context: Context,
  margin = 0.5,
): Promise<Brought> {
  const [r, g, b] = [0, 1, 2].map(() => sharedFloats(width * height, context));
  const to: Brought = { picture: { width, height, r, g, b }, nearest: sharedNumbers(width * height, context) };
  const seen = await seenPicture(withOpacity(from), context);
  await parallelFor(bringBand, { from: seen, map, gain, margin, to }, Math.ceil(height / band), context, 'Aligning the plate');
  return to;
}

/** Samples along each axis that make one, how many of them lie before the place but for the nearest, and room for their weights. */
const taps = 10;
const before = taps / 2 - 1;
const pitch = 12;
/** Steps between two pixels for which weights are kept. */
const phases = 512;

/** Weights of the samples for places between the middle two, of sum 1. */
const sincWeights = Float32Array.from({ length: pitch * (phases + 1) }, (_, i) => {
  const t = Math.floor(i / pitch) / phases;
  const lobe = (k: number): number => {
    const x = Math.PI * (t - k);
    return Math.abs(x) < 1e-9 ? 1 : ((taps / 2) * Math.sin(x) * Math.sin((2 * x) / taps)) / (x * x);
  };
  const sum = Array.from({ length: taps }, (_k, k) => lobe(k - before)).reduce((s, v) => s + v, 0);
  return i % pitch < taps ? lobe((i % pitch) - before) / sum : 0;
});

import * as v from 'valibot';

/** No place or length in a recipe is farther than this, px or metres: larger is a damaged number. */
const farthest = 1e6;

/** Values that recipes are made of. */
export const length = v.pipe(v.number(), v.minValue(-farthest), v.maxValue(farthest));
export const share = v.pipe(v.number(), v.minValue(0), v.maxValue(1));
export const positive = v.pipe(v.number(), v.gtValue(0), v.maxValue(farthest));
export const identifier = v.pipe(v.string(), v.minLength(1), v.maxLength(100));

export const radius = v.pipe(v.number(), v.finite(), v.gtValue(0), v.maxValue(5000));
export const pathSchema = v.pipe(
  v.array(v.union([v.strictTuple([length, length]), v.strictTuple([length, length, share])])),
  v.minLength(1),
  v.maxLength(100_000),
);

export const sizeSchema = v.pipe(positive, v.minValue(0.05), v.maxValue(20));
export const hexSchema = v.pipe(v.string(), v.regex(/^#[0-9a-fA-F]{6}$/, 'a colour is #rrggbb'));
export const pointSchema = v.strictTuple([length, length]);

export const between = (least: number, most: number): typeof length =>
  v.pipe(length, v.minValue(least), v.maxValue(most)) as unknown as typeof length;

/** A drawn region: all that its points go around, or a stroke of a width. */
export const regionSchema = v.object({ radius, points: pathSchema, filled: v.optional(v.boolean()) });

/** As large as pictures are read. */
export const wholeSize = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(30_000));

import * as v from 'valibot';
import { blendModes } from '../stage/blend';
import { noWash } from '../grade/vignette';
import { dressSchema, limitSchema, unlimited, washSchema } from './grades';
import { between, hexSchema, identifier, length, pathSchema, pointSchema, positive, radius, regionSchema, share } from './values';

const distance = v.pipe(positive, v.maxValue(10000));

const placementSchema = v.object({
  x: length,
  y: length,
  scale: v.pipe(positive, v.minValue(0.02), v.maxValue(20)),
  stretch: v.pipe(positive, v.minValue(0.1), v.maxValue(10)),
  turn: between(-360, 360),
  flip: v.boolean(),
});

const distancesSchema = v.object({
  ground: v.nullable(
    v.pipe(
      v.object({ line: length, horizon: length, distance }),
      v.check((g) => g.line > g.horizon, 'the ground line lies below the horizon'),
    ),
  ),
  lean: v.object({ across: length, down: length }),
  map: v.nullable(v.object({ picture: identifier, reading: v.picklist(['metres', 'nearness']), near: distance, far: distance })),
  pegs: v.pipe(v.array(v.object({ x: length, y: length, distance })), v.maxLength(60)),
  between: v.picklist(['smooth', 'edges']),
  painted: v.array(v.object({ distance, radius, hardness: share, opacity: share, points: pathSchema })),
  standing: v.optional(v.pipe(v.array(regionSchema), v.maxLength(40)), []),
});

const lampsSchema = v.object({
  from: between(20, 100),
  to: v.optional(between(20, 100), 100),
  least: between(0, 1000),
  size: between(1, 1000),
  lift: v.union([v.literal('auto'), between(0, 12)]),
  colour: between(0, 3),
  dropped: v.array(pointSchema),
  set: v.array(v.object({ x: length, y: length, size: positive, colour: hexSchema, softness: share, lift: between(-4, 12) })),
  areas: v.optional(
    v.pipe(v.array(v.object({ region: regionSchema, size: between(1, 1000), density: share, lift: between(-4, 12) })), v.maxLength(20)),
    [],
  ),
});

/** What every card has. */
const standing = {
  id: identifier,
  /** Its name on the bench; empty: what it is. */
  name: v.pipe(v.string(), v.maxLength(100)),
  distance,
  placement: placementSchema,
  opacity: share,
  blend: v.picklist(blendModes),
  hidden: v.boolean(),
  locked: v.boolean(),
  /** Diameter of its own blur disc, px of the full-size picture, whatever the lens does; nothing follows the lens. */
  blur: v.nullable(between(0, 1000)),
  /** A straight band of it that stays sharp, blurred beyond; nothing follows `blur`, or the lens. */
  band: v.optional(
    v.nullable(
      v.object({
        x: length,
        y: length,
        turn: between(-180, 180),
        sharp: between(0, 20000),
        soft: between(0, 20000),
        blur: between(0, 1000),
      }),
    ),
    null,
  ),
  /** Where its blur has its full strength: a graduation, strokes, a kept matte; nothing of them: everywhere. */
  blurLimit: v.optional(limitSchema, unlimited),
  /** A tint of its own. */
  wash: v.optional(washSchema, noWash),
  ...dressSchema,
  distances: distancesSchema,
};

export const cardSchema = v.variant('kind', [
  v.object({ kind: v.literal('plate'), subject: identifier, lamps: lampsSchema, ...standing }),
  /** `matte`: a kept matte that cuts it. */
  v.object({ kind: v.literal('picture'), picture: identifier, matte: v.nullable(identifier), lamps: lampsSchema, ...standing }),
  v.object({ kind: v.literal('subject'), subject: identifier, ...standing }),
  v.object({
    kind: v.literal('lettering'),
    text: v.pipe(v.string(), v.maxLength(500)),
    font: identifier,
    size: v.pipe(positive, v.maxValue(10000)),
    /** Room added between letters, in heights of the type. */
    spacing: between(-0.3, 3),
    colour: hexSchema,
    ...standing,
  }),
  v.object({ kind: v.literal('glow'), size: v.pipe(positive, v.maxValue(100000)), colour: hexSchema, lift: between(-6, 8), ...standing }),
]);

export const lensSchema = v.object({
  focalLength: v.pipe(positive, v.maxValue(2000)),
  sensorWidth: v.pipe(positive, v.maxValue(200)),
  fNumber: v.pipe(positive, v.minValue(0.5), v.maxValue(1000)),
  focus: distance,
  /** Full-size pixels that would fill the sensor's width. */
  across: positive,
  aperture: v.object({
    shape: v.picklist(['disc', 'blades', 'soft']),
    blades: v.pipe(v.number(), v.integer(), v.minValue(3), v.maxValue(16)),
    roundness: share,
    turn: between(-360, 360),
    cornerCut: share,
    squeeze: between(0.4, 1),
    rim: between(-1, 1),
  }),
});

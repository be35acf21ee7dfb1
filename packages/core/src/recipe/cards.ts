import * as v from 'valibot';
import { blendModes } from '../placement/blend';
import { noWash } from '../grade/vignette';
import { adjustmentsSchema, limitSchema, unlimited, washSchema } from './grades';
import { held } from './parameters';
import { hexSchema, identifier, length, pathSchema, pointSchema, positive, radius, regionSchema, share } from './values';

const distance = held('card.distance');

const placementSchema = v.object({
  x: held('placement.x'),
  y: held('placement.y'),
  scale: held('placement.scale'),
  stretch: held('placement.stretch'),
  turn: held('placement.turn'),
  flip: v.boolean(),
});

const distancesSchema = v.object({
  ground: v.nullable(
    v.pipe(
      v.object({ line: length, horizon: length, distance }),
      v.check((g) => g.line > g.horizon, 'the ground line lies below the horizon'),
    ),
  ),
  lean: v.object({ across: held('lean.across'), down: held('lean.down') }),
  map: v.nullable(v.object({ picture: identifier, reading: v.picklist(['metres', 'nearness']), near: distance, far: distance })),
  pegs: v.pipe(v.array(v.object({ x: length, y: length, distance })), v.maxLength(60)),
  between: v.picklist(['smooth', 'edges']),
  painted: v.array(v.object({ distance, radius, hardness: share, opacity: share, points: pathSchema })),
  standing: v.optional(v.pipe(v.array(regionSchema), v.maxLength(40)), []),
});

const lampsSchema = v.object({
  from: held('lamps.from'),
  to: v.optional(held('lamps.to'), 100),
  least: held('lamps.least'),
  size: held('lamps.size'),
  lift: v.union([v.literal('auto'), held('lamps.lift')]),
  colour: held('lamps.colour'),
  dropped: v.array(pointSchema),
  set: v.array(v.object({ x: length, y: length, size: held('lamp.size'), colour: hexSchema, softness: share, lift: held('lamp.lift') })),
  areas: v.optional(
    v.pipe(
      v.array(v.object({ region: regionSchema, size: held('area.size'), density: held('area.density'), lift: held('area.lift') })),
      v.maxLength(20),
    ),
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
  opacity: held('card.opacity'),
  blend: v.picklist(blendModes),
  hidden: v.boolean(),
  locked: v.boolean(),
  /** Diameter of its own blur disc, px of the full-size picture, whatever the lens does; nothing follows the lens. */
  blur: v.nullable(held('card.blur')),
  /** A straight band of it that stays sharp, blurred beyond; nothing follows `blur`, or the lens. */
  band: v.optional(
    v.nullable(
      v.object({
        x: held('band.x'),
        y: held('band.y'),
        turn: held('band.turn'),
        sharp: held('band.sharp'),
        soft: held('band.soft'),
        blur: held('band.blur'),
      }),
    ),
    null,
  ),
  /** Where its blur has its full strength: a graduation, strokes, a kept matte; nothing of them: everywhere. */
  blurLimit: v.optional(limitSchema, unlimited),
  /** A tint of its own. */
  wash: v.optional(washSchema, noWash),
  ...adjustmentsSchema,
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
    size: held('lettering.size'),
    /** Room added between letters, in heights of the type. */
    spacing: held('lettering.spacing'),
    colour: hexSchema,
    ...standing,
  }),
  v.object({ kind: v.literal('glow'), size: held('glow.size'), colour: hexSchema, lift: held('glow.lift'), ...standing }),
]);

export const lensSchema = v.object({
  focalLength: held('lens.focalLength'),
  sensorWidth: held('lens.sensorWidth'),
  fNumber: held('lens.fNumber'),
  focus: held('lens.focus'),
  /** Full-size pixels that would fill the sensor's width. */
  across: positive,
  aperture: v.object({
    shape: v.picklist(['disc', 'blades', 'soft']),
    blades: v.pipe(held('aperture.blades'), v.integer()),
    roundness: held('aperture.roundness'),
    turn: held('aperture.turn'),
    cornerCut: held('aperture.cornerCut'),
    squeeze: held('aperture.squeeze'),
    rim: held('aperture.rim'),
  }),
});

import * as v from 'valibot';
import { held } from './parameters';
import { between, hexSchema, identifier, length, wholeSize } from './values';

/** Most frames of a clip, and of a job: an hour at 60 a second is more than any browser holds. */
const mostFrames = 216_000;

const frameNumber = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(mostFrames));

/** Frames a second, as a fraction: 30000 frames in 1001 seconds. */
const rateSchema = v.pipe(
  v.object({
    frames: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_000_000)),
    seconds: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_000_000)),
  }),
  v.check((r) => r.frames / r.seconds <= 240 && r.frames / r.seconds >= 0.1, 'a rate lies between 0.1 and 240 frames a second'),
);

/** A picture source with frames. */
export const clipSchema = v.object({
  id: identifier,
  name: v.pipe(v.string(), v.maxLength(200)),
  /** Of each frame, px. */
  size: v.object({ width: wholeSize, height: wholeSize }),
  rate: rateSchema,
  /** How many frames it has. */
  count: v.pipe(frameNumber, v.minValue(1)),
  /** A picture a frame, or one video file that holds them all. */
  from: v.variant('kind', [
    v.object({ kind: v.literal('pictures'), pictures: v.pipe(v.array(identifier), v.minLength(1)) }),
    v.object({ kind: v.literal('video'), file: identifier }),
  ]),
  /** A file with its sound, which begins with its first frame; nothing when it has none. */
  sound: v.nullable(identifier),
  /** Frame of the job at which its first frame is seen. */
  offset: between(-mostFrames, mostFrames),
  /** Its own frames a frame of the job. */
  speed: between(0.01, 100),
  /** What is seen beyond its ends: the first or last frame, or it begins again. */
  beyond: v.picklist(['hold', 'loop']),
});

/** How long the job lasts. */
export const timeSchema = v.pipe(
  v.object({
    rate: rateSchema,
    /** First and last frame that leave the house. */
    first: frameNumber,
    last: frameNumber,
    /** How long the shutter is open, degrees of a whole turn: 0 gives no motion blur. */
    shutter: held('time.shutter'),
  }),
  v.check((t) => t.last >= t.first, 'the last frame does not come before the first'),
);

/** A number or a colour of the recipe that changes over time. */
export const keyedSchema = v.object({
  /** Where it stands in the recipe: names with dots between them, things of a list by their identifier. */
  of: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
  /** By frame, ascending; before the first and after the last it stays. `ease`: how it goes on from here. */
  points: v.pipe(
    v.array(
      v.object({ frame: between(0, mostFrames), value: v.union([length, hexSchema]), ease: v.picklist(['hold', 'straight', 'smooth']) }),
    ),
    v.minLength(1),
    v.maxLength(2000),
    v.check((points) => points.every((p, i) => i === 0 || p.frame > points[i - 1].frame), 'points go on in time, one a frame'),
  ),
});

/** Where the camera is and how it is turned, from where and how the pictures were taken. Recipes from before it could turn know no turn. */
export const cameraSchema = v.object({
  x: held('camera.x'),
  y: held('camera.y'),
  z: held('camera.z'),
  pan: v.optional(held('camera.pan'), 0),
  tilt: v.optional(held('camera.tilt'), 0),
  roll: v.optional(held('camera.roll'), 0),
});

export type ClipRecipe = v.InferOutput<typeof clipSchema>;
export type Keyed = v.InferOutput<typeof keyedSchema>;
export type KeyPoint = Keyed['points'][number];
export type Camera = v.InferOutput<typeof cameraSchema>;

/** The camera where the pictures were taken. */
export const restingCamera: Camera = { x: 0, y: 0, z: 0, pan: 0, tilt: 0, roll: 0 };

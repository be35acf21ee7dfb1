import * as v from 'valibot';
import { roundAperture } from '../lens/aperture';
import { lampsFor } from '../lens/lamps';
import { noTrim } from '../matte/edit/trim';
import { cardSchema, lensSchema } from './cards';
import { finishSchema, matchSchema, defaultFinish, defaultMatch } from './grades';
import { held } from './parameters';
import { canBeKeyed, type Follows } from './moment';
import { newPlate, defaultCard, defaultCut } from './defaults';
import { cameraSchema, clipSchema, keyedSchema, restingCamera, timeSchema, type ClipRecipe } from './time';
import { upgraded } from './upgrade';
import {
  hexSchema,
  identifier,
  length,
  pathSchema,
  pointSchema,
  positive,
  radius,
  regionSchema,
  share,
  sizeSchema,
  wholeSize,
} from './values';

/** Version of the recipe written by this program; older ones are brought up to it by `readRecipe`. */
export const recipeVersion = 5;

/** The frame of the shot's clip that something is drawn on; the first when it is left out. */
const frameOfClip = v.optional(v.pipe(v.number(), v.integer(), v.minValue(0)));
/** From which to which frame of the shot's clip it holds; always when it is left out. */
const overFrames = {
  clears: v.optional(v.boolean()),
  frames: v.optional(v.strictTuple([v.pipe(v.number(), v.integer()), v.pipe(v.number(), v.integer())])),
};

export const markSchema = v.object({
  kind: v.picklist(['inside', 'outside', 'edge', 'loop', 'trace']),
  radius,
  points: pathSchema,
  filled: v.optional(v.boolean()),
  anchors: v.optional(v.array(v.pipe(v.number(), v.integer(), v.minValue(0)))),
  frame: frameOfClip,
});

export const shapeSchema = v.variant('kind', [
  v.object({ kind: v.picklist(['rectangle', 'ellipse']), x: length, y: length, width: positive, height: positive, ...overFrames }),
  v.object({ kind: v.literal('polygon'), points: v.pipe(v.array(pointSchema), v.minLength(3)), ...overFrames }),
]);

const handSchema = v.object({
  tip: v.picklist(['opaque', 'clear', 'soften']),
  radius,
  hardness: share,
  opacity: share,
  points: pathSchema,
  frame: frameOfClip,
});

const screenSchema = v.object({
  /** `auto`, or #rrggbb. */
  colour: v.pipe(v.string(), v.regex(/^(auto|#[0-9a-fA-F]{6})$/, 'a colour is auto or #rrggbb')),
  clear: held('screen.clear'),
  opaque: held('screen.opaque'),
  spill: held('screen.spill'),
});

const differenceSchema = v.object({
  /** A photograph of the scene without the subject, or nothing yet. */
  plate: v.nullable(identifier),
  threshold: held('difference.threshold'),
});

/** A matte kept under a name: a grey picture among the job's pictures. */
const keptMatteSchema = v.object({ id: identifier, name: v.pipe(v.string(), v.minLength(1), v.maxLength(100)), picture: identifier });

const trimSchema = v.object({
  shift: held('trim.shift'),
  feather: held('trim.feather'),
  firmness: held('trim.firmness'),
  specks: held('trim.specks'),
});

const triesSchema = { tries: v.pipe(v.number(), v.integer(), v.minValue(1)), taken: v.pipe(v.number(), v.integer(), v.minValue(1)) };

const fillSchema = v.variant('kind', [
  /** 'frames': what other frames of the clip show. */
  v.object({ kind: v.picklist(['smooth', 'stretch', 'frames']) }),
  v.object({ kind: v.literal('patch'), ...triesSchema }),
  v.object({ kind: v.literal('borrowed'), from: v.array(regionSchema), x: length, y: length, ...triesSchema }),
  v.object({ kind: v.literal('photographed'), picture: v.nullable(identifier) }),
]);

const retouchSchema = v.object({
  tip: v.picklist(['clone', 'heal', 'paint']),
  radius,
  hardness: share,
  opacity: share,
  points: pathSchema,
  source: v.optional(pointSchema),
  flip: v.optional(v.boolean()),
  size: v.optional(sizeSchema),
  colour: v.optional(hexSchema),
});

const plateSchema = v.object({
  grow: v.union([v.literal('auto'), held('plate.grow')]),
  feather: held('plate.feather'),
  /** What is invented as well, or after all not. */
  regions: v.array(v.object({ how: v.picklist(['add', 'take']), region: regionSchema })),
  fill: fillSchema,
  /** Parts of the hole that are filled otherwise. */
  parts: v.array(v.object({ region: regionSchema, fill: fillSchema })),
  moves: v.array(
    v.object({ region: regionSchema, x: held('move.x'), y: held('move.y'), size: held('move.size'), feather: held('move.feather') }),
  ),
  retouch: v.array(retouchSchema),
});

const mostPixels = 150e6;

const subjectSchema = v.object({
  id: identifier,
  /** Picture that holds the subject. */
  shot: identifier,
  /** Its full size, px. */
  size: v.object({ width: wholeSize, height: wholeSize }),
  cut: v.picklist(['marks', 'screen', 'difference']),
  marks: v.array(markSchema),
  screen: screenSchema,
  difference: differenceSchema,
  garbage: v.array(shapeSchema),
  trim: trimSchema,
  hand: v.array(handSchema),
  /** Kept mattes put together with this one, in order. */
  with: v.array(v.object({ matte: identifier, how: v.picklist(['union', 'subtract', 'intersect', 'instead']) })),
  plate: plateSchema,
});

const recipeSchema = v.object({
  version: v.literal(recipeVersion),
  name: v.pipe(v.string(), v.maxLength(200)),
  seed: v.pipe(v.number(), v.integer(), v.minValue(0)),
  /** What of the scene the finished picture shows, px of the full-size shot. */
  frame: v.object({ width: wholeSize, height: wholeSize, x: length, y: length, turn: held('frame.turn') }),
  subjects: v.array(subjectSchema),
  mattes: v.array(keptMatteSchema),
  /** Pictures multiplied by their opacity over a colour, to be made straight. */
  multiplied: v.array(v.object({ picture: identifier, over: hexSchema })),
  /** What stands on the bench, in any order; distance decides what covers what. */
  cards: v.array(cardSchema),
  lens: lensSchema,
  match: matchSchema,
  /** What is done to the finished picture as a whole. */
  finish: finishSchema,
  /** Checks that were looked at and are as they should be, with a word and the figure they had. */
  accepted: v.optional(
    v.pipe(v.array(v.object({ check: identifier, word: v.pipe(v.string(), v.maxLength(200)), figure: v.number() })), v.maxLength(100)),
    [],
  ),
  camera: v.optional(cameraSchema, restingCamera),
  /** How long the job lasts; nothing: it is a still. */
  time: v.optional(v.nullable(timeSchema), null),
  clips: v.optional(v.pipe(v.array(clipSchema), v.maxLength(100)), []),
  /** What of all this changes over time. */
  keys: v.optional(v.pipe(v.array(keyedSchema), v.maxLength(500)), []),
});

/** A subject. Of a recipe with time, its shot may be a clip; of a moment of it, `follows` tells which. */
export type SubjectRecipe = v.InferOutput<typeof subjectSchema> & { follows?: Follows };
/** The whole composite but the pictures, as plain JSON. `moment`: the frame that it is the moment of. */
export type Recipe = Omit<v.InferOutput<typeof recipeSchema>, 'subjects'> & { subjects: SubjectRecipe[]; moment?: number };
export type Card = Recipe['cards'][number];

/** A recipe to begin with: one subject before its own plate, focused on the subject. */
export function newRecipe(name: string, shot: string, width: number, height: number): Recipe {
  return {
    version: recipeVersion,
    name,
    seed: 1,
    frame: { width, height, x: 0, y: 0, turn: 0 },
    subjects: [{ id: 'subject-1', shot, size: { width, height }, marks: [], ...defaultCut, trim: noTrim, plate: newPlate() }],
    mattes: [],
    multiplied: [],
    cards: [
      { id: 'card-background', kind: 'plate', subject: 'subject-1', distance: 20, lamps: lampsFor({ width, height }), ...defaultCard },
      { id: 'card-subject', kind: 'subject', subject: 'subject-1', distance: 3, ...defaultCard },
    ],
    lens: { focalLength: 85, sensorWidth: 36, fNumber: 2.8, focus: 3, across: width, aperture: roundAperture },
    match: defaultMatch,
    finish: defaultFinish,
    accepted: [],
    camera: restingCamera,
    time: null,
    clips: [],
    keys: [],
  };
}

/** A recipe to begin with from a clip: as long as it is, its ground from its own frames. */
export function newClipRecipe(name: string, clip: ClipRecipe): Recipe {
  const { width, height } = clip.size;
  const still = newRecipe(name, clip.id, width, height);
  return {
    ...still,
    time: { rate: clip.rate, first: 0, last: clip.count - 1, shutter: 0 },
    clips: [clip],
    subjects: still.subjects.map((s) => ({ ...s, plate: { ...s.plate, fill: { kind: 'frames' as const } } })),
  };
}

/** A recipe that cannot be used, with a sentence that says why. */
export class RecipeError extends Error {
  override name = 'RecipeError';
}

/**
 * Checks unknown data and brings it up to the current version.
 *
 * @throws RecipeError with the place and what is wrong there
 */
export function readRecipe(data: unknown): Recipe {
  const version = typeof data === 'object' && data !== null ? (data as { version?: unknown }).version : undefined;
  if (typeof version === 'number' && version > recipeVersion) {
    throw new RecipeError(
      `This recipe is of version ${version}; this program reads up to version ${recipeVersion}. A newer program would open it.`,
    );
  }
  const result = v.safeParse(recipeSchema, upgraded(data, version));
  if (!result.success) {
    const issue = result.issues[0];
    const where = v.getDotPath(issue) ?? 'the recipe itself';
    throw new RecipeError(`The recipe is not right at ${where}: ${issue.message}.`);
  }
  const { frame, subjects, cards } = result.output;
  for (const { what, width, height } of [{ what: 'frame', ...frame }, ...subjects.map((s) => ({ what: `subject ${s.id}`, ...s.size }))]) {
    if (width * height > mostPixels) {
      throw new RecipeError(`The recipe’s ${what} is ${width} × ${height} px; up to 150 megapixels can be worked out.`);
    }
  }
  for (const [what, list] of [
    ['subject', subjects],
    ['card', cards],
    ['matte', result.output.mattes],
    ['clip', result.output.clips],
  ] as const) {
    const twice = list.map((one) => one.id).find((id, i, all) => all.indexOf(id) !== i);
    if (twice !== undefined) throw new RecipeError(`The recipe holds two ${what}s called ${twice}; each needs a name of its own.`);
  }
  const mattes = new Set(result.output.mattes.map((m) => m.id));
  const limits = [result.output.finish.limit, ...result.output.cards.flatMap((c) => [c.limit, c.blurLimit])].filter(
    (l) => l.matte !== null,
  );
  for (const { matte } of [...result.output.subjects.flatMap((s) => s.with), ...limits]) {
    if (!mattes.has(matte!)) throw new RecipeError(`The recipe uses a matte ${matte}, which it does not hold.`);
  }
  const known = new Set(result.output.subjects.map((s) => s.id));
  for (const card of result.output.cards) {
    if ((card.kind === 'plate' || card.kind === 'subject') && !known.has(card.subject)) {
      throw new RecipeError(`The recipe’s card ${card.id} names the subject ${card.subject}, which it does not hold.`);
    }
  }
  for (const { of, points } of result.output.keys) {
    if (!canBeKeyed(result.output, of))
      throw new RecipeError(`The recipe changes ${of} over time, which it does not hold or which cannot change.`);
    if (points.some((p) => typeof p.value !== typeof points[0].value))
      throw new RecipeError(`The recipe mixes numbers and colours in the points of ${of}.`);
  }
  if (subjects.length === 0) throw new RecipeError('The recipe has no subject; it needs one at least.');
  return result.output;
}

/** Second pictures of a plate's photographed fills. */
function platesOf({ fill, parts }: SubjectRecipe['plate']): string[] {
  return [fill, ...parts.map((p) => p.fill)].flatMap((f) => (f.kind === 'photographed' && f.picture !== null ? [f.picture] : []));
}

/** Identifiers of all pictures a recipe uses. */
export function picturesOf(recipe: Recipe): string[] {
  const used = recipe.subjects.map((s) => s.shot);
  for (const s of recipe.subjects) if (s.difference.plate !== null) used.push(s.difference.plate);
  for (const s of recipe.subjects) used.push(...platesOf(s.plate));
  for (const m of recipe.mattes) used.push(m.picture);
  for (const card of recipe.cards) {
    if (card.kind === 'picture') used.push(card.picture);
    if (card.distances.map) used.push(card.distances.map.picture);
  }
  const clips = new Set(recipe.clips.map((c) => c.id));
  for (const { from, sound } of recipe.clips)
    used.push(...(from.kind === 'pictures' ? from.pictures : [from.file]), ...(sound ? [sound] : []));
  return [...new Set(used)].filter((id) => !clips.has(id));
}

/** The recipe with its pictures known by other names. */
export function withPictures(recipe: Recipe, name: (id: string) => string): Recipe {
  const fill = <F extends SubjectRecipe['plate']['fill']>(f: F): F =>
    f.kind === 'photographed' && f.picture !== null ? { ...f, picture: name(f.picture) } : f;
  const clips = new Set(recipe.clips.map((c) => c.id));
  const named = (id: string): string => (clips.has(id) ? id : name(id));
  return {
    ...recipe,
    subjects: recipe.subjects.map((s) => ({
      ...s,
      shot: named(s.shot),
      difference: { ...s.difference, plate: s.difference.plate === null ? null : name(s.difference.plate) },
      plate: { ...s.plate, fill: fill(s.plate.fill), parts: s.plate.parts.map((p) => ({ ...p, fill: fill(p.fill) })) },
    })),
    mattes: recipe.mattes.map((m) => ({ ...m, picture: name(m.picture) })),
    multiplied: recipe.multiplied.map((m) => ({ ...m, picture: name(m.picture) })),
    cards: recipe.cards.map((c) => {
      const { map } = c.distances;
      const distances = map ? { ...c.distances, map: { ...map, picture: name(map.picture) } } : c.distances;
      return c.kind === 'picture' ? { ...c, distances, picture: named(c.picture) } : { ...c, distances };
    }),
    clips: recipe.clips.map((c) => ({
      ...c,
      from: c.from.kind === 'pictures' ? { ...c.from, pictures: c.from.pictures.map(name) } : { ...c.from, file: name(c.from.file) },
      sound: c.sound === null ? null : name(c.sound),
    })),
  };
}

import * as v from 'valibot';
import { centred } from '../stage/place';
import { plainDifference, plainScreen } from '../matte/matte';
import { noTrim } from '../matte/trim';

/** Version of the recipe written by this program; older ones are brought up to it by `readRecipe`. */
export const recipeVersion = 3;

const length = v.pipe(v.number(), v.finite());
const share = v.pipe(v.number(), v.minValue(0), v.maxValue(1));
const positive = v.pipe(v.number(), v.finite(), v.gtValue(0));
const identifier = v.pipe(v.string(), v.minLength(1), v.maxLength(100));

const radius = v.pipe(v.number(), v.finite(), v.gtValue(0), v.maxValue(5000));
const pathSchema = v.pipe(v.array(v.union([v.strictTuple([length, length]), v.strictTuple([length, length, share])])), v.minLength(1));

export const markSchema = v.object({
  kind: v.picklist(['inside', 'outside', 'edge']),
  radius,
  points: pathSchema,
  filled: v.optional(v.boolean()),
});

const pointSchema = v.strictTuple([length, length]);

export const shapeSchema = v.variant('kind', [
  v.object({ kind: v.picklist(['rectangle', 'ellipse']), x: length, y: length, width: positive, height: positive }),
  v.object({ kind: v.literal('polygon'), points: v.pipe(v.array(pointSchema), v.minLength(3)) }),
]);

const handSchema = v.object({
  tip: v.picklist(['opaque', 'clear', 'soften']),
  radius,
  hardness: share,
  opacity: share,
  points: pathSchema,
});

const screenSchema = v.object({
  /** `auto`, or #rrggbb. */
  colour: v.pipe(v.string(), v.regex(/^(auto|#[0-9a-fA-F]{6})$/, 'a colour is auto or #rrggbb')),
  clear: v.pipe(v.number(), v.minValue(0), v.maxValue(0.5)),
  opaque: v.pipe(v.number(), v.minValue(0), v.maxValue(0.5)),
  spill: share,
});

const differenceSchema = v.object({
  /** A photograph of the scene without the subject, or nothing yet. */
  plate: v.nullable(identifier),
  threshold: v.pipe(v.number(), v.minValue(1), v.maxValue(20)),
});

/** A matte kept under a name: a grey picture among the job's pictures. */
const keptMatteSchema = v.object({ id: identifier, name: v.pipe(v.string(), v.minLength(1), v.maxLength(100)), picture: identifier });

const trimSchema = v.object({
  shift: v.pipe(length, v.minValue(-20), v.maxValue(20)),
  feather: v.pipe(length, v.minValue(0), v.maxValue(100)),
  firmness: v.pipe(length, v.minValue(-100), v.maxValue(100)),
  specks: v.pipe(length, v.minValue(0)),
});

/** A drawn region: all that its points go around, or a stroke of a width. */
const regionSchema = v.object({ radius, points: pathSchema, filled: v.optional(v.boolean()) });

const triesSchema = { tries: v.pipe(v.number(), v.integer(), v.minValue(1)), taken: v.pipe(v.number(), v.integer(), v.minValue(1)) };
const sizeSchema = v.pipe(positive, v.minValue(0.05), v.maxValue(20));
const hexSchema = v.pipe(v.string(), v.regex(/^#[0-9a-fA-F]{6}$/, 'a colour is #rrggbb'));

const fillSchema = v.variant('kind', [
  v.object({ kind: v.picklist(['smooth', 'stretch']) }),
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
  grow: v.union([v.literal('auto'), v.pipe(length, v.minValue(0), v.maxValue(200))]),
  feather: v.pipe(length, v.minValue(0), v.maxValue(200)),
  /** What is invented as well, or after all not. */
  regions: v.array(v.object({ how: v.picklist(['add', 'take']), region: regionSchema })),
  fill: fillSchema,
  /** Parts of the hole that are filled otherwise. */
  parts: v.array(v.object({ region: regionSchema, fill: fillSchema })),
  moves: v.array(
    v.object({ region: regionSchema, x: length, y: length, size: sizeSchema, feather: v.pipe(length, v.minValue(0), v.maxValue(200)) }),
  ),
  retouch: v.array(retouchSchema),
});

const subjectSchema = v.object({
  id: identifier,
  /** Picture that holds the subject. */
  shot: identifier,
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

const placementSchema = v.object({
  x: length,
  y: length,
  scale: v.pipe(positive, v.minValue(0.02), v.maxValue(20)),
  flip: v.boolean(),
});

const standing = { id: identifier, distance: positive, placement: placementSchema };

const cardSchema = v.variant('kind', [
  v.object({ kind: v.literal('plate'), subject: identifier, ...standing }),
  v.object({ kind: v.literal('picture'), picture: identifier, ...standing }),
  v.object({ kind: v.literal('subject'), subject: identifier, ...standing }),
]);

const lensSchema = v.object({
  focalLength: v.pipe(positive, v.maxValue(2000)),
  sensorWidth: v.pipe(positive, v.maxValue(200)),
  fNumber: v.pipe(positive, v.minValue(0.5), v.maxValue(1000)),
  focus: v.pipe(positive, v.maxValue(10000)),
});

export const recipeSchema = v.object({
  version: v.literal(recipeVersion),
  name: v.pipe(v.string(), v.maxLength(200)),
  seed: v.pipe(v.number(), v.integer(), v.minValue(0)),
  /** Size of the finished picture, px of the full-size shot. */
  frame: v.object({ width: v.pipe(v.number(), v.integer(), v.minValue(1)), height: v.pipe(v.number(), v.integer(), v.minValue(1)) }),
  subjects: v.array(subjectSchema),
  mattes: v.array(keptMatteSchema),
  /** Pictures multiplied by their opacity over a colour, to be made straight. */
  multiplied: v.array(v.object({ picture: identifier, over: hexSchema })),
  /** What stands on the bench, in any order; distance decides what covers what. */
  cards: v.array(cardSchema),
  lens: lensSchema,
  match: v.object({ cast: share, tone: share }),
});

/** The whole composite but the pictures, as plain JSON. */
export type Recipe = v.InferOutput<typeof recipeSchema>;
export type SubjectRecipe = Recipe['subjects'][number];
export type Card = Recipe['cards'][number];

/** What a subject has beside its marks before anything is chosen. */
const plainCut = {
  cut: 'marks' as const,
  screen: plainScreen,
  difference: { plate: null, ...plainDifference },
  garbage: [],
  hand: [],
  with: [],
};

/** The plate's part of a recipe before anything is chosen; arrays of its own. */
function newPlate(): SubjectRecipe['plate'] {
  return { grow: 'auto', feather: 1, regions: [], fill: { kind: 'patch', tries: 1, taken: 1 }, parts: [], moves: [], retouch: [] };
}

/** A recipe to begin with: one subject before its own plate, focused on the subject. */
export function newRecipe(name: string, shot: string, width: number, height: number): Recipe {
  return {
    version: recipeVersion,
    name,
    seed: 1,
    frame: { width, height },
    subjects: [{ id: 'subject-1', shot, marks: [], ...plainCut, trim: noTrim, plate: newPlate() }],
    mattes: [],
    multiplied: [],
    cards: [
      { id: 'card-background', kind: 'plate', subject: 'subject-1', distance: 20, placement: centred },
      { id: 'card-subject', kind: 'subject', subject: 'subject-1', distance: 3, placement: centred },
    ],
    lens: { focalLength: 85, sensorWidth: 36, fNumber: 2.8, focus: 3 },
    match: { cast: 0, tone: 0 },
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
  const mattes = new Set(result.output.mattes.map((m) => m.id));
  for (const { matte } of result.output.subjects.flatMap((s) => s.with)) {
    if (!mattes.has(matte)) throw new RecipeError(`The recipe puts together a matte ${matte}, which it does not hold.`);
  }
  const known = new Set(result.output.subjects.map((s) => s.id));
  for (const card of result.output.cards) {
    if (card.kind !== 'picture' && !known.has(card.subject)) {
      throw new RecipeError(`The recipe’s card ${card.id} names the subject ${card.subject}, which it does not hold.`);
    }
  }
  return result.output;
}

interface Old {
  subjects?: unknown;
}

/** Data of an older version as the current one would have it; anything else as it is. */
function upgraded(data: unknown, version: unknown): unknown {
  if (version === 1) return fromVersion2(fromVersion1(data as Old));
  return version === 2 ? fromVersion2(data as Old) : data;
}

function eachSubject(data: Old, change: (subject: object) => object): Old {
  return { ...data, subjects: Array.isArray(data.subjects) ? data.subjects.map(change) : data.subjects };
}

/** Version 1 knew cuts by marks only, and no kept mattes. */
function fromVersion1(data: Old): Old {
  return { ...eachSubject(data, (s) => ({ ...plainCut, ...s })), ...{ mattes: [], multiplied: [] } };
}

/** Version 2 knew one fill for the whole hole, and no retouching. */
function fromVersion2(data: Old): unknown {
  const plateOf = (plate: unknown): unknown =>
    typeof plate === 'object' && plate !== null ? { ...newPlate(), ...plate, fill: { kind: 'smooth' } } : plate;
  return { ...eachSubject(data, (s) => ({ ...s, plate: plateOf((s as { plate?: unknown }).plate) })), version: recipeVersion };
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
  for (const card of recipe.cards) if (card.kind === 'picture') used.push(card.picture);
  return [...new Set(used)];
}

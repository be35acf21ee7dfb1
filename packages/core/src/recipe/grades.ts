import * as v from 'valibot';
import { defaultDetail } from '../grade/detail';
import { defaultGrade } from '../grade/grade';
import { everywhere } from '../grade/limit';
import { noWash, defaultVignette } from '../grade/vignette';
import { clearAir } from '../match/air';
import { defaultContact } from '../match/contact';
import { defaultShine } from '../match/shine';
import { defaultSurround } from '../match/wrap';
import { held } from './parameters';
import { between, hexSchema, identifier, pathSchema, pointSchema, radius, regionSchema, share } from './values';

const autoOrHex = v.pipe(v.string(), v.regex(/^(auto|#[0-9a-fA-F]{6})$/, 'a colour is auto or #rrggbb'));
const hueRange = { hue: between(-360, 360), width: held('hue.width') };
const curve = v.pipe(v.array(v.strictTuple([share, share])), v.minLength(2), v.maxLength(16));

export const gradeSchema = v.object({
  temperature: held('grade.temperature'),
  tint: held('grade.tint'),
  exposure: held('grade.exposure'),
  black: held('grade.black'),
  white: held('grade.white'),
  middle: held('grade.middle'),
  contrast: held('grade.contrast'),
  saturation: held('grade.saturation'),
  vibrance: held('grade.vibrance'),
  neutrals: v.strictTuple([held('grade.neutrals'), held('grade.neutrals'), held('grade.neutrals')]),
  hues: v.pipe(
    v.array(v.object({ ...hueRange, turn: held('hue.turn'), saturation: held('hue.saturation'), lightness: held('hue.lightness') })),
    v.maxLength(8),
  ),
  curves: v.object({ all: curve, red: curve, green: curve, blue: curve }),
});

const detailSchema = v.object({ sharpen: held('detail.sharpen'), radius: held('detail.radius'), soften: held('detail.soften') });

export const limitSchema = v.object({
  /** A kept matte that limits it; the effect is where the matte is opaque. */
  matte: v.nullable(identifier),
  graduated: v.nullable(v.object({ from: pointSchema, to: pointSchema })),
  painted: v.array(v.object({ radius, hardness: share, opacity: share, points: pathSchema })),
  outside: v.boolean(),
});

/** No limit; arrays of its own. */
export const unlimited = everywhere as v.InferOutput<typeof limitSchema>;

export const washSchema = v.object({ colour: hexSchema, strength: held('wash.strength') });

/** Light and colour of a card, or of the whole picture: what is done, and where. */
export const adjustmentsSchema = { grade: gradeSchema, detail: detailSchema, limit: limitSchema };

/** A grade that changes nothing, everywhere; arrays of its own. */
export const defaultAdjustments = {
  grade: defaultGrade as v.InferOutput<typeof gradeSchema>,
  detail: defaultDetail,
  limit: unlimited,
};

export const matchSchema = v.object({
  /** Which side is moved. */
  moves: v.picklist(['subject', 'background', 'both']),
  /** How far each measured property is moved: 0 leaves it, 1 makes it equal. */
  strengths: v.object({
    cast: share,
    tint: share,
    black: share,
    white: share,
    middle: share,
    contrast: share,
    saturation: share,
  }),
  /** How far the whole spread of colours is carried over. */
  palette: held('match.palette'),
  /** Regions that are measured, px of the full-size frame; nothing: all of that side. */
  references: v.object({ subject: v.nullable(regionSchema), background: v.nullable(regionSchema) }),
  /** Hues that are left as they are. */
  protect: v.pipe(v.array(v.object(hueRange)), v.maxLength(6)),
  /** Whether what glows is left as it is. */
  glow: v.optional(v.boolean(), true),
  wrap: v.object({ width: held('wrap.width'), strength: held('wrap.strength') }),
  ambient: v.object({ colour: autoOrHex, strength: held('ambient.strength') }),
  air: v.object({ haze: held('air.haze'), colour: autoOrHex }),
  contact: v.object({
    strength: held('contact.strength'),
    direction: held('contact.direction'),
    length: held('contact.length'),
    softness: held('contact.softness'),
  }),
  shine: v.object({
    at: v.nullable(pointSchema),
    radius: held('shine.radius'),
    strength: held('shine.strength'),
    over: held('shine.over'),
  }),
});

export const finishSchema = v.object({
  ...adjustmentsSchema,
  grain: v.object({
    /** How much of the shot's grain is put back where it is missing. */
    back: held('grain.back'),
    /** Standard deviation of L* that is added over all. */
    over: held('grain.over'),
    /** Its size, px: standard deviation of the blur that independent noise would need. */
    size: held('grain.size'),
  }),
  dither: v.boolean(),
  vignette: v.object({
    strength: held('vignette.strength'),
    x: between(-1, 2),
    y: between(-1, 2),
    width: held('vignette.width'),
    height: held('vignette.height'),
    turn: held('vignette.turn'),
    roundness: held('vignette.roundness'),
    softness: held('vignette.softness'),
  }),
  wash: washSchema,
});

export const defaultMatch: v.InferOutput<typeof matchSchema> = {
  moves: 'subject',
  strengths: { cast: 0, tint: 0, black: 0, white: 0, middle: 0, contrast: 0, saturation: 0 },
  palette: 0,
  references: { subject: null, background: null },
  protect: [],
  glow: true,
  ...defaultSurround,
  air: clearAir,
  contact: defaultContact,
  shine: defaultShine as { at: [number, number] | null; radius: number; strength: number; over: number },
};

export const defaultFinish: v.InferOutput<typeof finishSchema> = {
  ...defaultAdjustments,
  grain: { back: 0, over: 0, size: 0.5 },
  dither: false,
  vignette: defaultVignette,
  wash: noWash,
};

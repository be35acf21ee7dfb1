import { defaultDetail } from '../grade/detail';
import { defaultGrade } from '../grade/grade';
import { noWash, defaultVignette } from '../grade/vignette';
import { roundAperture } from '../lens/aperture';
import { defaultLamps } from '../lens/lamps';
import { defaultArea } from '../lens/strewn';
import { clearAir } from '../match/air';
import { defaultContact } from '../match/contact';
import { defaultShine } from '../match/shine';
import { defaultSurround } from '../match/wrap';
import { defaultDifference, defaultScreen } from '../matte/matte';
import { noTrim } from '../matte/edit/trim';
import { centred } from '../placement/place';
import * as v from 'valibot';

/**
 * A number that people set: what the slider, the typed field, the schema, the terminal and docs/parameters.md are made from.
 * Values are as the recipe holds them.
 */
export interface Parameter {
  /** Its name in the interface. */
  label: string;
  /** What it does, and what more of it does: one sentence. */
  help: string;
  unit: string;
  default: number;
  /** Ends of its slider. */
  min: number;
  max: number;
  /** What can be typed, and held by a recipe, where that is more than the slider reaches. */
  least?: number;
  most?: number;
  /** The least itself is no longer possible. */
  above?: boolean;
  /** What one press of an arrow key changes. */
  step: number;
  /** Even steps of the slider are even differences, or even ratios. */
  scale?: 'linear' | 'logarithmic';
  /** Shown as so many times what is held: shares as hundredths. */
  times?: number;
  /** Digits shown after the point. */
  digits?: number;
  /** Written before the figure. */
  prefix?: string;
}

type Row = Omit<Parameter, 'label' | 'help' | 'default'>;

const percent = { unit: '%', times: 100, min: 0, max: 1, step: 0.01 } satisfies Row;
const pixels = { unit: 'px', min: 0, max: 1000, step: 1, least: -1e6, most: 1e6 } satisfies Row;
const angle = { unit: '°', min: -180, max: 180, step: 1 } satisfies Row;
const metres = { unit: 'm', min: 0.3, max: 200, least: 0, above: true, most: 10_000, step: 0.01, digits: 2, scale: 'logarithmic' } satisfies Row; // prettier-ignore
const stops = { unit: 'st', min: -4, max: 4, step: 0.05, digits: 2 } satisfies Row;
const lightness = { unit: 'L*', min: -20, max: 20, least: -40, most: 40, step: 0.5, digits: 1 } satisfies Row;

function rows<K extends string>(table: Record<K, [label: string, help: string, normal: number, row: Row]>): Record<K, Parameter> {
  const out = {} as Record<K, Parameter>;
  for (const key of Object.keys(table) as K[]) {
    const [label, help, normal, row] = table[key];
    out[key] = { label, help, default: normal, ...row };
  }
  return out;
}

/** Every number that people set, by its place: the part of the recipe it belongs to, and its name there. */
export const parameters = rows({
  'mark.tip': ['Tip', 'How wide a stroke is on the picture; [ and ] change it.', 28, { ...pixels, min: 1, max: 400, least: 1, most: 5000, scale: 'logarithmic' }],
  'hand.hardness': ['Hardness', 'How much of the tip is full before it fades; more gives a harder rim.', 0.5, percent],
  'hand.strength': ['Strength', 'How much one stroke does; less builds up slowly.', 1, { ...percent, min: 0.01 }],
  'screen.clear': ['Clear', 'How much of the screen’s light may be missing where it still counts as clear; more clears an uneven screen.', defaultScreen.clear, { ...percent, max: 0.5 }],
  'screen.opaque': ['Opaque', 'How little of the screen’s light makes a place fully opaque; more makes thin parts solid.', defaultScreen.opaque, { ...percent, max: 0.5 }],
  'screen.spill': ['Spill off', 'How much of the screen’s light on the subject is taken off.', defaultScreen.spill, percent],
  'difference.threshold': ['Threshold', 'How far above the noise a place must differ to be subject; more leaves faint differences out.', defaultDifference.threshold, { unit: 'σ', min: 1, max: 20, step: 0.5, digits: 1 }],
  'trim.shift': ['Shift', 'Moves the edge of the matte: above 0 outwards, below 0 inwards.', noTrim.shift, { unit: 'px', min: -6, max: 6, least: -20, most: 20, step: 0.1, digits: 1 }],
  'trim.feather': ['Feather', 'Softens the edge of the matte by so much.', noTrim.feather, { unit: 'px', min: 0, max: 12, most: 100, step: 0.1, digits: 1 }],
  'trim.firmness': ['Firmness', 'Above 0 half-covered places become clearer or fuller; below 0 the edge becomes softer.', noTrim.firmness, { unit: '', min: -100, max: 100, step: 1 }],
  'trim.specks': ['Specks', 'Single spots and holes smaller than this are taken away.', noTrim.specks, { unit: 'px²', min: 0, max: 400, most: 1e6, step: 1 }],
  'plate.grow': ['Grow', 'How far beyond the edge the plate is invented; too little leaves the subject’s outline on it.', 0, { unit: 'px', min: 0, max: 80, most: 200, step: 0.5, digits: 1 }],
  'plate.feather': ['Feather', 'How softly what is invented goes over into what was photographed.', 1, { unit: 'px', min: 0, max: 60, most: 200, step: 0.5, digits: 1 }],
  'borrowed.x': ['Slide across', 'How far to the left or right what is laid into the hole is taken from.', 0, { ...pixels, min: -2000, max: 2000 }],
  'borrowed.y': ['Slide down', 'How far above or below what is laid into the hole is taken from.', 0, { ...pixels, min: -2000, max: 2000 }],
  'move.x': ['Across', 'How far to the right what was lifted is laid.', 0, { ...pixels, min: -3000, max: 3000 }],
  'move.y': ['Down', 'How far down what was lifted is laid.', 0, { ...pixels, min: -3000, max: 3000 }],
  'move.size': ['Size', 'How large what was lifted is laid, against what it was.', 1, { ...percent, min: 0.1, max: 4, least: 0.05, most: 20, scale: 'logarithmic' }],
  'move.feather': ['Feather', 'How softly what was lifted goes over into what is around it.', 8, { unit: 'px', min: 0, max: 100, most: 200, step: 1 }],
  'source.size': ['Size', 'How large what is copied becomes, against what it was.', 1, { ...percent, min: 0.25, max: 4, least: 0.05, most: 20, scale: 'logarithmic' }],

  'card.distance': ['Distance', 'How far from the camera it stands; nearer covers farther, and the lens blurs by it.', 20, metres],
  'card.opacity': ['Opacity', 'How much of it is there; 0 lets everything behind it through.', 1, percent],
  'card.blur': ['Its blur', 'Diameter of its own blur disc, whatever the lens does.', 8, { ...pixels, max: 200, least: 0, most: 1000 }],
  'placement.x': ['Across', 'How far it is moved to the right.', centred.x, { ...pixels, min: -4000, max: 4000 }],
  'placement.y': ['Down', 'How far it is moved down.', centred.y, { ...pixels, min: -4000, max: 4000 }],
  'placement.scale': ['Size', 'How large it is laid, against how it was photographed or first laid.', centred.scale, { ...percent, min: 0.05, max: 4, least: 0.02, most: 20, scale: 'logarithmic' }],
  'placement.stretch': ['Stretch', 'Its width against its height; above 100 is wider.', centred.stretch, { ...percent, min: 0.25, max: 4, least: 0.1, most: 10, scale: 'logarithmic' }],
  'placement.turn': ['Turn', 'How far it is turned; above 0 to the right.', centred.turn, { ...angle, least: -360, most: 360, step: 0.1, digits: 1 }],
  'lettering.size': ['Height', 'Height of the type.', 170, { ...pixels, min: 8, max: 2000, least: 0, above: true, most: 10_000, scale: 'logarithmic' }],
  'lettering.spacing': ['Spacing', 'Room added between letters, in heights of the type.', 0, { ...percent, min: -0.2, max: 1.5, least: -0.3, most: 3 }],
  'glow.size': ['Width', 'How wide the glow is.', 600, { ...pixels, min: 8, max: 8000, least: 0, above: true, most: 100_000, scale: 'logarithmic' }],
  'glow.lift': ['Light', 'How bright the glow is against white; each stop doubles it.', 0, { unit: 'st', min: -4, max: 6, least: -6, most: 8, step: 0.1, digits: 1 }],
  'frame.width': ['Width', 'How much of the scene the picture shows from left to right.', 1800, { ...pixels, min: 16, max: 6000, least: 16, most: 30_000 }],
  'frame.height': ['Height', 'How much of the scene the picture shows from top to bottom.', 1200, { ...pixels, min: 16, max: 6000, least: 16, most: 30_000 }],
  'frame.x': ['Right by', 'How far to the right the picture looks.', 0, { ...pixels, min: -2000, max: 2000 }],
  'frame.y': ['Down by', 'How far down the picture looks.', 0, { ...pixels, min: -2000, max: 2000 }],
  'frame.turn': ['Straighten', 'Turns the picture to make a leaning horizon level.', 0, { ...angle, min: -45, max: 45, step: 0.1, digits: 1 }],

  'lens.amount': ['Blur behind', 'Diameter of a point’s blur disc at the background; more is softer. It sets the aperture.', 30, { ...pixels, max: 160, least: 0, most: 1000 }],
  'lens.focus': ['Distance', 'How far away what is sharp stands.', 3, metres],
  'lens.fNumber': ['Aperture', 'How far the lens is closed; a smaller number blurs more.', 2.8, { unit: '', prefix: 'f/', min: 0.7, max: 64, least: 0.5, most: 1000, step: 0.1, digits: 1, scale: 'logarithmic' }],
  'lens.focalLength': ['Focal length', 'Of the lens; a longer one blurs more at the same aperture.', 85, { unit: 'mm', min: 14, max: 400, least: 0, above: true, most: 2000, step: 1, scale: 'logarithmic' }],
  'lens.sensorWidth': ['Sensor width', 'Width of the sensor that the shot was taken with.', 36, { unit: 'mm', min: 4, max: 60, least: 0, above: true, most: 200, step: 0.1, digits: 1 }],
  'camera.x': ['To the right', 'How far the camera goes to the right; near things move most.', 0, { unit: 'm', min: -3, max: 3, least: -1000, most: 1000, step: 0.01, digits: 2 }],
  'camera.y': ['Up', 'How far the camera goes up; near things move most.', 0, { unit: 'm', min: -3, max: 3, least: -1000, most: 1000, step: 0.01, digits: 2 }],
  'camera.z': ['Nearer', 'How far the camera goes towards the scene.', 0, { unit: 'm', min: -5, max: 10, least: -1000, most: 9999, step: 0.01, digits: 2 }],
  'camera.pan': ['Look right', 'How far the camera turns to the right; all that is seen goes to the left.', 0, { ...angle, min: -30, max: 30, least: -75, most: 75, step: 0.1, digits: 1 }],
  'camera.tilt': ['Look up', 'How far the camera turns up; all that is seen goes down.', 0, { ...angle, min: -30, max: 30, least: -75, most: 75, step: 0.1, digits: 1 }],
  'camera.roll': ['Lean', 'How far the camera leans to the right; all that is seen leans to the left.', 0, { ...angle, min: -45, max: 45, least: -180, most: 180, step: 0.1, digits: 1 }],
  'aperture.blades': ['Blades', 'How many blades the opening has: lights become shapes of so many corners.', roundAperture.blades, { unit: '', min: 3, max: 16, step: 1 }],
  'aperture.roundness': ['Roundness', 'How round the blades are; 100 is a disc.', roundAperture.roundness, percent],
  'aperture.turn': ['Turn', 'How far the opening is turned.', roundAperture.turn, { ...angle, least: -360, most: 360 }],
  'aperture.cornerCut': ['Corner cut', 'How much the barrel of the lens cuts lights into lemons towards the corners.', roundAperture.cornerCut, percent],
  'aperture.squeeze': ['Squeeze', 'Width of lights against their height; below 100 they are ovals.', roundAperture.squeeze, { ...percent, min: 0.4 }],
  'aperture.rim': ['Rim', 'Above 0 lights have a bright rim, below 0 a soft one.', roundAperture.rim, { ...percent, min: -1 }],
  'lamps.lift': ['Lift', 'How much brighter lamps were than the clipped white of the shot; each stop doubles it.', 0, { unit: 'st', min: 0, max: 8, most: 12, step: 0.1, digits: 1 }],
  'lamps.from': ['Counts from', 'Bright spots at least this light count as lamps.', defaultLamps.from, { unit: 'L*', min: 50, max: 100, least: 20, step: 0.5, digits: 1 }],
  'lamps.to': ['Counts up to', 'Bright spots at most this light count as lamps.', defaultLamps.to, { unit: 'L*', min: 50, max: 100, least: 20, step: 0.5, digits: 1 }],
  'lamps.least': ['Smallest', 'Bright spots smaller than this are glints, not lamps.', defaultLamps.least, { ...pixels, max: 40, least: 0, most: 1000, step: 0.5, digits: 1 }],
  'lamps.size': ['Largest', 'Bright spots larger than this are sky or walls, not lamps.', defaultLamps.size, { ...pixels, min: 2, max: 200, least: 1, most: 1000, scale: 'logarithmic' }],
  'lamps.colour': ['Colour', 'How much of a lamp’s own colour its lifted light has.', defaultLamps.colour, { ...percent, max: 3 }],
  'lamp.size': ['Its size', 'How large the lamp that is set next is before it is blurred.', 14, { ...pixels, min: 1, max: 200, least: 0, above: true }],
  'lamp.lift': ['Its light', 'How bright the lamp that is set next is against white.', 4, { unit: 'st', min: -2, max: 10, least: -4, most: 12, step: 0.1, digits: 1 }],
  'area.size': ['Light size', 'How large the small lights of the filled area are.', defaultArea.size, { ...pixels, min: 1, max: 200, least: 1, most: 1000, scale: 'logarithmic' }],
  'area.density': ['How close', 'How close together the small lights of the filled area stand.', defaultArea.density, percent],
  'area.lift': ['Light', 'How bright the small lights of the filled area are against what is there.', defaultArea.lift, { unit: 'st', min: -2, max: 10, least: -4, most: 12, step: 0.1, digits: 1 }],
  'ground.distance': ['There it is', 'How far away the ground is at its line.', 3, metres],
  'ground.line': ['Ground line', 'Height in the picture at which the ground’s distance is known.', 0, { ...pixels, min: -4000, max: 8000 }],
  'ground.horizon': ['Horizon', 'Height in the picture at which the ground ends, far away.', 0, { ...pixels, min: -4000, max: 8000 }],
  'peg.distance': ['Peg', 'How far away this place is.', 10, { ...metres, max: 1000 }],
  'paint.distance': ['Paint with', 'The distance that is painted on.', 10, { ...metres, max: 1000 }],
  'map.near': ['White is', 'The distance that white stands for.', 1, { ...metres, max: 1000, step: 0.1, digits: 1 }],
  'map.far': ['Black is', 'The distance that black stands for.', 60, { ...metres, max: 1000, step: 0.1, digits: 1 }],
  'lean.across': ['Lean across', 'How much farther away the right side of it is than the left.', 0, { unit: 'm', min: -5, max: 5, least: -1e6, most: 1e6, step: 0.05, digits: 2 }],
  'lean.down': ['Lean down', 'How much farther away its foot is than its top.', 0, { unit: 'm', min: -5, max: 5, least: -1e6, most: 1e6, step: 0.05, digits: 2 }],
  'band.x': ['Across', 'Where the middle of the sharp band is from left to right.', 0, { ...pixels, max: 4000 }],
  'band.y': ['Down', 'Where the middle of the sharp band is from top to bottom.', 0, { ...pixels, max: 4000 }],
  'band.turn': ['Turn', 'How far the sharp band is turned.', 0, angle],
  'band.sharp': ['Sharp', 'How wide the stretch is that stays sharp.', 240, { ...pixels, max: 4000, least: 0, most: 20_000 }],
  'band.soft': ['Soft ends', 'Over how much the band goes from sharp to blurred, on either side.', 360, { ...pixels, max: 4000, least: 0, most: 20_000 }],
  'band.blur': ['Blur beyond', 'Diameter of the blur disc beyond the band.', 40, { ...pixels, max: 160, least: 0, most: 1000 }],

  'match.strength': ['Strength', 'How much of each gap that is matched is closed.', 1, { ...percent, min: 0.01 }],
  'match.palette': ['Palette', 'How much of the whole spread of colours is carried over, not only its means.', 0, percent],
  'protect.width': ['Hue', 'How far around this hue colours are left as they are.', 25, { unit: '°', min: 5, max: 90, least: 1, most: 180, step: 1 }],
  'ambient.strength': ['Ambient', 'How much of the surroundings’ colour lies on the subject.', defaultSurround.ambient.strength, percent],
  'wrap.strength': ['Wrap', 'How much light from behind reaches around the subject’s edge.', defaultSurround.wrap.strength, percent],
  'wrap.width': ['Wrap width', 'How far in from the edge light from behind reaches.', defaultSurround.wrap.width, { ...pixels, min: 1, max: 120, least: 0, most: 400 }],
  'air.haze': ['Air', 'How much the air between veils what is far.', clearAir.haze, { ...percent, max: 0.95, most: 0.98 }],
  'shine.strength': ['Glow’s light', 'How much light a bright place behind throws over its surroundings.', defaultShine.strength, { ...percent, max: 2, most: 4 }],
  'shine.radius': ['Glow’s reach', 'How far the light of the bright place reaches.', defaultShine.radius, { ...pixels, min: 10, max: 2000, least: 1, most: 5000, scale: 'logarithmic' }],
  'shine.over': ['Over subject', 'How much of the glow also lies over the subject.', defaultShine.over, percent],
  'contact.strength': ['Contact', 'How dark the shadow is where the subject stands on its ground.', defaultContact.strength, percent],
  'contact.direction': ['Falls to', 'Where the shadow falls to: 0 is right, 90 is towards you.', defaultContact.direction, { ...angle, least: -360, most: 360 }],
  'contact.length': ['Length', 'How far the shadow falls, in heights of the subject.', defaultContact.length, { ...percent, max: 1.5, most: 3 }],
  'contact.softness': ['Softness', 'How soft the shadow is at its far end.', defaultContact.softness, { ...pixels, max: 200, least: 0, most: 400 }],
  'grade.temperature': ['Temperature', 'Warmer above 0, colder below.', defaultGrade.temperature, { unit: 'mired', min: -110, max: 200, least: -200, most: 340, step: 1 }],
  'grade.tint': ['Tint', 'Greener or more magenta, across the white of daylight and lamps.', defaultGrade.tint, { unit: '', min: -40, max: 40, least: -80, most: 80, step: 0.5, digits: 1 }],
  'grade.exposure': ['Exposure', 'Lighter above 0, darker below; each stop doubles the light.', defaultGrade.exposure, { ...stops, least: -8, most: 8 }],
  'grade.black': ['Black', 'Lifts or lowers the darkest tones.', defaultGrade.black, lightness],
  'grade.white': ['White', 'Lifts or lowers the lightest tones.', defaultGrade.white, { ...lightness, min: -40, max: 40, least: -50, most: 50 }],
  'grade.middle': ['Middle', 'Lifts or lowers the middle tones; black and white stay.', defaultGrade.middle, { ...lightness, min: -30, max: 30 }],
  'grade.contrast': ['Contrast', 'Above 0 light and dark go apart, below 0 together.', defaultGrade.contrast, { unit: '', times: 100, min: -1, max: 1, step: 0.01 }],
  'grade.saturation': ['Saturation', 'How colourful it is against what it was; 0 is grey.', defaultGrade.saturation, { ...percent, max: 2, most: 3 }],
  'grade.vibrance': ['Vibrance', 'Like saturation, but what is pale changes most.', defaultGrade.vibrance, { unit: '', times: 100, min: -1, max: 1, step: 0.01 }],
  'grade.neutrals': ['Greys', 'Moves greys towards or away from this colour; strong colours stay.', 0, { unit: '', times: 100, min: -1, max: 1, step: 0.01 }],
  'hue.width': ['Within', 'How far around the picked hue colours are changed.', 25, { unit: '°', min: 5, max: 90, least: 1, most: 180, step: 1 }],
  'hue.turn': ['Turned', 'How far these colours are turned to other hues.', 0, { ...angle, min: -90, max: 90, least: -180, most: 180 }],
  'hue.saturation': ['Its colour', 'How colourful these colours are against what they were.', 1, { ...percent, max: 2, most: 3 }],
  'hue.lightness': ['Its light', 'How light these colours are; each stop doubles it.', 0, { ...stops, min: -2, max: 2, least: -4, most: 4 }],
  'detail.sharpen': ['Sharpen', 'How much fine detail is made clearer.', defaultDetail.sharpen, { ...percent, max: 2, most: 3 }],
  'detail.radius': ['Of size', 'How large the detail is that is sharpened.', defaultDetail.radius, { ...pixels, min: 0.5, max: 10, least: 0.3, most: 30, step: 0.1, digits: 1 }],
  'detail.soften': ['Soften', 'Blurs it evenly by so much.', defaultDetail.soften, { ...pixels, max: 40, least: 0, most: 100, step: 0.5, digits: 1 }],
  'grain.back': ['Put back', 'How much of the shot’s own grain is put on what has lost it.', 0, percent],
  'grain.over': ['Over all', 'Grain added over the whole picture: standard deviation of lightness.', 0, { unit: 'L*', min: 0, max: 4, most: 8, step: 0.05, digits: 2 }],
  'grain.size': ['Its size', 'How coarse the added grain is.', 0.5, { unit: 'px', min: 0, max: 3, most: 4, step: 0.05, digits: 2 }],
  'vignette.strength': ['Fall-off', 'How much darker, or above 0 lighter, the picture becomes towards its rim.', defaultVignette.strength, { ...stops, min: -3, max: 2, least: -5, most: 3 }],
  'vignette.softness': ['Rim softness', 'How gently it falls off.', defaultVignette.softness, { ...percent, min: 0.02, least: 0 }],
  'vignette.roundness': ['Roundness', 'From a rectangle at 0 to an oval at 100.', defaultVignette.roundness, percent],
  'vignette.width': ['Width', 'How wide what is left alone is, against the picture.', defaultVignette.width, { ...percent, min: 0.1, max: 2.5, least: 0.05, most: 4 }],
  'vignette.height': ['Height', 'How high what is left alone is, against the picture.', defaultVignette.height, { ...percent, min: 0.1, max: 2.5, least: 0.05, most: 4 }],
  'vignette.turn': ['Turn', 'How far what is left alone is turned.', defaultVignette.turn, { ...angle, min: -90, max: 90, least: -180, most: 180 }],
  'wash.strength': ['Wash', 'How strongly the colour below is laid over it.', noWash.strength, percent],

  'time.seconds': ['Lasts', 'How long the job lasts.', 5, { unit: 's', min: 0.2, max: 120, most: 3600, step: 0.1, digits: 1, scale: 'logarithmic' }],
  'time.rate': ['A second', 'How many frames a second has.', 24, { unit: 'frames', min: 1, max: 60, most: 240, step: 1 }],
  'time.shutter': ['Shutter', 'How long each frame is exposed; more smears what moves.', 0, { unit: '°', min: 0, max: 360, step: 5 }],
  'export.quality': ['Quality', 'How well fine detail is kept; more makes a larger file.', 92, { unit: '', min: 30, max: 100, least: 1, step: 1 }],
  'export.scale': ['Size', 'Size of what is written against the full size.', 1, { ...percent, min: 0.1, least: 0.01 }],
}); // prettier-ignore

export type ParameterKey = keyof typeof parameters;

/** The least and the most that can be held. */
export function boundsOf(key: ParameterKey): { least: number; most: number } {
  const { min, max, least = min, most = max } = parameters[key];
  return { least, most };
}

/** The part of a recipe's schema for a number that people set. */
export function held(key: ParameterKey): v.GenericSchema<number> {
  const { least, most } = boundsOf(key);
  return v.pipe(v.number(), parameters[key].above ? v.gtValue(least) : v.minValue(least), v.maxValue(most)) as v.GenericSchema<number>;
}

/** A value as people read it: with its unit, in as many digits as are shown. */
export function asShown(key: ParameterKey, value: number): string {
  const { times = 1, digits = 0, unit, prefix = '' } = parameters[key];
  return `${prefix}${(value * times).toFixed(digits)}${unit ? ` ${unit}` : ''}`;
}

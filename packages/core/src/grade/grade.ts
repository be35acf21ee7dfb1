import { luminance } from '../colour/cielab';
import { oklabOf, oklabToLinear } from '../colour/oklab';
import { decodeSrgb, encodeSrgb } from '../colour/srgb';
import { pause, type Context } from '../runtime/context';
import { makePicture, type Picture, type Plane } from '../raster/plane';
import { castMatrix } from './cast';
import { curveThrough, isStraight, straightCurve, type CurvePoints } from './curves';

/** A range of hues and what is done to it. */
interface HueShift extends HueRange {
  /** Degrees. */
  turn: number;
  /** Factor on colourfulness. */
  saturation: number;
  /** Stops. */
  lightness: number;
}

/** Hues around one, in OKLab degrees (0 pinkish red, 90 yellow, 180 green to cyan, 270 blue). */
export interface HueRange {
  hue: number;
  /** Half the width at which the effect has fallen to one half, degrees. */
  width: number;
}

/** What is done to light and colour. All neutral values leave a picture as it is. */
export interface Grade {
  /** Cast along the black-body locus, mired: warmer above 0. */
  temperature: number;
  /** Cast across it, Δu′v′ × 1000: greener above 0. */
  tint: number;
  /** Stops. */
  exposure: number;
  /** L* that black comes to lie at; below 0 dark tones are cut off. */
  black: number;
  /** L* by which white is moved. */
  white: number;
  /** L* by which mid-grey is moved while black and white stay. */
  middle: number;
  /** −1 to 1: slope at mid-grey is 2 to that power. */
  contrast: number;
  /** Factor on colourfulness: 0 grey, 1 as it is. */
  saturation: number;
  /** −1 to 1: the same, more on what is pale. */
  vibrance: number;
  /** Red, green and blue of what is nearly neutral, −1 to 1 (a stop). */
  neutrals: [number, number, number];
  hues: HueShift[];
  /** Curves of luminance, and of each channel, from code value to code value. */
  curves: Curves;
}

interface Curves {
  all: CurvePoints;
  red: CurvePoints;
  green: CurvePoints;
  blue: CurvePoints;
}

/** The grade that changes nothing. */
export const defaultGrade: Grade = {
  temperature: 0,
  tint: 0,
  exposure: 0,
  black: 0,
  white: 0,
  middle: 0,
  contrast: 0,
  saturation: 1,
  vibrance: 0,
  neutrals: [0, 0, 0],
  hues: [],
  curves: { all: straightCurve, red: straightCurve, green: straightCurve, blue: straightCurve },
};

/** True when a grade changes nothing. */
export function isPlainGrade(g: Grade): boolean {
  const numbers = ['temperature', 'tint', 'exposure', 'black', 'white', 'middle', 'contrast', 'vibrance'] as const;
  return (
    numbers.every((k) => g[k] === 0) &&
    g.saturation === 1 &&
    g.neutrals.every((v) => v === 0) &&
    g.hues.every((h) => h.turn === 0 && h.saturation === 1 && h.lightness === 0) &&
    Object.values(g.curves).every(isStraight)
  );
}

/** Relative luminance of L*, mirrored below 0. */
export function luminanceOf(lightness: number): number {
  const l = Math.abs(lightness);
  const y = l > 8 ? ((l + 16) / 116) ** 3 : (l * 27) / 24389;
  return lightness < 0 ? -y : y;
}

const steps = 2048;
/** Colours are never scaled by more than this when tones are lifted. */
const steepest = 4;

/** A function of light, 0 to 1, tabled over its square root, which is dense where the eye is. */
function tabled(f: (light: number) => number): Float32Array {
  return Float32Array.from({ length: steps + 2 }, (_, i) => f(Math.min(1, i / steps) ** 2));
}

function look(table: Float32Array, light: number): number {
  const t = Math.sqrt(light) * steps;
  const i = t | 0;
  return table[i] + (t - i) * (table[i + 1] - table[i]);
}

/** The middle and contrast of a grade and its luminance curve as one function of code values, 0 to 1; never falls. */
export function toneCurve(g: Pick<Grade, 'middle' | 'contrast' | 'curves'>): (code: number) => number {
  const power = Math.log(Math.min(0.95, Math.max(0.05, 0.5 + g.middle / 100))) / Math.log(0.5);
  const slope = 2 ** g.contrast;
  const drawn = isStraight(g.curves.all) ? undefined : curveThrough(g.curves.all);
  return (code) => {
    const t = power === 1 ? code : code ** power;
    const s = slope === 1 ? t : t < 0.5 ? 0.5 * (2 * t) ** slope : 1 - 0.5 * (2 * (1 - t)) ** slope;
    return drawn ? drawn(s) : s;
  };
}

/** How much a colour belongs to a range of hues, 0 to 1; greys belong to none. */
export function hueShare(range: HueRange, hue: number, chroma: number): number {
  const away = Math.abs(((((hue - range.hue) % 360) + 540) % 360) - 180);
  const width = Math.max(1, range.width);
  if (away >= 2 * width) return 0;
  const near = 0.5 + 0.5 * Math.cos((Math.PI * away) / (2 * width));
  return near * Math.min(1, chroma / 0.04);
}

/**
 * The change a grade makes to one colour in linear light. Light may come out below 0 or above 1: nothing is cut off
 * here. Made once, used for every pixel; the result is written to `out`.
 */
export function grader(g: Grade): (r: number, gr: number, b: number, out: Float64Array) => void {
  const cast = g.temperature === 0 && g.tint === 0 ? undefined : castMatrix(g.temperature, g.tint);
  const low = luminanceOf(g.black);
  const range = luminanceOf(100 + g.white) - low;
  const gain = 2 ** g.exposure * range;
  const [rr, rg, rb, gr0, gg, gb, br, bg, bb] = cast ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const curve = toneCurve(g);
  const toned = g.middle !== 0 || g.contrast !== 0 || !isStraight(g.curves.all);
  // Light is scaled so that colour stays, but what lifts black itself is added as grey.
  const lifted = decodeSrgb(curve(0));
  const tone = tabled((y) => decodeSrgb(curve(encodeSrgb(y))) - lifted);
  const channels = [g.curves.red, g.curves.green, g.curves.blue].map((points) => {
    if (isStraight(points)) return undefined;
    const f = curveThrough(points);
    return tabled((light) => decodeSrgb(f(encodeSrgb(light))));
  });
  const [curveR, curveG, curveB] = channels;
  const through = (table: Float32Array | undefined, v: number): number =>
    !table ? v : v <= 0 ? table[0] + v : v >= 1 ? table[steps] + v - 1 : look(table, v);
  const coloured = g.saturation !== 1 || g.vibrance !== 0;
  const neutral = g.neutrals.some((v) => v !== 0);
  const hues = g.hues.filter((h) => h.turn !== 0 || h.saturation !== 1 || h.lightness !== 0);
  return (r0, g0, b0, out) => {
    let r = gain * (cast ? rr * r0 + rg * g0 + rb * b0 : r0) + low;
    let gr = gain * (cast ? gr0 * r0 + gg * g0 + gb * b0 : g0) + low;
    let b = gain * (cast ? br * r0 + bg * g0 + bb * b0 : b0) + low;
    if (toned) {
      const y = luminance(r, gr, b);
      const to = y <= 0 ? 0 : y < 1 ? look(tone, y) : tone[steps] * y;
      // Colour is scaled with light, but near black a steep rise would scale faint casts to glaring ones: grey takes the rest.
      const s = y <= 0 ? 1 : Math.min(steepest, to / y);
      const grey = lifted + (y <= 0 ? 0 : to - s * y);
      r = r * s + grey;
      gr = gr * s + grey;
      b = b * s + grey;
    }
    if (curveR || curveG || curveB) {
      r = through(curveR, r);
      gr = through(curveG, gr);
      b = through(curveB, b);
    }
    if (coloured || neutral) {
      const most = r > gr ? (r > b ? r : b) : gr > b ? gr : b;
      const least = r < gr ? (r < b ? r : b) : gr < b ? gr : b;
      const pale = most > 0 ? 1 - Math.min(1, (most - least) / most) : 1;
      if (neutral) {
        const share = Math.max(0, 2 * pale - 1);
        r *= 2 ** (share * g.neutrals[0]);
        gr *= 2 ** (share * g.neutrals[1]);
        b *= 2 ** (share * g.neutrals[2]);
      }
      if (coloured) {
        const grey = luminance(r, gr, b);
        const s = g.saturation * (1 + g.vibrance * pale);
        r = grey + s * (r - grey);
        gr = grey + s * (gr - grey);
        b = grey + s * (b - grey);
      }
    }
    if (hues.length > 0) [r, gr, b] = hueShifted(hues, r, gr, b);
    out[0] = r;
    out[1] = gr;
    out[2] = b;
  };
}

function hueShifted(hues: HueShift[], r: number, g: number, b: number): [number, number, number] {
  const [l, oa, ob] = oklabOf(r, g, b);
  const chroma = Math.hypot(oa, ob);
  const hue = (Math.atan2(ob, oa) * 180) / Math.PI;
  let [turn, saturation, stops] = [0, 1, 0];
  for (const h of hues) {
    const share = hueShare(h, hue, chroma);
    turn += share * h.turn;
    saturation *= 1 + share * (h.saturation - 1);
    stops += share * h.lightness;
  }
  const at = ((hue + turn) * Math.PI) / 180;
  const k = 2 ** (stops / 3);
  return oklabToLinear(l * k, saturation * chroma * Math.cos(at) * k, saturation * chroma * Math.sin(at) * k);
}

/** Where and on what a grade works. */
export interface GradeLimits {
  /** Share of the effect at each pixel; everywhere when left out. */
  mask?: Plane;
  /** Hues that are left as they are. */
  protect?: readonly HueRange[];
  /** Whether what glows is left as it is, see `glowShare`. */
  glow?: boolean;
}

/**
 * A graded picture; opacity stays. Returns the very picture when the grade changes nothing.
 *
 * @throws AbortError
 */
export async function graded(
  p: Picture,
  grade: Grade,
  context: Context,
  { mask, protect = [], glow = false }: GradeLimits = {},
): Promise<Picture> {
  if (isPlainGrade(grade)) return p;
  const change = grader(grade);
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  const to = new Float64Array(3);
  for (let y = 0; y < p.height; y++) {
    if ((y & 15) === 0) await pause(context, 'Grading', y / p.height);
    for (let i = y * p.width, end = i + p.width; i < end; i++) {
      const [r, g, b] = [p.r[i], p.g[i], p.b[i]];
      let share = mask ? mask.data[i] : 1;
      if (share > 0 && protect.length > 0) share *= 1 - protectedShare(protect, r, g, b);
      if (share > 0 && glow) share *= 1 - glowShare(r, g, b);
      if (share <= 0) {
        out.r[i] = r;
        out.g[i] = g;
        out.b[i] = b;
        continue;
      }
      change(r, g, b, to);
      out.r[i] = share === 1 ? to[0] : r + share * (to[0] - r);
      out.g[i] = share === 1 ? to[1] : g + share * (to[1] - g);
      out.b[i] = share === 1 ? to[2] : b + share * (to[2] - b);
    }
  }
  return out;
}

/** How much of a colour is of protected hues, 0 to 1. */
export function protectedShare(protect: readonly HueRange[], r: number, g: number, b: number): number {
  const [, oa, ob] = oklabOf(r, g, b);
  const chroma = Math.hypot(oa, ob);
  const hue = (Math.atan2(ob, oa) * 180) / Math.PI;
  let most = 0;
  for (const range of protect) most = Math.max(most, hueShare(range, hue, chroma));
  return most;
}

/** A colour glows from this light of its brightest channel on, wholly from that, linear; and from this OKLab chroma on, wholly from that. */
const glowing = [0.6, 0.85] as const;
const glowColour = [0.05, 0.09] as const;

/** How much a colour is that of a lit lamp or shade, 0 to 1: near the end of the range, yet with a colour. A white shirt is none. */
export function glowShare(r: number, g: number, b: number): number {
  const most = Math.max(r, g, b);
  if (most <= glowing[0]) return 0;
  const [, oa, ob] = oklabOf(r, g, b);
  return ramp(most, glowing) * ramp(Math.hypot(oa, ob), glowColour);
}

function ramp(v: number, [from, to]: readonly [number, number]): number {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

import { grainAt, type Grain } from './grain';
import { angleBetween, type LightDirection } from './lightDirection';
import type { MeasuredBlur } from './blurMeasure';
import { handles, type ToneProperty } from './solve';
import type { Tone } from './tone';

/** Everything that is measured of one side of the cut. */
export interface Side {
  tone: Tone;
  grain?: Grain;
  blur?: MeasuredBlur;
  light?: LightDirection;
}

/** What is compared between subject and background. */
const gapNames = ['blur', 'grain', 'cast', 'tint', 'black', 'middle', 'white', 'contrast', 'saturation', 'light'] as const;
export type GapName = (typeof gapNames)[number];

/** One measured property on both sides, in its own unit. */
export interface Gap {
  name: GapName;
  subject?: number;
  background?: number;
  /** Background less subject; angles as the smaller of the two turns. */
  gap?: number;
  tolerance: number;
}

/**
 * Tolerances, where a trained eye begins to see: blur 1.5 px or a quarter of the larger, grain a quarter of the subject's
 * or 0.15 L*, light 40 degrees; the rest as the handles have them.
 */
export function gapsOf(subject: Side, background: Side): Gap[] {
  const known = subject.tone.weight > 0 && background.tone.weight > 0;
  const tonal = (name: ToneProperty): Gap => {
    const { measured, tolerance } = handles[name];
    if (!known) return { name, tolerance };
    const [s, b] = [measured(subject.tone), measured(background.tone)];
    return { name, subject: s, background: b, gap: b - s, tolerance };
  };
  const pair = (name: GapName, s: number | undefined, b: number | undefined, tolerance: number): Gap => ({
    name,
    tolerance,
    ...(s !== undefined && { subject: s }),
    ...(b !== undefined && { background: b }),
    ...(s !== undefined && b !== undefined && { gap: name === 'light' ? angleBetween(s, b) : b - s }),
  });
  // Grain differs by tone: the subject's is told for the tones that the background has.
  const grain = subject.grain && (background.grain ? grainAt(subject.grain.byTone, background.grain.tone) : subject.grain.level);
  const blurs = [subject.blur?.diameter, background.blur?.diameter] as const;
  const rows: Record<GapName, Gap> = {
    blur: pair('blur', ...blurs, Math.max(1.5, 0.25 * Math.max(blurs[0] ?? 0, blurs[1] ?? 0))),
    grain: pair('grain', grain, background.grain?.level, Math.max(0.15, 0.25 * (grain ?? 0))),
    light: pair('light', subject.light?.angle, background.light?.angle, 40),
    cast: tonal('cast'),
    tint: tonal('tint'),
    black: tonal('black'),
    middle: tonal('middle'),
    white: tonal('white'),
    contrast: tonal('contrast'),
    saturation: tonal('saturation'),
  };
  return gapNames.map((name) => rows[name]);
}

/** Whether a gap is larger than what the eye lets pass; false while it is not known. */
export function isWide({ gap, tolerance }: Gap): boolean {
  return gap !== undefined && Math.abs(gap) > tolerance;
}

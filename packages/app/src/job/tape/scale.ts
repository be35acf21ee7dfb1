import { keyedValue, linearOfHex, type Keyed } from '@ritaglio/core';

/** The tape: how many frames lie on it, and how wide it is, px. */
export interface TapeSize {
  length: number;
  width: number;
}

/** Room at both ends, px. */
const margin = 10;

/** Middle of a frame on the tape, px; frames may have a fraction. */
export function xOf(frame: number, { length, width }: TapeSize): number {
  return margin + ((frame + 0.5) * (width - 2 * margin)) / length;
}

/** The frame under a place of the tape. */
export function frameAt(x: number, { length, width }: TapeSize): number {
  const frame = Math.floor(((x - margin) * length) / (width - 2 * margin));
  return Math.min(length - 1, Math.max(0, frame));
}

/** Every how many frames a number is written, so that numbers do not touch. */
export function tickStep({ length, width }: TapeSize): number {
  const least = (46 * length) / Math.max(1, width - 2 * margin);
  return [1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 5000, 10_000, 50_000].find((n) => n >= least) ?? 100_000;
}

/** A frame as minutes, seconds and frames, as people of the field write it. */
export function clockOf(frame: number, rate: { frames: number; seconds: number }): string {
  const seconds = (frame * rate.seconds) / rate.frames;
  const whole = Math.floor(seconds + 1e-9);
  const rest = Math.max(0, Math.round(frame - (whole * rate.frames) / rate.seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}+${String(rest).padStart(2, '0')}`;
}

/** A keyed value as heights 0 to 1 over the tape, one each step, between its own least and most; a colour by its light. */
export function curveOf(key: Keyed, length: number, steps: number): { points: [number, number][]; heightAt: (frame: number) => number } {
  const number = (v: number | string): number => (typeof v === 'number' ? v : linearOfHex(v).reduce((a, b) => a + b) / 3);
  const values = key.points.map((p) => number(p.value));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const heightAt = (frame: number): number => (most > least ? (number(keyedValue(key, frame)) - least) / (most - least) : 0.5);
  const points = Array.from({ length: steps + 1 }, (_, i): [number, number] => {
    const frame = -0.5 + (i * length) / steps;
    return [frame, heightAt(frame)];
  });
  return { points, heightAt };
}

/** The next or the last of some frames, seen from one; nothing when there is none on that side. */
export function neighbour(frames: readonly number[], from: number, direction: 1 | -1): number | undefined {
  const beyond = frames.filter((f) => (direction > 0 ? f > from + 1e-6 : f < from - 1e-6));
  return beyond.length === 0 ? undefined : direction > 0 ? Math.min(...beyond) : Math.max(...beyond);
}

/** Frames by how little their neighbours agree about them, least first; those near one that was named, and those without the subject, are passed over. */
export function doubtfulFrames(certainty: readonly number[], apart = 3): number[] {
  const order = certainty.map((c, i) => ({ c, i })).filter(({ c }) => !Number.isNaN(c)).sort((a, b) => a.c - b.c); // prettier-ignore
  const out: number[] = [];
  for (const { i } of order) if (out.every((j) => Math.abs(i - j) >= apart)) out.push(i);
  return out;
}

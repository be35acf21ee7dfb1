import type { Tone } from '@ritaglio/core';

/** One measured property on both sides. */
export interface Gap {
  name: string;
  subject: string;
  background: string;
  gap: string;
  /** Larger than what the eye lets pass. */
  wide: boolean;
}

function signed(v: number, digits = 0): string {
  return (v > 0 ? '+' : v < 0 ? '−' : '') + Math.abs(v).toFixed(digits);
}

/** Subject against background, with tolerances: 30 mired, 6 Δu′v′ × 1000, 6 L* for black, 15 for the middle. */
export function gapsOf(subject: Tone, background: Tone): Gap[] {
  const row = (name: string, a: number, b: number, tolerance: number, unit: string, digits = 0): Gap => ({
    name,
    subject: unit === 'L*' ? `${a.toFixed(digits)}` : signed(a, digits),
    background: unit === 'L*' ? `${b.toFixed(digits)}` : signed(b, digits),
    gap: Math.abs(a - b).toFixed(digits),
    wide: subject.weight > 0 && background.weight > 0 && Math.abs(a - b) > tolerance,
  });
  // Mired is told against daylight (6504 K), as a shift.
  const daylight = 1e6 / 6504;
  return [
    row('Cast, mired', subject.mired - daylight, background.mired - daylight, 30, 'mired'),
    row('Tint, Δu′v′', subject.tint, background.tint, 6, 'tint', 1),
    row('Black, L*', subject.black, background.black, 6, 'L*'),
    row('Middle, L*', subject.middle, background.middle, 15, 'L*'),
    row('White, L*', subject.white, background.white, 12, 'L*'),
  ];
}

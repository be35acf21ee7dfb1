import { roundAperture, type Aperture } from './aperture';

/** A camera's figures. */
export interface Lens {
  /** Focal length, mm. */
  focalLength: number;
  /** Width of the sensor, mm; the picture's full width falls on it. */
  sensorWidth: number;
  /** Focal length over aperture diameter. */
  fNumber: number;
  /** Distance of what is sharp, m. */
  focus: number;
}

/** A lens with its opening, before a picture. */
export interface Optics extends Lens {
  aperture: Aperture;
  /** How much of the sensor's width the picture takes, stated as the full-size pixels that would fill it. */
  across: number;
}

/** A lens with a round opening (or another) before a picture of a width. */
export function opticsOf(lens: Lens, across: number, aperture: Aperture = roundAperture): Optics {
  return { ...lens, across, aperture };
}

/**
 * Diameter of the blur disc of a point, as a share of the picture's width: A·|d − s|/d·f/(s − f), the thin-lens
 * formula.
 *
 * @param distance of the point, m; `Infinity` is allowed
 */
function blurDiscShare(lens: Lens, distance: number): number {
  const f = lens.focalLength / 1000;
  const aperture = f / lens.fNumber;
  const s = Math.max(lens.focus, f * 1.01);
  const out = Number.isFinite(distance) ? Math.abs(distance - s) / Math.max(distance, 1e-6) : 1;
  return (aperture * out * (f / (s - f))) / (lens.sensorWidth / 1000);
}

/** The same in pixels of a picture of the given width. */
export function blurDiscAt(lens: Lens, distance: number, width: number): number {
  return blurDiscShare(lens, distance) * width;
}

/** The same, negative for what is nearer than the focus: the farther, the larger. */
export function signedDisc(lens: Lens, distance: number, width: number): number {
  return (distance < lens.focus ? -1 : 1) * blurDiscAt(lens, distance, width);
}

/** The f-number that gives a disc of the wanted diameter (px of a picture of that width) at a distance. */
export function fNumberFor(lens: Lens, distance: number, width: number, diameter: number): number {
  const atOne = blurDiscAt({ ...lens, fNumber: 1 }, distance, width);
  return diameter > 0 ? atOne / diameter : Infinity;
}

/** Nearest and farthest distance, m, whose blur disc stays within a diameter (px of a picture of that width). */
export function sharpZone(lens: Lens, width: number, diameter: number): [number, number] {
  const far = blurDiscAt(lens, Infinity, width);
  const s = lens.focus;
  const near = s / (1 + diameter / far);
  return [near, diameter >= far ? Infinity : s / (1 - diameter / far)];
}

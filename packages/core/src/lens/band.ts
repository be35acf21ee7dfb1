import { makePlane, type Plane } from '../raster/plane';
import type { Aperture } from './aperture';
import { fNumberFor, opticsOf, type Lens, type Optics } from './thinLens';

/** A straight band that stays sharp on a card, soft towards both sides, whatever stands where. Lengths in px of the full-size frame. */
export interface SharpBand {
  /** Its middle. */
  x: number;
  y: number;
  /** Turn of the band, degrees clockwise from level. */
  turn: number;
  /** Width of what is wholly sharp, and of each way from there to the full blur. */
  sharp: number;
  soft: number;
  /** Diameter of the blur disc beyond. */
  blur: number;
}

/** Diameter of the blur disc at a point, px; lengths as in the band. */
export function bandDisc(band: SharpBand, x: number, y: number): number {
  const angle = (band.turn * Math.PI) / 180;
  const away = Math.abs((y - band.y) * Math.cos(angle) - (x - band.x) * Math.sin(angle)) - band.sharp / 2;
  if (away <= 0) return 0;
  if (away >= band.soft) return band.blur;
  const t = away / band.soft;
  return band.blur * t * t * (3 - 2 * t);
}

/** Focus, m, of the lens that stands in for a band, and how much larger than the band's its disc at infinity is. */
const focus = 1;
const beyond = 2;
const stand: Lens = { focalLength: 50, sensorWidth: 36, fNumber: 1, focus };

/**
 * Distances and a lens that give the band's discs: all that is not sharp lies behind the focus, so that what is sharp does not bleed.
 *
 * @param size of the frame as it is rendered
 * @param scale pixels of it per full-size pixel
 * @param across see `Optics`
 */
export function bandOptics(
  band: SharpBand,
  size: { width: number; height: number },
  scale: number,
  across: number,
  aperture: Aperture,
): { distance: Plane; lens: Optics } {
  const distance = makePlane(size.width, size.height);
  for (let y = 0, p = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++, p++) {
      const disc = bandDisc(band, (x + 0.5) / scale, (y + 0.5) / scale);
      distance.data[p] = focus / (1 - disc / (beyond * Math.max(1e-3, band.blur)));
    }
  }
  const fNumber = fNumberFor(stand, Infinity, across, beyond * Math.max(1e-3, band.blur));
  return { distance, lens: opticsOf({ ...stand, fNumber }, across, aperture) };
}

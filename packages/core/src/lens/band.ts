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

/** Distances, m, and the lens that sees them. */
export interface SeenThrough {
  distance: Plane;
  lens: Optics;
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
): SeenThrough {
  const discs = makePlane(size.width, size.height);
  for (let y = 0, p = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++, p++) discs.data[p] = bandDisc(band, (x + 0.5) / scale, (y + 0.5) / scale);
  }
  return discOptics(discs, band.blur, across, aperture);
}

/**
 * Distances and a lens that give a disc of its own to every pixel: all that is not sharp lies behind the focus.
 *
 * @param discs diameters, px of the full-size frame
 * @param largest of them
 */
export function discOptics(discs: Plane, largest: number, across: number, aperture: Aperture): SeenThrough {
  const infinite = beyond * Math.max(1e-3, largest);
  const data = discs.data.map((disc) => focus / (1 - disc / infinite));
  const fNumber = fNumberFor(stand, Infinity, across, infinite);
  return { distance: { ...discs, data }, lens: opticsOf({ ...stand, fNumber }, across, aperture) };
}

/**
 * Distances at which a lens gives every disc a share of its size: nearness is drawn towards that of the focus, in which discs are even.
 *
 * @param share of the blur at each pixel, 0 to 1
 * @param focus of the lens, m
 */
export function easedDistances(distance: number | Plane, share: Plane, focus: number): Plane {
  const at = typeof distance === 'number' ? () => distance : (p: number) => distance.data[p];
  return { ...share, data: share.data.map((k, p) => 1 / (1 / focus + k * (1 / at(p) - 1 / focus))) };
}

/** One disc, px of the full-size frame, or distances, m, and the lens that sees them. */
export type Blur = { disc: number } | { distance: number | Plane; lens: Optics };

/**
 * What blurs something: its band of sharpness, or its own disc, or its distance before the lens.
 *
 * @param share of its blur at every pixel of the frame, 0 to 1; all of it without one
 * @param size of the frame as it is rendered
 * @param scale pixels of it per full-size pixel
 */
export function blurBy(
  { band, blur }: { band: SharpBand | null; blur: number | null },
  distance: number | Plane,
  share: Plane | undefined,
  lens: Optics,
  size: { width: number; height: number },
  scale: number,
): Blur {
  const { across, aperture, focus } = lens;
  if (band) {
    const banded = bandOptics(band, size, scale, across, aperture);
    return share ? { ...banded, distance: easedDistances(banded.distance, share, banded.lens.focus) } : banded;
  }
  if (blur !== null) {
    return share ? discOptics({ ...share, data: share.data.map((k) => k * blur) }, blur, across, aperture) : { disc: blur };
  }
  return { distance: share ? easedDistances(distance, share, focus) : distance, lens };
}

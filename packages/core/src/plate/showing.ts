import { boxMean } from '../raster/filter';
import { assertSameSize, type Plane } from '../raster/plane';
import { usualScale } from '../raster/usual';

/** How much of the invented part of a plate the finished picture shows. */
export interface Showing {
  /** Weight with which each invented pixel of the plate enters the finished picture, 0 to 1. */
  weight: Plane;
  /** Share of what is invented that enters. */
  share: number;
  /** Share of the finished picture that is invented. */
  ofPicture: number;
  /** Where most of it shows, most first. */
  places: ShowingPlace[];
}

/** A spot where invented ground shows, px of the full-size shot. */
export interface ShowingPlace {
  x: number;
  y: number;
  /** Mean weight around it. */
  weight: number;
}

/** A place is named from this mean weight on. */
const seen = 0.1;
/** Places keep so many px of a shot of the usual size from each other, and are so broad. */
const spacing = 90;
const broad = 12;

/**
 * What of a plate will show. Every pixel of the plate is spread by the lens and then covered by what stands before it, so its weight is
 * how invented it is times the mean, over its disc, of what the cards in front let through.
 *
 * @param hole 0 (photographed) to 1 (invented)
 * @param through what lies before the plate lets through, spread by the plate's disc, where the plate is; 0 outside the frame
 * @param scale pixels of the planes per full-size pixel
 * @throws RangeError when sizes differ
 */
export function showing(hole: Plane, through: Plane, scale: number): Showing {
  assertSameSize(hole, through, 'what of the plate shows');
  const { width, height } = hole;
  const weight: Plane = { width, height, data: hole.data.map((h, p) => h * Math.min(1, Math.max(0, through.data[p]))) };
  let [shown, invented] = [0, 0];
  for (let p = 0; p < weight.data.length; p++) {
    shown += weight.data[p];
    invented += hole.data[p];
  }
  return { weight, share: invented > 0 ? shown / invented : 0, ofPicture: shown / weight.data.length, places: placesOf(weight, scale) };
}

/** Peaks of the weight, apart from each other. */
function placesOf(weight: Plane, scale: number): ShowingPlace[] {
  const { width, height } = weight;
  const usual = usualScale(weight, scale);
  const mean = boxMean(weight, Math.max(1, Math.round(broad * usual))).data;
  const step = Math.max(1, Math.round(4 * usual));
  const peaks: ShowingPlace[] = [];
  for (let y = 0; y < height; y += step) {
    for (let x = 0; x < width; x += step) {
      const w = mean[y * width + x];
      if (w >= seen) peaks.push({ x: (x + 0.5) / scale, y: (y + 0.5) / scale, weight: w });
    }
  }
  peaks.sort((a, b) => b.weight - a.weight);
  const out: ShowingPlace[] = [];
  for (const p of peaks) if (out.every((q) => Math.hypot(p.x - q.x, p.y - q.y) >= (spacing * usual) / scale)) out.push(p);
  return out;
}

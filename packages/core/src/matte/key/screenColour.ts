import { oklabPlanes, oklabToLinear, type Triple } from '../../colour/oklab';
import type { Picture } from '../../raster/plane';
import { resizePicture, scaledSize } from '../../raster/resize';

/** Chroma below which nothing can be a coloured screen. */
const leastChroma = 0.09;
const sectors = 72;

/** A coloured screen found in a picture. */
export interface FoundScreen {
  /** Its mean colour, linear light. */
  colour: Triple;
  /** Share of the picture that has about this colour, 0 to 1. */
  share: number;
}

/**
 * The screen's colour by itself: the strongest hue of the saturated pixels, counted by chroma and by nearness to
 * the picture's rim, then the mean of those within 20° of it. Looks at the picture reduced to 240 px.
 *
 * @returns nothing when less than a twentieth of the picture is of one saturated hue
 */
export function findScreen(shot: Picture): FoundScreen | undefined {
  const { width, height } = scaledSize(shot.width, shot.height, Math.min(1, 240 / Math.max(shot.width, shot.height)));
  const lab = oklabPlanes(resizePicture({ ...shot, a: undefined }, width, height));
  const n = width * height;
  const votes = new Float64Array(sectors);
  const sectorOf = (p: number): number => Math.floor(((Math.atan2(lab.b[p], lab.a[p]) / (2 * Math.PI) + 1) % 1) * sectors) % sectors;
  for (let p = 0; p < n; p++) {
    const chroma = Math.hypot(lab.a[p], lab.b[p]);
    if (chroma < leastChroma) continue;
    const rim = Math.min(p % width, width - 1 - (p % width)) / width;
    votes[sectorOf(p)] += chroma * (1.5 - rim);
  }
  const spread = Array.from(votes, (_, i) => [-2, -1, 0, 1, 2].reduce((s, k) => s + votes[(i + k + sectors) % sectors], 0));
  const best = spread.indexOf(Math.max(...spread));
  const hue = (2 * Math.PI * (best + 0.5)) / sectors;
  const sum = [0, 0, 0];
  let count = 0;
  for (let p = 0; p < n; p++) {
    const chroma = Math.hypot(lab.a[p], lab.b[p]);
    if (chroma < leastChroma || lab.a[p] * Math.cos(hue) + lab.b[p] * Math.sin(hue) < chroma * Math.cos(Math.PI / 9)) continue;
    count++;
    sum[0] += lab.l[p];
    sum[1] += lab.a[p];
    sum[2] += lab.b[p];
  }
  if (count < n / 20) return undefined;
  const [r, g, b] = oklabToLinear(sum[0] / count, sum[1] / count, sum[2] / count);
  return { colour: [Math.max(0, r), Math.max(0, g), Math.max(0, b)], share: count / n };
}

import { components } from '../raster/components';
import type { Plane } from '../raster/plane';
import { maskOf } from '../raster/mask';

/** What can be said of a matte without knowing the truth. */
export interface MatteFigures {
  /** Share of the picture the subject covers, 0 to 1. */
  subject: number;
  /** Share of the picture that is neither clear nor opaque, 0 to 1. */
  soft: number;
  /** Loose bits, and enclosed gaps, of up to `smallest` px² each. */
  specks: number;
  pinholes: number;
}

/** @param smallest area up to which a region counts as a speck or a pinhole, px² of this matte */
export function matteFigures(matte: Plane, smallest: number): MatteFigures {
  const { width, height, data } = matte;
  let covered = 0;
  let soft = 0;
  for (let p = 0; p < data.length; p++) {
    const v = data[p];
    covered += v;
    if (v > 0.01 && v < 0.99) soft++;
  }
  const small = (solid: boolean): number => {
    const mask = maskOf(data, (v) => (solid ? v > 0.02 : v < 0.98));
    return components(mask, width, height).area.filter((area, i) => i > 0 && area <= smallest).length;
  };
  return { subject: covered / data.length, soft: soft / data.length, specks: small(true), pinholes: small(false) };
}

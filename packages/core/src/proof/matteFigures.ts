import { regionRuns } from '../raster/components';
import type { Plane } from '../raster/plane';

/** What can be said of a matte without knowing the truth. */
export interface MatteFigures {
  /** Share of the picture the subject covers, 0 to 1. */
  subject: number;
  /** Share of the picture that is neither clear nor opaque, 0 to 1. */
  soft: number;
  /** Loose bits, and enclosed gaps, of up to `smallest` px² each. */
  specks: number;
  pinholes: number;
  /** Where its lowest part is seen, as a share of the picture's height from above; nothing when there is none, or the picture's border cuts it off. */
  foot?: number;
}

/** Opacity of what may be a speck, and of what may be a pinhole. */
export const notClear = { above: 0.02, below: Infinity };
export const notOpaque = { above: -Infinity, below: 0.98 };

/**
 * How much of a matte is subject and how much of that is soft, and its specks and pinholes.
 *
 * @param smallest area up to which a region counts as a speck or a pinhole, px² of this matte
 */
export function matteFigures(matte: Plane, smallest: number): MatteFigures {
  const { width, height, data } = matte;
  let covered = 0;
  let soft = 0;
  for (let p = 0; p < data.length; p++) {
    const v = data[p];
    covered += v;
    if (v > 0.01 && v < 0.99) soft++;
  }
  const small = (limits: typeof notClear): number =>
    regionRuns({ values: data, ...limits }, width, height).area.filter((area, i) => i > 0 && area <= smallest).length;
  const foot = footOf(matte);
  return {
    ...{ subject: covered / data.length, soft: soft / data.length, specks: small(notClear), pinholes: small(notOpaque) },
    ...(foot !== undefined && { foot }),
  };
}

/** Share of a row that is more than a hair. */
const leastFoot = 0.004;

function footOf({ width, height, data }: Plane): number | undefined {
  for (let y = height - 1; y >= 0; y--) {
    let covered = 0;
    for (let p = y * width; p < (y + 1) * width; p++) if (data[p] > 0.5) covered++;
    if (covered < Math.max(1, leastFoot * width)) continue;
    return y >= height - 2 ? undefined : (y + 1) / height;
  }
  return undefined;
}

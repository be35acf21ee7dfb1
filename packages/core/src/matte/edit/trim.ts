import { copyOf } from '../../runtime/parallelFor';
import { regionRuns } from '../../raster/components';
import { gaussian } from '../../raster/filter';
import type { Plane } from '../../raster/plane';

/** Corrections of a matte's edge. Lengths in pixels of the full-size shot. */
export interface Trim {
  /** Moves the edge outwards (positive) or inwards, px. */
  shift: number;
  /** Softens the edge: standard deviation of a Gaussian, px. */
  feather: number;
  /** Steepens (positive) or flattens the edge around half opacity, −100 to 100. */
  firmness: number;
  /** Loose specks and enclosed pinholes up to this area are removed, px². */
  specks: number;
}

/** Nothing changed. */
export const noTrim: Trim = { shift: 0, feather: 0, firmness: 0, specks: 0 };

/** Applies the corrections in the order specks, shift, feather, firmness. Identity returns the plane itself. */
export function trimMatte(matte: Plane, trim: Trim, scale: number): Plane {
  let out = matte;
  if (trim.specks > 0) out = removeSpecks(out, trim.specks * scale * scale);
  if (trim.shift !== 0) out = shiftEdge(out, trim.shift * scale);
  if (trim.feather > 0) out = gaussian(out, trim.feather * scale);
  if (trim.firmness !== 0) out = firm(out, trim.firmness);
  return out;
}

/** Regions that are not clear become so when they are no larger than the area; then those that are not opaque. */
function removeSpecks(matte: Plane, area: number): Plane {
  const { width, height } = matte;
  // Copied when something is to be changed.
  let { data } = matte;
  const drop = (above: number, below: number, value: number): void => {
    const { start, end, region, area: areas } = regionRuns({ values: data, above, below }, width, height);
    for (let i = 0; i < region.length; i++) {
      if (areas[region[i]] > area) continue;
      if (data === matte.data) data = copyOf(data);
      data.fill(value, start[i], end[i]);
    }
  };
  drop(0.02, Infinity, 0);
  drop(-Infinity, 0.98, 1);
  return data === matte.data ? matte : { width, height, data };
}

/**
 * Samples the matte a little further along its own gradient, which moves the edge by that length whatever
 * its softness; where the matte is flat nothing moves.
 */
function shiftEdge(matte: Plane, length: number): Plane {
  const { width, height } = matte;
  const reach = Math.max(1, Math.abs(length));
  const smooth = gaussian(matte, reach).data;
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const gx = smooth[y * width + Math.min(width - 1, x + 1)] - smooth[y * width + Math.max(0, x - 1)];
      const gy = smooth[Math.min(height - 1, y + 1) * width + x] - smooth[Math.max(0, y - 1) * width + x];
      const steepness = Math.hypot(gx, gy);
      if (steepness < 1e-4) {
        data[p] = matte.data[p];
        continue;
      }
      data[p] = sampleAt(matte, x + (gx / steepness) * length, y + (gy / steepness) * length);
    }
  }
  return { width, height, data };
}

/** Bilinear, borders repeated; whole coordinates are pixel centres. */
function sampleAt(p: Plane, x: number, y: number): number {
  const cx = Math.min(p.width - 1, Math.max(0, x));
  const cy = Math.min(p.height - 1, Math.max(0, y));
  const x0 = Math.floor(cx);
  const y0 = Math.floor(cy);
  const x1 = Math.min(p.width - 1, x0 + 1);
  const y1 = Math.min(p.height - 1, y0 + 1);
  const u = cx - x0;
  const top = p.data[y0 * p.width + x0] * (1 - u) + p.data[y0 * p.width + x1] * u;
  const low = p.data[y1 * p.width + x0] * (1 - u) + p.data[y1 * p.width + x1] * u;
  return top + (low - top) * (cy - y0);
}

function firm(matte: Plane, firmness: number): Plane {
  const gain = Math.pow(4, firmness / 100);
  return { ...matte, data: matte.data.map((v) => (v <= 0 ? 0 : v >= 1 ? 1 : Math.min(1, Math.max(0, 0.5 + (v - 0.5) * gain)))) };
}

import { luminance } from '../colour/cielab';
import { gaussian } from '../raster/filter';
import { halve } from '../raster/resize';
import { makePlane, type Picture, type Plane } from '../raster/plane';

/** How blurred a region is. */
export interface MeasuredBlur {
  /** Diameter of the disc that blurs its edges, px of the picture. */
  diameter: number;
  /** Standard deviation of a Gaussian of the same spread, px: a quarter of it. */
  sigma: number;
  /** Number of edge pixels looked at. */
  edges: number;
}

/** Widths, px, at which edges are looked at; from 3 px on in a picture halved until they are under it. */
const widths = [0.8, 1.3, 2, 2.8, 4, 5.6, 8, 11, 16];
/** How much wider the second look is. */
const wider = 1.6;

/** How edges are looked for. */
interface Looking {
  /** So many there must be. */
  fewest: number;
  /** Share of weight around an edge from which it counts. */
  within: number;
  /** Pixels around the region that are looked at as well. */
  margin: number;
  /** Slope that is clear of noise, from the slopes that there are and the picture's noise. */
  clear: (median: number, noise: number) => number;
}

/** Among edges of all kinds: noise alone hardly ever makes slopes of five times their median (Rayleigh). */
const crowded: Looking = { fewest: 30, within: 0.99, margin: 24, clear: (median) => 5 * median };
/** Where everything is soft most of a region is slope: it is measured against the noise of the pixels, which grain makes coarser than white. */
const allSoft: Looking = { fewest: 8, within: 0.6, margin: 96, clear: (_, noise) => 12 * noise };
/** Which of the edges, from the sharpest, stands for all. */
const counted = 0.55;

/**
 * Blur of a region by how much its edges lose when they are blurred once more (re-blur ratio, Zhuo & Sim 2011), read
 * for an edge behind a disc rather than a Gaussian, at the width at which the answer is best conditioned. The middle
 * one of the edges counts: crowded edges look sharper than they are, soft things softer. Where no edge stands out, a region that is soft all
 * over is looked at again against its noise alone.
 *
 * @param weight where to look, 0 to 1; everywhere when left out
 * @returns nothing when there are too few edges to say
 */
export function measureBlur(picture: Picture, weight?: Plane): MeasuredBlur | undefined {
  return look(picture, weight, crowded) ?? look(picture, weight, allSoft);
}

function look(picture: Picture, weight: Plane | undefined, looking: Looking): MeasuredBlur | undefined {
  const cut = cropTo(picture, weight, looking.margin);
  if (!cut) return undefined;
  const noise = noiseOf(cut.light);
  let best: MeasuredBlur | undefined;
  let { light, weight: share } = cut;
  let size = 1;
  for (const width of widths) {
    while (width / size > 3) {
      [light, share] = [halve(light), halve(share)];
      size *= 2;
    }
    const here = width / size;
    if (4 * here > Math.min(light.width, light.height)) break;
    // White noise of one pixel in the slopes of a Gaussian's width.
    const left = (noise * size) / ((width * wider) ** 2 * Math.sqrt(8 * Math.PI));
    const found = diametersAt(slopes(light, here), slopes(light, here * wider), share, here, left, looking);
    if (found.length < looking.fewest) continue;
    const diameter = quantile(found, Math.floor(found.length * counted)) * size;
    // The ratio is best read where the disc is about as wide as the look at it.
    if (best && diameter < 2.2 * width) break;
    best = { diameter, sigma: diameter / 4, edges: found.length };
    if (diameter < 3.2 * width) break;
  }
  return best;
}

/** The part of a picture that has weight. */
function cropTo(p: Picture, weight: Plane | undefined, margin: number): { light: Plane; weight: Plane } | undefined {
  let [x0, y0, x1, y1] = [0, 0, p.width, p.height];
  if (weight) {
    [x0, y0, x1, y1] = [p.width, p.height, 0, 0];
    for (let y = 0, i = 0; y < p.height; y++) {
      for (let x = 0; x < p.width; x++, i++) {
        if (weight.data[i] <= 0) continue;
        x0 = Math.min(x0, x);
        x1 = Math.max(x1, x + 1);
        y0 = Math.min(y0, y);
        y1 = y + 1;
      }
    }
  }
  if (x1 - x0 < 8 || y1 - y0 < 8) return undefined;
  // A margin lets edges near the rim be looked at as widely as the others.
  const [left, top] = [Math.max(0, x0 - margin), Math.max(0, y0 - margin)];
  const [w, h] = [Math.min(p.width, x1 + margin) - left, Math.min(p.height, y1 + margin) - top];
  const light = makePlane(w, h);
  const share = makePlane(w, h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const from = (top + y) * p.width + left + x;
      // Lens blur is even in linear light; above white nothing is known.
      light.data[y * w + x] = Math.min(1, luminance(p.r[from], p.g[from], p.b[from]));
      share.data[y * w + x] = weight ? weight.data[from] : 1;
    }
  }
  return { light, weight: share };
}

/** Standard deviation of a pixel's noise, from second differences along rows: what is soft has none. */
function noiseOf({ data, width, height }: Plane): number {
  const found: number[] = [];
  const step = Math.max(1, Math.floor(data.length / 40000));
  for (let p = width + 1; p < width * (height - 1) - 1; p += step) found.push(Math.abs(data[p - 1] - 2 * data[p] + data[p + 1]));
  if (found.length === 0) return 0;
  return quantile(found, found.length >> 1) / (0.6745 * Math.sqrt(6));
}

/** The number at a rank, from the smallest. */
function quantile(values: number[], rank: number): number {
  return Float64Array.from(values).sort()[rank];
}

interface Slopes {
  dx: Float32Array;
  dy: Float32Array;
  size: Float32Array;
  width: number;
  height: number;
}

function slopes(light: Plane, sigma: number): Slopes {
  const { data, width, height } = gaussian(light, sigma);
  const [dx, dy, size] = [0, 1, 2].map(() => new Float32Array(data.length));
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      dx[p] = (data[p + 1] - data[p - 1]) / 2;
      dy[p] = (data[p + width] - data[p - width]) / 2;
      size[p] = Math.sqrt(dx[p] * dx[p] + dy[p] * dy[p]);
    }
  }
  return { dx, dy, size, width, height };
}

/** Disc diameters, px, at all pixels on the crest of an edge that is clear of noise. */
function diametersAt(first: Slopes, second: Slopes, weight: Plane, sigma: number, noise: number, { within, clear }: Looking): number[] {
  const { width, height, size, dx, dy } = second;
  // What lies outside must not reach in.
  const clearly = gaussian(weight, 1.5 * sigma).data;
  const sample: number[] = [];
  for (let p = 0; p < size.length; p += 7) if (size[p] > 0 && clearly[p] > within) sample.push(size[p]);
  if (sample.length === 0) return [];
  const strong = Math.max(1e-4, clear(quantile(sample, sample.length >> 1), noise));
  const margin = Math.ceil(sigma) + 1;
  const out: number[] = [];
  for (let y = margin; y < height - margin; y++) {
    for (let x = margin; x < width - margin; x++) {
      const p = y * width + x;
      if (clearly[p] <= within || size[p] < strong) continue;
      const [ux, uy] = [dx[p] / size[p], dy[p] / size[p]];
      const step = Math.round(uy) * width + Math.round(ux);
      if (
        size[p] < size[p + step] ||
        size[p] < size[p - step] ||
        first.size[p] < first.size[p + step] ||
        first.size[p] < first.size[p - step]
      )
        continue;
      out.push(diameterFor(first.size[p] / size[p]) * sigma);
    }
  }
  return out;
}

/** Steepness of an edge blurred by a disc of a diameter and a Gaussian of a standard deviation, at its middle. */
function steepness(diameter: number, sigma: number): number {
  if (diameter <= 0) return 1 / (Math.sqrt(2 * Math.PI) * sigma);
  const parts = 200;
  let sum = 0;
  for (let i = 0; i < parts; i++) {
    // A disc seen across an edge: chords, 4/(πd)·√(1 − (2x/d)²).
    const t = (2 * (i + 0.5)) / parts - 1;
    const x = (t * diameter) / 2;
    sum += Math.sqrt(1 - t * t) * Math.exp((-0.5 * x * x) / (sigma * sigma));
  }
  return (sum * (diameter / parts) * 4) / (Math.PI * diameter) / (Math.sqrt(2 * Math.PI) * sigma);
}

const ratios = Array.from({ length: 121 }, (_, i) => steepness(i / 10, 1) / steepness(i / 10, wider));

/** Diameter, in widths of the first look, of the disc for which the second look is so much flatter. */
function diameterFor(ratio: number): number {
  if (ratio >= ratios[0]) return 0;
  let k = 0;
  while (k < ratios.length - 2 && ratios[k + 1] > ratio) k++;
  const t = (ratios[k] - ratio) / (ratios[k] - ratios[k + 1]);
  return (k + Math.min(1, t)) / 10;
}

/**
 * The disc that must be added to one blur to give another, both diameters, px: spreads add as squares. 0 when the
 * picture is as blurred already.
 */
export function blurToAdd(has: number, wanted: number): number {
  return wanted > has ? Math.sqrt(wanted * wanted - has * has) : 0;
}

import { pause, type Context } from '../context/context';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { grownMask } from '../raster/morphology';
import { fitColourModel, type ColourModel, type Features } from './colourModel';
import { colourEvidence } from './evidence';
import { geodesicDistances } from '../colour/geodesic';
import { markedEdge, markedInside, markedOutside, rasterMarks, type Mark } from './marks';
import { minimumCut, stepX, stepY, type PixelGraph } from './minimumCut';
import { indicesWhere, weightOf } from '../raster/mask';

/** A first separation, hard. */
export interface RoughCut {
  /** 1 where the subject is thought to be, else 0. */
  label: Uint8Array;
  width: number;
  height: number;
  inside: ColourModel;
  outside: ColourModel;
}

/** Weight of a separated pair of like pixels against one unit of colour evidence. */
const jointWeight = 12;
/** Evidence for being nearer to inside than to outside marks, at most. */
const positionWeight = 6;
/** Evidence is trusted no further than this. */
const evidenceLimit = 4;
/** Head start of outside marks over the picture's rim. */
const rimCost = 0.2;
/** Toll on every step under an edge mark: the border runs there, so ways seldom cross it. */
const fence = 0.1;
const unit = 64;
/** Half-width, in pixels, of the ribbon in which a larger picture's cut may differ from the smaller one's. */
const ribbon = 5;

/**
 * Where the subject is, by colour and place: mixtures of Gaussians learnt from the marks (and once more from
 * the first answer), a weak preference for the nearer mark, and a minimum cut on contrast-weighted neighbours
 * (Boykov & Jolly 2001; Rother et al. 2004). Marks are hard. Without outside marks the picture's rim is
 * taken for outside.
 *
 * The first of `levels` is cut whole, each larger one only in a ribbon along the border found before
 * (Lombaert et al. 2005). All levels show the same picture, smallest first.
 *
 * @param scales pixels of each level per pixel of the full-size shot, for the marks
 * @param whole the smallest level's graph, if it has been made before
 * @throws AbortError
 */
export async function roughCut(
  levels: Features[],
  scales: number[],
  marks: readonly Mark[],
  context: Context,
  whole = new WholeGraph(levels[0]),
): Promise<RoughCut> {
  const lab = levels[0];
  const { width, height } = lab;
  const said = rasterMarks(marks, width, height, scales[0]);
  const insidePixels = indicesOf(said, markedInside);
  const outsidePixels = surelyOutside(said, width, height);
  const nearer = await placePreference(lab, said, insidePixels, outsidePixels, context);
  const place = nearer.map((v) => positionWeight * v);
  const cutBy = async (inside: ArrayLike<number>, outside: ArrayLike<number>): Promise<Uint8Array> => {
    const models = { inside: fitColourModel(lab, inside, 5), outside: fitColourModel(lab, outside, 7) };
    const label = await whole.cut(said, await colourEvidence(lab, models, context), place, context);
    return dropUnmarked(label, said, width, height);
  };
  let label = await cutBy(insidePixels, likelyOutside(said, nearer));
  label = await cutBy(agreed(label, said, 1, markedInside), agreed(label, said, 0, markedOutside));

  const colour: Features = { width, height, l: lab.l, a: lab.a, b: lab.b };
  const inside = fitColourModel(colour, agreed(label, said, 1, markedInside), 5);
  const outside = fitColourModel(colour, agreed(label, said, 0, markedOutside), 7);
  let cut: RoughCut = { label, width, height, inside, outside };
  for (let i = 1; i < levels.length; i++) {
    const larger = rasterMarks(marks, levels[i].width, levels[i].height, scales[i]);
    cut = await cutRibbon(cut, levels[i], larger, context);
  }
  return cut;
}

function indicesOf(codes: Uint8Array, code: number): Int32Array {
  return indicesWhere(codes.length, (i) => codes[i] === code);
}

/** Marked outside; failing that, a rim of the picture of a fiftieth of its size where nothing else is said. */
function surelyOutside(said: Uint8Array, width: number, height: number): Int32Array {
  const marked = indicesOf(said, markedOutside);
  if (marked.length > 0) return marked;
  const rim = Math.max(1, Math.round(Math.min(width, height) / 50));
  const out: number[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const near = Math.min(x, y, width - 1 - x, height - 1 - y);
      if (near < rim && said[y * width + x] === 0) out.push(y * width + x);
    }
  }
  return Int32Array.from(out);
}

/** Marked outside, and whatever is unmarked and much nearer to outside than to inside. */
function likelyOutside(said: Uint8Array, place: Float32Array): Int32Array {
  return indicesWhere(said.length, (p) => said[p] === markedOutside || (said[p] === 0 && place[p] < -0.3));
}

/** Pixels that the cut and the marks agree on; the models are learnt from them the second time. */
function agreed(label: Uint8Array, said: Uint8Array, wanted: number, code: number): Int32Array {
  return indicesWhere(label.length, (i) => (said[i] === 0 ? label[i] === wanted : said[i] === code));
}

/**
 * −1 beside outside marks to 1 beside inside marks, by the cheaper way over the picture. The picture's rim, far
 * from any inside mark, counts as a weaker kind of outside.
 */
async function placePreference(
  lab: Features,
  said: Uint8Array,
  insidePixels: Int32Array,
  outsidePixels: Int32Array,
  context: Context,
): Promise<Float32Array> {
  const { width, height } = lab;
  const n = width * height;
  const fromInside = new Float32Array(n).fill(Infinity);
  const fromOutside = new Float32Array(n).fill(Infinity);
  for (const p of insidePixels) fromInside[p] = 0;
  const away = distanceTo(
    fromInside.map((v) => (v === 0 ? 1 : 0)),
    width,
    height,
  ).data;
  const clear = 0.12 * Math.max(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (Math.min(x, y, width - 1 - x, height - 1 - y) === 0 && away[p] > clear) fromOutside[p] = rimCost;
    }
  }
  for (const p of outsidePixels) fromOutside[p] = 0;
  const toll = weightOf(said, (code) => code === markedEdge).map((v) => fence * v);
  const [toInside, toOutside] = await geodesicDistances(lab, [fromInside, fromOutside], toll, context);
  return toInside.map((d, i) => {
    const e = toOutside[i];
    if (!Number.isFinite(d)) return Number.isFinite(e) ? -1 : 0;
    return Number.isFinite(e) ? (e - d) / (e + d + 1e-3) : 1;
  });
}

/** Cost of separating two neighbours: high between like pixels, low across an edge. */
function jointCost(lab: Features, p: number, q: number, steepness: number, length: number): number {
  const d = (lab.l[p] - lab.l[q]) ** 2 + (lab.a[p] - lab.a[q]) ** 2 + (lab.b[p] - lab.b[q]) ** 2;
  return 1 + Math.round((unit * jointWeight * Math.exp(-d * steepness)) / length);
}

/** One over twice the mean squared difference of neighbours: makes the joints fit the picture's contrast. */
function contrastSteepness(lab: Features): number {
  const { width, height } = lab;
  let sum = 0;
  let n = 0;
  for (let y = 0; y + 1 < height; y += 2) {
    for (let x = 0; x + 1 < width; x += 2) {
      const p = y * width + x;
      for (const q of [p + 1, p + width]) {
        sum += (lab.l[p] - lab.l[q]) ** 2 + (lab.a[p] - lab.a[q]) ** 2 + (lab.b[p] - lab.b[q]) ** 2;
        n++;
      }
    }
  }
  return sum > 1e-9 ? n / (2 * sum) : 0;
}

const hard = 1 << 24;

/** @param colour evidence of colour as `colourEvidence` gives it @param place the same of place, in graph units */
function pullOf(code: number, colour: number, place = 0): number {
  if (code === markedInside) return hard;
  if (code === markedOutside) return -hard;
  return Math.round(unit * (Math.max(-evidenceLimit, Math.min(evidenceLimit, colour / 2)) + place));
}

/**
 * A picture's whole graph, made once. What flows in it after a cut is where the next cut begins, whatever is asked then: only
 * the difference in what pixels pull has to be routed (Kohli & Torr 2007), and the answer is the same as from nothing.
 */
export class WholeGraph {
  private readonly graph: PixelGraph;
  private readonly pulled: Int32Array;
  /** False while a cut is under way or was broken off. */
  private settled = true;
  /** Ends with the last cut that was asked for: one at a time. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly lab: Features) {
    const { width, height } = lab;
    this.graph = makeGraph(width * height);
    this.pulled = new Int32Array(width * height);
    this.join();
  }

  private join(): void {
    const { width, height } = this.lab;
    const steepness = contrastSteepness(this.lab);
    for (let y = 0, p = 0; y < height; y++) {
      for (let x = 0; x < width; x++, p++) {
        for (let d = 0; d < 4; d++) {
          const nx = x + stepX[d];
          const ny = y + stepY[d];
          if (nx < 0 || nx >= width || ny >= height) continue;
          const q = ny * width + nx;
          join(this.graph, p, q, d, jointCost(this.lab, p, q, steepness, d & 1 ? Math.SQRT2 : 1));
        }
      }
    }
  }

  /**
   * The cheapest whole cut under evidence of colour and a preference for places.
   *
   * @param said the marks' codes; marked pixels are hard
   * @param colour as `colourEvidence` gives it
   * @param place evidence for inside (positive) or outside by place, in the models' units
   * @throws AbortError
   */
  cut(said: Uint8Array, colour: Float32Array, place: Float32Array, context: Context): Promise<Uint8Array> {
    const pullAt = (p: number): number => pullOf(said[p], colour[p], place[p]);
    const cut = this.last.then(() => this.cutNow(pullAt, context));
    this.last = cut.catch(() => undefined);
    return cut;
  }

  private async cutNow(pullAt: (p: number) => number, context: Context): Promise<Uint8Array> {
    const { graph, pulled } = this;
    if (!this.settled) {
      graph.pull.fill(0);
      pulled.fill(0);
      this.join();
    }
    this.settled = false;
    for (let p = 0; p < pulled.length; p++) {
      if ((p & 8191) === 0) await pause(context);
      const wanted = pullAt(p);
      graph.pull[p] += wanted - pulled[p];
      pulled[p] = wanted;
    }
    const label = await minimumCut(graph, context);
    this.settled = true;
    return label;
  }
}

/** Whatever no inside mark touches is not subject, however alike it looks. */
function dropUnmarked(label: Uint8Array, said: Uint8Array, width: number, height: number): Uint8Array {
  const found = components(label, width, height);
  const touched = new Uint8Array(found.area.length);
  said.forEach((code, p) => code === markedInside && (touched[found.label[p]] = 1));
  label.forEach((l, p) => l === 1 && touched[found.label[p]] === 0 && (label[p] = 0));
  return label;
}

function makeGraph(count: number): PixelGraph {
  return {
    count,
    beside: new Int32Array(count * 8).fill(-1),
    joint: new Int32Array(count * 8),
    pull: new Int32Array(count),
  };
}

function join(graph: PixelGraph, p: number, q: number, d: number, cost: number): void {
  graph.beside[p * 8 + d] = q;
  graph.beside[q * 8 + (d ^ 4)] = p;
  graph.joint[p * 8 + d] = cost;
  graph.joint[q * 8 + (d ^ 4)] = cost;
}

/** The cut again on a larger picture, free only near the border of the smaller one's and where marks disagree. */
async function cutRibbon(small: RoughCut, lab: Features, said: Uint8Array, context: Context): Promise<RoughCut> {
  const { width, height } = lab;
  const label = enlarge(small, width, height);
  for (let p = 0; p < label.length; p++) {
    if (said[p] === markedInside) label[p] = 1;
    else if (said[p] === markedOutside) label[p] = 0;
  }
  const near = grownMask(borderOf(label, width, height), width, height, ribbon);
  const node = new Int32Array(width * height).fill(-1);
  let count = 0;
  for (let p = 0; p < node.length; p++) if (near[p]) node[p] = count++;
  const graph = makeGraph(count);
  const steepness = contrastSteepness(lab);
  const colour = await colourEvidence(lab, small, context, near);
  for (let y = 0; y < height; y++) {
    if ((y & 15) === 0) await pause(context);
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const at = node[p];
      if (at < 0) continue;
      let pull = pullOf(said[p], colour[p]);
      for (let d = 0; d < 8; d++) {
        const nx = x + stepX[d];
        const ny = y + stepY[d];
        if (nx < 0 || nx >= width || ny < 0 || ny >= height) continue;
        const q = ny * width + nx;
        if (node[q] >= 0 && d >= 4) continue;
        const cost = jointCost(lab, p, q, steepness, d & 1 ? Math.SQRT2 : 1);
        if (node[q] >= 0) join(graph, at, node[q], d, cost);
        else pull += label[q] ? cost : -cost;
      }
      graph.pull[at] = pull;
    }
  }
  const cut = await minimumCut(graph, context);
  for (let p = 0; p < node.length; p++) if (node[p] >= 0) label[p] = cut[node[p]];
  return { ...small, label, width, height };
}

/** A hard separation at another size, its border smoothed by interpolation. */
export function enlarge(cut: { label: Uint8Array; width: number; height: number }, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const sy = Math.min(cut.height - 1, Math.max(0, ((y + 0.5) * cut.height) / height - 0.5));
    const y0 = Math.floor(sy);
    const y1 = Math.min(cut.height - 1, y0 + 1);
    for (let x = 0; x < width; x++) {
      const sx = Math.min(cut.width - 1, Math.max(0, ((x + 0.5) * cut.width) / width - 0.5));
      const x0 = Math.floor(sx);
      const x1 = Math.min(cut.width - 1, x0 + 1);
      const top = cut.label[y0 * cut.width + x0] * (x0 + 1 - sx) + cut.label[y0 * cut.width + x1] * (sx - x0);
      const low = cut.label[y1 * cut.width + x0] * (x0 + 1 - sx) + cut.label[y1 * cut.width + x1] * (sx - x0);
      out[y * width + x] = top * (y0 + 1 - sy) + low * (sy - y0) >= 0.5 ? 1 : 0;
    }
  }
  return out;
}

/** 1 on every pixel with a neighbour, to the right or below or the other way about, on the other side. */
export function borderOf(label: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (x + 1 < width && label[p] !== label[p + 1]) out[p] = out[p + 1] = 1;
      if (y + 1 < height && label[p] !== label[p + width]) out[p] = out[p + width] = 1;
    }
  }
  return out;
}

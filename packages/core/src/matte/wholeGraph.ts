import { pause, type Context } from '../context/context';
import type { Features } from './colourModel';
import { markedInside, markedOutside } from './marks';
import { minimumCut, stepX, stepY, type PixelGraph } from './minimumCut';

/** Weight of a separated pair of like pixels against one unit of colour evidence. */
const jointWeight = 12;
/** Evidence is trusted no further than this. */
const evidenceLimit = 4;
const unit = 64;

/** Cost of separating two neighbours: high between like pixels, low across an edge. */
export function jointCost(lab: Features, p: number, q: number, steepness: number, length: number): number {
  const d = (lab.l[p] - lab.l[q]) ** 2 + (lab.a[p] - lab.a[q]) ** 2 + (lab.b[p] - lab.b[q]) ** 2;
  return 1 + Math.round((unit * jointWeight * Math.exp(-d * steepness)) / length);
}

/** One over twice the mean squared difference of neighbours: makes the joints fit the picture's contrast. */
export function contrastSteepness(lab: Features): number {
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
export function pullOf(code: number, colour: number, place = 0): number {
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

  constructor(
    private readonly lab: Features,
    private readonly steepness = contrastSteepness(lab),
  ) {
    const { width, height } = lab;
    this.graph = makeGraph(width * height);
    this.pulled = new Int32Array(width * height);
    this.join();
  }

  /** Another graph of the same picture in the same state: what flows in it is where its own next cut begins. */
  twin(): WholeGraph {
    const twin = Object.create(WholeGraph.prototype) as WholeGraph;
    const { graph, pulled } = this;
    const copy = { ...graph, joint: graph.joint.slice(), pull: graph.pull.slice() };
    return Object.assign(twin, this, { graph: copy, pulled: pulled.slice(), last: Promise.resolve() });
  }

  private join(): void {
    const { steepness, lab } = this;
    const { width, height } = lab;
    for (let y = 0, p = 0; y < height; y++) {
      for (let x = 0; x < width; x++, p++) {
        for (let d = 0; d < 4; d++) {
          const nx = x + stepX[d];
          const ny = y + stepY[d];
          if (nx < 0 || nx >= width || ny >= height) continue;
          const q = ny * width + nx;
          join(this.graph, p, q, d, jointCost(lab, p, q, steepness, d & 1 ? Math.SQRT2 : 1));
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

/** A graph of so many nodes, none joined yet. */
export function makeGraph(count: number): PixelGraph {
  return {
    count,
    beside: new Int32Array(count * 8).fill(-1),
    joint: new Int32Array(count * 8),
    pull: new Int32Array(count),
  };
}

/** Joins p to its neighbour q in direction d. */
export function join(graph: PixelGraph, p: number, q: number, d: number, cost: number): void {
  graph.beside[p * 8 + d] = q;
  graph.beside[q * 8 + (d ^ 4)] = p;
  graph.joint[p * 8 + d] = cost;
  graph.joint[q * 8 + (d ^ 4)] = cost;
}

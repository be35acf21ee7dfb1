import { inArenaNow } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import type { Features } from './colourModel';
import type { Contours } from './contours';
import { minimumCut, type PixelGraph } from './minimumCut';

/** One over twice the mean squared difference of neighbours: makes the pairwise terms fit the picture's contrast. */
export function contrastSteepness(lab: Features): number {
  const { width, height } = lab;
  let sum = 0;
  let n = 0;
  for (let y = 0; y + 1 < height; y += 2) {
    for (let x = 0; x + 1 < width; x += 2) {
      const p = y * width + x;
      sum += differenceOf(lab, p, p + 1) + differenceOf(lab, p, p + width);
      n += 2;
    }
  }
  return sum > 1e-9 ? n / (2 * sum) : 0;
}

function differenceOf({ l, a, b }: Features, p: number, q: number): number {
  return (l[p] - l[q]) ** 2 + (a[p] - a[q]) ** 2 + (b[p] - b[q]) ** 2;
}

/**
 * A picture's whole graph, made once. What flows in it after a cut is where the next cut begins, whatever is asked then: only
 * the difference of the unary terms has to be routed (Kohli & Torr 2007), and the answer is the same as from nothing.
 */
export class WholeGraph {
  private readonly graph: PixelGraph;
  private readonly unaryBefore: Int32Array;
  /** False while a cut is under way or was broken off. */
  private settled = true;
  /** Ends with the last cut that was asked for: one at a time. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly lab: Features,
    private readonly steepness: number,
    /** Left out, only the difference of two pixels counts. */
    private readonly contours?: Contours,
  ) {
    const { width, height } = lab;
    const count = width * height;
    this.graph = { count, beside: new Int32Array(8 * count), pairwise: new Int32Array(8 * count), unary: new Int32Array(count) };
    this.unaryBefore = new Int32Array(count);
    this.join();
  }

  private join(): void {
    const { steepness, lab, graph, contours } = this;
    inArenaNow((arena) => {
      const [l, a, b] = arena.copiesIn(lab.l, lab.a, lab.b);
      const [beside, pairwise] = [arena.filled(graph.beside.byteLength, 255), arena.filled(graph.pairwise.byteLength)];
      arena.run.pairwiseOn(l, a, b, steepness, contours ? arena.copyIn(contours.across) : 0, lab.width * lab.height);
      arena.run.joinAll(lab.width, lab.height, beside, pairwise);
      arena.copyOut(beside, graph.beside);
      arena.copyOut(pairwise, graph.pairwise);
    });
  }

  /**
   * The cheapest whole cut under evidence of colour and a preference for places.
   *
   * @param seeds the marks' codes; marked pixels are hard
   * @param colour as `colourEvidence` gives it
   * @param place evidence for inside (positive) or outside by place, in the models' units
   * @throws AbortError
   */
  cut(seeds: Uint8Array, colour: Float32Array, place: Float32Array, context: Context): Promise<Uint8Array> {
    const cut = this.last.then(() => this.cutNow(seeds, colour, place, context));
    this.last = cut.catch(() => undefined);
    return cut;
  }

  private async cutNow(seeds: Uint8Array, colour: Float32Array, place: Float32Array, context: Context): Promise<Uint8Array> {
    const { graph, unaryBefore } = this;
    if (!this.settled) {
      graph.unary.fill(0);
      unaryBefore.fill(0);
      this.join();
    }
    this.settled = false;
    inArenaNow((arena) => {
      const places = arena.copiesIn(seeds, colour, place, graph.unary, unaryBefore);
      arena.run.unaryAnew(unaryBefore.length, ...places);
      arena.copyOut(places[3], graph.unary);
      arena.copyOut(places[4], unaryBefore);
    });
    const label = await minimumCut(graph, context);
    this.settled = true;
    return label;
  }
}

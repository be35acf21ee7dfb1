import type { Context } from '../runtime/context';
import { sharedBytes, parallelFor, type Kernel } from '../runtime/parallelFor';
import { makePlane, seenPicture, type Picture, type Plane } from '../raster/plane';
import type { Aperture } from './aperture';
import { draftBelow, levelOf, reduced } from './layers';
import { placedIn, square, squarePower, squaresHolding, type DiscLaw, type Held } from './placing';
import { doubled, emptyStack, finished, layOver, sizeAt, type Stack } from './stack';
import { shapeOf, spreadInto, type Extent, type Frame, type Shape } from './spread';

/** How much of what is behind a layer hides, at its own size. */
export interface LayerCover {
  /** Signed disc of the layer, px. */
  disc: number;
  level: number;
  width: number;
  height: number;
  /** 0 to 255. */
  data: Uint8Array;
}

/** From this diameter on, px, a layer is laid on the halved picture: the rims of its discs are then softened by about a quarter of them. */
const coarseFrom = 12;
/** The same in a draft. */
const coarseInDraft = 6;

/** Side of the tiles in which layers are spread, px of their level. */
const side = 128;

/** Layers one after the other that are laid on pictures halved equally often. */
interface Run {
  level: number;
  layers: number[];
  /** Nearer than the focus: laid apart, then over what is farther. */
  near: boolean;
}

/**
 * Cuts a card into layers by its discs, spreads each, and lays them over each other, tile by tile: a tile costs only
 * the layers that it holds.
 *
 * @param distance of every pixel, m
 * @param layers signed discs, far to near, at least two
 * @throws AbortError
 */
export async function layered(
  card: Picture,
  distance: Plane,
  law: DiscLaw,
  layers: number[],
  aperture: Aperture,
  frame: Frame,
  keepCovers: boolean,
  context: Context,
): Promise<{ picture: Picture; covers: LayerCover[] }> {
  const placing = await placedIn(distance, law, layers, context);
  const runs = runsOf(layers, context.scale < draftBelow ? coarseInDraft : coarseFrom);
  const covers = new Map<Run, LayerCover[]>();
  const seen = await seenPicture(card, context);
  let done = 0;
  const laid = async (run: Run, stack: Stack): Promise<Stack> => {
    const shapes = run.layers.map((k) => shapeAt(aperture, layers[k], run.level, frame));
    const kept = keepCovers ? run.layers.map((k) => newCover(card, layers[k], run.level, context)) : undefined;
    const held = squaresHolding(placing, run.layers);
    const job = { card: seen, place: placing.place, held, run, shapes, stack, covers: kept };
    const after = done + run.layers.length;
    await parallelFor(layTiles, job, tilesOf(stack), context, 'Blurring', done / layers.length, after / layers.length);
    if (kept) covers.set(run, kept);
    done = after;
    return stack;
  };
  let level = runs[0].level;
  let below = emptyStack(card, level, context);
  // What is nearer and coarser than what it is laid on: from the nearest back, each under what is before it.
  const before: Run[] = [];
  for (const run of runs) {
    if (!run.near) for (; level > run.level; level--) below = await doubled(below, card, level - 1, context);
    if (run.near && run.level > level) before.unshift(run);
    else await laid(run, below);
  }
  let above: Stack | undefined;
  for (const [i, run] of before.entries()) {
    const own = await laid(run, emptyStack(card, run.level, context));
    if (above) await layOver(above, own, before[i - 1].level - run.level, true, context);
    above = own;
  }
  if (above) await layOver(above, below, before[before.length - 1].level - level, card.a !== undefined, context);
  for (; level > 0; level--) below = await doubled(below, card, level - 1, context);
  return { picture: finished(below, card), covers: runs.flatMap((run) => covers.get(run) ?? []) };
}

function runsOf(layers: number[], from: number): Run[] {
  const runs: Run[] = [];
  layers.forEach((disc, k) => {
    const level = levelOf(disc, from);
    const last = runs[runs.length - 1];
    if (last && last.level === level) last.layers.push(k);
    else runs.push({ level, layers: [k], near: disc < 0 && runs.length > 0 });
  });
  return runs;
}

function shapeAt(aperture: Aperture, disc: number, level: number, frame: Frame): Shape | undefined {
  return Math.abs(disc) > 1 ? shapeOf(aperture, Math.abs(disc) / 2 ** level, reduced(frame, level), disc < 0) : undefined;
}

function newCover(card: Picture, disc: number, level: number, context: Context): LayerCover {
  const [width, height] = sizeAt(card, level);
  return { disc, level, width, height, data: sharedBytes(width * height, context) };
}

/** One layer's part of a tile: light and opacity of what stays in it (planes 0 to 2 and 4), opacity of all that stands in it (3), and where there is any. */
interface Slice {
  planes: Plane[];
  extent: Extent;
  any: boolean;
}

/** All that is needed to lay one run. */
interface TileJob {
  card: Picture;
  place: Float32Array;
  held: Held;
  run: Run;
  shapes: (Shape | undefined)[];
  stack: Stack;
  covers?: LayerCover[];
}

function tilesOf([{ width, height }]: Stack): number {
  return Math.ceil(width / side) * Math.ceil(height / side);
}

/** Lays a run, tile by tile. */
export const layTiles: Kernel<TileJob> = {
  name: 'layTiles',
  begin(job) {
    const tiles = new Tiles(job);
    const across = Math.ceil(job.stack[0].width / side);
    return (i) => tiles.fill((i % across) * side, Math.floor(i / across) * side);
  },
};

/** Fills one run's tiles; holds the room they are worked out in. */
class Tiles {
  private readonly margin: number;
  private readonly across: number;
  private readonly slices: Slice[];
  private readonly laid: Plane[];
  private readonly sums: Float64Array;
  /** Columns of the card under a row of the tile; the border's go on. */
  private readonly columns: Int32Array;

  constructor(private readonly job: TileJob) {
    const { run, shapes } = job;
    this.margin = Math.max(1, ...shapes.map((s) => s?.reach ?? 0));
    this.across = side + 2 * this.margin;
    const room = (): Plane => makePlane(this.across, this.across);
    this.laid = Array.from({ length: 5 }, room);
    this.slices = run.layers.map(() => ({
      planes: Array.from({ length: 5 }, room),
      extent: { from: new Int32Array(this.across), to: new Int32Array(this.across) },
      any: true,
    }));
    this.sums = new Float64Array(3 * this.across + 4);
    this.columns = new Int32Array(this.across << run.level);
  }

  /** Works out the tile whose upper left corner is at x, y of the stack. */
  fill(x: number, y: number): void {
    const { shapes, stack, covers } = this.job;
    const { width, height } = stack[0];
    const [w, h] = [Math.min(side, width - x), Math.min(side, height - y)];
    for (const slice of this.slices) this.clear(slice);
    this.cut(x, y);
    this.slices.forEach(({ planes, extent, any }, i) => {
      if (!any) return;
      const shape = shapes[i];
      if (shape) {
        const here = shape.cut
          ? { ...shape, cut: { ...shape.cut, x: shape.cut.x - x + this.margin, y: shape.cut.y - y + this.margin } }
          : shape;
        for (let c = 0; c < planes.length; c++) spreadInto(this.laid[c], planes[c], here, extent, this.margin, this.sums);
      }
      this.lay(shape ? this.laid : planes, x, y, w, h, covers?.[i]);
    });
  }

  private clear(slice: Slice): void {
    if (!slice.any) return;
    for (const p of slice.planes) p.data.fill(0);
    slice.extent.from.fill(this.across);
    slice.extent.to.fill(0);
    slice.any = false;
  }

  /**
   * Shares a tile's pixels out among the run's layers, averaged over blocks: between two layers a pixel fades from the
   * farther to the nearer.
   */
  private cut(x: number, y: number): void {
    const { across, margin, columns } = this;
    const { card, held, run } = this.job;
    const { width, height } = card;
    const { level } = run;
    const block = 1 << level;
    for (let i = 0; i < columns.length; i++) columns[i] = Math.min(width - 1, Math.max(0, ((x - margin) << level) + i));
    // As many of the tile's pixels at a time as a square is wide: they lie in two squares or few.
    const stretch = Math.max(1, square >> level);
    for (let v = 0; v < across; v++) {
      for (let i = 0; i < block; i++) {
        const line = Math.min(height - 1, Math.max(0, ((y + v - margin) << level) + i));
        const squares = (line >> squarePower) * held.across;
        for (let u = 0; u < across; u += stretch) {
          const end = Math.min(across, u + stretch);
          const last = columns[(end << level) - 1] >> squarePower;
          let holds = 0;
          for (let s = columns[u << level] >> squarePower; s <= last; s++) holds |= held.squares[squares + s];
          if (holds) this.share(v, u, end, line * width);
        }
      }
    }
  }

  /** Shares a stretch of one of the card's lines out, from pixel u to `end` of row v of the tile. */
  private share(v: number, u: number, end: number, line: number): void {
    const { columns } = this;
    const { card, place, run } = this.job;
    const { r, g, b, a } = card;
    const { level, layers } = run;
    const block = 1 << level;
    const each = 1 / (block * block);
    for (; u < end; u++) {
      // Neighbours mostly lie in one layer: they are summed before they are laid there, and what fades into the next as well.
      let at = -2;
      let red = 0;
      let green = 0;
      let blue = 0;
      let light = 0;
      let nextRed = 0;
      let nextGreen = 0;
      let nextBlue = 0;
      let next = 0;
      // One step beyond the last pixel lays what is summed by then.
      for (let i = u << level, stop = i + block; i <= stop; i++) {
        const p = line + columns[Math.min(i, stop - 1)];
        const t = place[p];
        const k = t | 0;
        const own = i < stop ? k - layers[0] : layers.length;
        if (i < stop && (own < -1 || own >= layers.length)) continue;
        if (own !== at) {
          if (light > 0) {
            if (at >= 0) this.add(at, v, u, red - nextRed, green - nextGreen, blue - nextBlue, light, light - next);
            if (next > 0 && at + 1 < layers.length) this.add(at + 1, v, u, nextRed, nextGreen, nextBlue, next, next);
          }
          if (i === stop) break;
          at = own;
          red = green = blue = light = nextRed = nextGreen = nextBlue = next = 0;
        }
        const here = a ? each * a[p] : each;
        const on = (t - k) * here;
        red += here * r[p];
        green += here * g[p];
        blue += here * b[p];
        light += here;
        nextRed += on * r[p];
        nextGreen += on * g[p];
        nextBlue += on * b[p];
        next += on;
      }
    }
  }

  private add(i: number, v: number, u: number, red: number, green: number, blue: number, all: number, share: number): void {
    const slice = this.slices[i];
    const { planes, extent } = slice;
    const at = v * this.across + u;
    planes[0].data[at] += red;
    planes[1].data[at] += green;
    planes[2].data[at] += blue;
    planes[3].data[at] += all;
    planes[4].data[at] += share;
    if (u < extent.from[v]) extent.from[v] = u;
    if (u >= extent.to[v]) extent.to[v] = u + 1;
    slice.any = true;
  }

  /**
   * Lays a spread layer. What of it fades into the next one is hidden by that one later: the layer hides so much that both
   * together hide all that stands in it, neither letting through nor hiding twice, and has the colour of what stays.
   */
  private lay(planes: Plane[], x: number, y: number, w: number, h: number, cover?: LayerCover): void {
    const [lr, lg, lb, la, ls] = planes.map((p) => p.data);
    const { card, run, stack } = this.job;
    const [r, g, b, a, share] = stack.map((p) => p.data);
    const { width } = stack[0];
    const clear = card.a !== undefined || (run.near && run.level > 0);
    for (let v = 0; v < h; v++) {
      let q = (v + this.margin) * this.across + this.margin;
      let p = (y + v) * width + x;
      for (let u = 0; u < w; u++, p++, q++) {
        const once = ls[q];
        if (once < 1e-6) continue;
        const light = 1 / (la[q] >= 1 ? once : 1 - la[q] + once);
        const hides = once * light;
        const open = 1 - hides;
        if (cover) cover.data[p] = 255 * hides;
        if (clear) {
          r[p] = light * lr[q] + open * r[p];
          g[p] = light * lg[q] + open * g[p];
          b[p] = light * lb[q] + open * b[p];
          a[p] = hides + open * a[p];
          if (share) share[p] += once;
        } else {
          // Something stands behind everywhere: where little of it is known, what is known of it stands for all.
          const behind = open * Math.min(1, 8 * a[p]);
          const whole = 1 / (hides + behind);
          r[p] = (light * lr[q] + behind * r[p]) * whole;
          g[p] = (light * lg[q] + behind * g[p]) * whole;
          b[p] = (light * lb[q] + behind * b[p]) * whole;
          a[p] = Math.min(1, hides + open * a[p]);
        }
      }
    }
  }
}

import { pause, type Context } from '../context/context';
import { makePicture, makePlane, pictureOf, type Picture, type Plane } from '../raster/plane';
import { cropped, double } from '../raster/resize';
import type { Aperture } from './aperture';
import { layerPlace, levelOf, reduced } from './layers';
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

/** Side of the tiles in which layers are spread, px of their level. */
const side = 128;

/** Layers one after the other that are laid on pictures halved equally often. */
interface Run {
  level: number;
  layers: number[];
  /** Nearer than the focus: laid apart, then over what is farther. */
  near: boolean;
}

/** What has been laid so far: light (times opacity where `times` says so), opacity, and for cards with opacity the sum of the layers' shares. */
type Stack = Plane[];

/**
 * Cuts a card into layers by its discs, spreads each, and lays them over each other, tile by tile: a tile costs only
 * the layers that it holds.
 *
 * @param layers signed discs, far to near, at least two
 * @throws AbortError
 */
export async function layered(
  card: Picture,
  discs: Plane,
  layers: number[],
  aperture: Aperture,
  frame: Frame,
  keepCovers: boolean,
  context: Context,
): Promise<{ picture: Picture; covers: LayerCover[] }> {
  const place = layerPlace(discs, layers);
  const spans = new Spans(place, card.width, card.height);
  const runs = runsOf(layers);
  const covers = new Map<Run, LayerCover[]>();
  let done = 0;
  const laid = async (run: Run, stack: Stack): Promise<Stack> => {
    const shapes = run.layers.map((k) => shapeAt(aperture, layers[k], run.level, frame));
    const kept = keepCovers ? run.layers.map((k) => newCover(card, layers[k], run.level)) : undefined;
    const tiles = new Tiles(card, place, spans.holding(run.layers), run, shapes, stack, kept);
    for (let y = 0; y < stack[0].height; y += side) {
      await pause(context, 'Blurring', (done + (run.layers.length * y) / stack[0].height) / layers.length);
      for (let x = 0; x < stack[0].width; x += side) tiles.fill(x, y);
    }
    if (kept) covers.set(run, kept);
    done += run.layers.length;
    return stack;
  };
  let level = runs[0].level;
  let below = emptyStack(card, level);
  // What is nearer and coarser than what it is laid on: from the nearest back, each under what is before it.
  const before: Run[] = [];
  for (const run of runs) {
    if (!run.near) for (; level > run.level; level--) below = doubled(below, card, level - 1);
    if (run.near && run.level > level) before.unshift(run);
    else await laid(run, below);
  }
  let above: Stack | undefined;
  for (const [i, run] of before.entries()) {
    const own = await laid(run, emptyStack(card, run.level));
    if (above) layOver(above, own, before[i - 1].level - run.level, true);
    above = own;
  }
  if (above) layOver(above, below, before[before.length - 1].level - level, card.a !== undefined);
  for (; level > 0; level--) below = doubled(below, card, level - 1);
  return { picture: finished(below, card), covers: runs.flatMap((run) => covers.get(run) ?? []) };
}

function runsOf(layers: number[]): Run[] {
  const runs: Run[] = [];
  layers.forEach((disc, k) => {
    const level = levelOf(disc, coarseFrom);
    const last = runs[runs.length - 1];
    if (last && last.level === level) last.layers.push(k);
    else runs.push({ level, layers: [k], near: disc < 0 && runs.length > 0 });
  });
  return runs;
}

function shapeAt(aperture: Aperture, disc: number, level: number, frame: Frame): Shape | undefined {
  return Math.abs(disc) > 1 ? shapeOf(aperture, Math.abs(disc) / 2 ** level, reduced(frame, level), disc < 0) : undefined;
}

function sizeAt({ width, height }: { width: number; height: number }, level: number): [number, number] {
  return [Math.ceil(width / 2 ** level), Math.ceil(height / 2 ** level)];
}

function newCover(card: Picture, disc: number, level: number): LayerCover {
  const [width, height] = sizeAt(card, level);
  return { disc, level, width, height, data: new Uint8Array(width * height) };
}

function emptyStack(card: Picture, level: number): Stack {
  const [w, h] = sizeAt(card, level);
  return Array.from({ length: card.a ? 5 : 4 }, () => makePlane(w, h));
}

function doubled(stack: Stack, card: Picture, level: number): Stack {
  const [w, h] = sizeAt(card, level);
  const larger = stack.map((p) => cropped(double(p), w, h));
  if (!card.a) weigh(larger, stack);
  return larger;
}

/** What is not known yet must not darken what is: where opacity is partial, doubled colours are weighted by it. */
function weigh(larger: Stack, [red, green, blue, opacity]: Stack): void {
  const [r, g, b, whole] = larger.map((p) => p.data);
  const { width, height } = larger[0];
  const { width: w, height: h, data: a } = opacity;
  for (let y = 0, p = 0; y < height; y++) {
    const near = (y >> 1) * w;
    const far = Math.min(h - 1, Math.max(0, (y >> 1) + ((y & 1) === 0 ? -1 : 1))) * w;
    for (let x = 0; x < width; x++, p++) {
      if (whole[p] > 0.999 || whole[p] < 1e-6) continue;
      const own = x >> 1;
      const other = Math.min(w - 1, Math.max(0, own + ((x & 1) === 0 ? -1 : 1)));
      const nn = (0.5625 * a[near + own]) / whole[p];
      const no = (0.1875 * a[near + other]) / whole[p];
      const fn = (0.1875 * a[far + own]) / whole[p];
      const fo = (0.0625 * a[far + other]) / whole[p];
      r[p] = nn * red.data[near + own] + no * red.data[near + other] + fn * red.data[far + own] + fo * red.data[far + other];
      g[p] = nn * green.data[near + own] + no * green.data[near + other] + fn * green.data[far + own] + fo * green.data[far + other];
      b[p] = nn * blue.data[near + own] + no * blue.data[near + other] + fn * blue.data[far + own] + fo * blue.data[far + other];
    }
  }
}

/** Side of the squares of which it is known what layers they hold, px, and its power of two. */
const square = 32;
const squarePower = 5;

/** Between which layers the pixels of each square lie, so that a run need not look at squares that hold none of its own. */
class Spans {
  private readonly across: number;
  private readonly least: Float32Array;
  private readonly most: Float32Array;

  constructor(place: Float32Array, width: number, height: number) {
    this.across = Math.ceil(width / square);
    this.least = new Float32Array(this.across * Math.ceil(height / square)).fill(Infinity);
    this.most = new Float32Array(this.least.length).fill(-Infinity);
    for (let y = 0, p = 0; y < height; y++) {
      const row = (y >> squarePower) * this.across;
      for (let x = 0; x < width; x++, p++) {
        const s = row + (x >> squarePower);
        const t = place[p];
        if (t < this.least[s]) this.least[s] = t;
        if (t > this.most[s]) this.most[s] = t;
      }
    }
  }

  /** 1 for each square, row by row, that holds something of neighbouring layers. */
  holding(layers: number[]): Held {
    const [low, end] = [layers[0], layers[0] + layers.length];
    const squares = new Uint8Array(this.least.length);
    for (let s = 0; s < squares.length; s++) squares[s] = this.most[s] > low - 1 && this.least[s] < end ? 1 : 0;
    return { across: this.across, squares };
  }
}

interface Held {
  across: number;
  squares: Uint8Array;
}

/** One layer's part of a tile: light times opacity, opacity, for cards with opacity its share, and where there is any. */
interface Slice {
  planes: Plane[];
  extent: Extent;
  any: boolean;
}

/** Fills one run's tiles; holds the room they are worked out in. */
class Tiles {
  private readonly margin: number;
  private readonly across: number;
  private readonly slices: Slice[];
  private readonly laid: Plane[];
  private readonly sums: Float64Array;
  /** Columns of the card under a row of the tile; the border's go on. */
  private readonly columns: Int32Array;

  constructor(
    private readonly card: Picture,
    private readonly place: Float32Array,
    private readonly held: Held,
    private readonly run: Run,
    private readonly shapes: (Shape | undefined)[],
    private readonly stack: Stack,
    private readonly covers: LayerCover[] | undefined,
  ) {
    this.margin = Math.max(1, ...shapes.map((s) => s?.reach ?? 0));
    this.across = side + 2 * this.margin;
    const room = (): Plane => makePlane(this.across, this.across);
    this.laid = stack.map(room);
    this.slices = run.layers.map(() => ({
      planes: stack.map(room),
      extent: { from: new Int32Array(this.across), to: new Int32Array(this.across) },
      any: true,
    }));
    this.sums = new Float64Array(3 * this.across + 4);
    this.columns = new Int32Array(this.across << run.level);
  }

  /** Works out the tile whose upper left corner is at x, y of the stack. */
  fill(x: number, y: number): void {
    const { width, height } = this.stack[0];
    const [w, h] = [Math.min(side, width - x), Math.min(side, height - y)];
    for (const slice of this.slices) this.clear(slice);
    this.cut(x, y);
    this.slices.forEach(({ planes, extent, any }, i) => {
      if (!any) return;
      const shape = this.shapes[i];
      if (shape) {
        const here = shape.cut
          ? { ...shape, cut: { ...shape.cut, x: shape.cut.x - x + this.margin, y: shape.cut.y - y + this.margin } }
          : shape;
        for (let c = 0; c < planes.length; c++) spreadInto(this.laid[c], planes[c], here, extent, this.sums);
      }
      this.lay(shape ? this.laid : planes, x, y, w, h, this.covers?.[i]);
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
    const { width, height } = this.card;
    const { across, margin, columns, held } = this;
    const { level } = this.run;
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
    const { r, g, b, a } = this.card;
    const { place, columns } = this;
    const { level, layers } = this.run;
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
      for (let i = u << level, stop = i + block; i < stop; i++) {
        const p = line + columns[i];
        const t = place[p];
        const k = t | 0;
        const own = k - layers[0];
        if (own < -1 || own >= layers.length) continue;
        if (own !== at) {
          if (light > 0) {
            if (at >= 0) this.add(at, v, u, red, green, blue, light, light - next);
            if (next > 0 && at + 1 < layers.length) this.add(at + 1, v, u, nextRed, nextGreen, nextBlue, next, next);
          }
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
      if (light > 0) {
        if (at >= 0) this.add(at, v, u, red, green, blue, light, light - next);
        if (next > 0 && at + 1 < layers.length) this.add(at + 1, v, u, nextRed, nextGreen, nextBlue, next, next);
      }
    }
  }

  private add(i: number, v: number, u: number, red: number, green: number, blue: number, light: number, tent: number): void {
    const slice = this.slices[i];
    const { planes, extent } = slice;
    const at = v * this.across + u;
    planes[0].data[at] += red;
    planes[1].data[at] += green;
    planes[2].data[at] += blue;
    planes[3].data[at] += light;
    if (planes.length > 4) planes[4].data[at] += tent;
    if (u < extent.from[v]) extent.from[v] = u;
    if (u >= extent.to[v]) extent.to[v] = u + 1;
    slice.any = true;
  }

  private lay(planes: Plane[], x: number, y: number, w: number, h: number, cover?: LayerCover): void {
    const [lr, lg, lb, la, ls] = planes.map((p) => p.data);
    const [r, g, b, a, share] = this.stack.map((p) => p.data);
    const { width } = this.stack[0];
    const clear = this.card.a !== undefined || (this.run.near && this.run.level > 0);
    for (let v = 0; v < h; v++) {
      let q = (v + this.margin) * this.across + this.margin;
      let p = (y + v) * width + x;
      for (let u = 0; u < w; u++, p++, q++) {
        const hides = la[q];
        if (hides < 1e-6) continue;
        const open = hides >= 1 ? 0 : 1 - hides;
        if (cover) cover.data[p] = hides >= 1 ? 255 : 255 * hides;
        if (clear) {
          r[p] = lr[q] + open * r[p];
          g[p] = lg[q] + open * g[p];
          b[p] = lb[q] + open * b[p];
          a[p] = hides + open * a[p];
          if (share) share[p] += ls[q];
        } else {
          // Something stands behind everywhere: where little of it is known, what is known of it stands for all.
          const behind = open * Math.min(1, 8 * a[p]);
          const whole = 1 / (hides + behind);
          r[p] = (lr[q] + behind * r[p]) * whole;
          g[p] = (lg[q] + behind * g[p]) * whole;
          b[p] = (lb[q] + behind * b[p]) * whole;
          a[p] = Math.min(1, hides + open * a[p]);
        }
      }
    }
  }
}

/** Lays layers that were laid apart over what is behind them. @param finer how often they must be doubled to have its size */
function layOver(stack: Stack, below: Stack, finer: number, clear: boolean): void {
  const [r, g, b, a, share] = below.map((p) => p.data);
  const { width, height } = below[0];
  const { width: coarse, height: rows } = stack[0];
  const k = 2 ** finer;
  const line = stack.map(() => new Float32Array(coarse + 1));
  const [lr, lg, lb, la, ls] = line;
  for (let y = 0; y < height; y++) {
    const v = Math.max(0, (y + 0.5) / k - 0.5);
    const y0 = Math.floor(v);
    const [top, low] = [y0 * coarse, Math.min(rows - 1, y0 + 1) * coarse];
    // Opacity first: where there is none, nothing else is looked at.
    const hidden = lineBetween(la, stack[3].data, top, low, v - y0, 0, coarse);
    if (!hidden) continue;
    const [first, last] = hidden;
    for (let i = 0; i < line.length; i++) if (i !== 3) lineBetween(line[i], stack[i].data, top, low, v - y0, first, last);
    const from = Math.max(0, Math.floor((first - 1) * k));
    const to = Math.min(width, Math.ceil((last + 1) * k));
    for (let x = from, p = y * width + from; x < to; x++, p++) {
      const u = (x + 0.5) / k - 0.5;
      const q = u < 0 ? 0 : u | 0;
      const s = u < 0 ? 0 : u - q;
      const hides = la[q] + s * (la[q + 1] - la[q]);
      if (hides < 1e-6) continue;
      const open = hides >= 1 ? 0 : 1 - hides;
      const behind = clear ? open : open * Math.min(1, 8 * a[p]);
      const whole = clear ? 1 : 1 / (hides + behind);
      r[p] = (lr[q] + s * (lr[q + 1] - lr[q]) + behind * r[p]) * whole;
      g[p] = (lg[q] + s * (lg[q + 1] - lg[q]) + behind * g[p]) * whole;
      b[p] = (lb[q] + s * (lb[q + 1] - lb[q]) + behind * b[p]) * whole;
      a[p] = Math.min(1, hides + open * a[p]);
      if (share) share[p] += ls[q] + s * (ls[q + 1] - ls[q]);
    }
  }
}

/**
 * A line between two rows of a plane, with its end repeated; a column on both sides of the stretch is brought up to date too.
 *
 * @returns first column and one past the last that hold anything, or nothing
 */
function lineBetween(
  line: Float32Array,
  data: Float32Array,
  top: number,
  low: number,
  t: number,
  first: number,
  last: number,
): [number, number] | undefined {
  const width = line.length - 1;
  let [from, to] = [width, 0];
  const end = Math.min(width, last + 1);
  for (let x = Math.max(0, first - 1); x < end; x++) {
    const v = data[top + x] + t * (data[low + x] - data[top + x]);
    line[x] = v;
    if (v > 0) {
      if (x < from) from = x;
      to = x + 1;
    }
  }
  if (end === width) line[width] = line[width - 1];
  return to > from ? [from, to] : undefined;
}

function finished([red, green, blue, opacity, share]: Stack, card: Picture): Picture {
  if (!card.a) return pictureOf([red, green, blue]);
  const out = makePicture(card.width, card.height, 0);
  for (let p = 0; p < out.r.length; p++) {
    const a = opacity.data[p];
    if (a < 1e-5) continue;
    out.r[p] = red.data[p] / a;
    out.g[p] = green.data[p] / a;
    out.b[p] = blue.data[p] / a;
    // Seams between layers of one solid thing let nothing through.
    out.a![p] = Math.min(1, Math.max(a, share.data[p]));
  }
  return out;
}

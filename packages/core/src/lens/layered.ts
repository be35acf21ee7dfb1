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
  const covers: LayerCover[] = [];
  const runs = runsOf(layers);
  let level = runs[0].level;
  let below = emptyStack(card, level);
  let done = 0;
  for (const run of runs) {
    const shapes = run.layers.map((k) => shapeAt(aperture, layers[k], run.level, frame));
    const kept = keepCovers ? run.layers.map((k) => newCover(card, layers[k], run.level)) : undefined;
    if (!run.near) for (; level > run.level; level--) below = doubled(below, card, level - 1);
    const stack = run.near && run.level > level ? emptyStack(card, run.level) : below;
    const tiles = new Tiles(card, place, run, shapes, stack, kept);
    for (let y = 0; y < stack[0].height; y += side) {
      await pause(context, 'Blurring', (done + (run.layers.length * y) / stack[0].height) / layers.length);
      for (let x = 0; x < stack[0].width; x += side) tiles.fill(x, y);
    }
    if (stack !== below) layOver(stack, below, run.level - level, card.a !== undefined);
    if (kept) covers.push(...kept);
    done += run.layers.length;
  }
  for (; level > 0; level--) below = doubled(below, card, level - 1);
  return { picture: finished(below, card), covers };
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
  const [r, g, b, a] = stack;
  const larger = (p: Plane): Plane => cropped(double(p), w, h);
  if (card.a || a.data.every((v) => v > 0.999)) return stack.map(larger);
  // What is not known yet must not darken what is.
  const whole = larger(a);
  const colours = [r, g, b].map((p) => {
    for (let i = 0; i < p.data.length; i++) p.data[i] *= a.data[i];
    const out = larger(p);
    for (let i = 0; i < out.data.length; i++) out.data[i] = whole.data[i] > 1e-6 ? out.data[i] / whole.data[i] : 0;
    return out;
  });
  return [...colours, whole];
}

/** One layer's part of a tile: light times opacity, opacity, and where there is any. */
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

  constructor(
    private readonly card: Picture,
    private readonly place: Float32Array,
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
    const { width, height, a } = this.card;
    const { across, margin, place, slices } = this;
    const { level, layers } = this.run;
    const low = layers[0];
    const block = 1 << level;
    const each = 1 / (block * block);
    for (let v = 0; v < across; v++) {
      for (let i = 0; i < block; i++) {
        const row = Math.min(height - 1, Math.max(0, ((y + v - margin) << level) + i)) * width;
        let sx = (x - margin) << level;
        for (let u = 0; u < across; u++) {
          for (let j = 0; j < block; j++, sx++) {
            const p = row + (sx < 0 ? 0 : sx >= width ? width - 1 : sx);
            const t = place[p];
            const k = t | 0;
            const own = k - low;
            if (own < -1 || own >= slices.length) continue;
            const light = a ? each * a[p] : each;
            if (light <= 0) continue;
            const f = t - k;
            if (own >= 0 && own < slices.length) this.add(slices[own], v, u, p, light, (1 - f) * light);
            if (f > 0 && own + 1 < slices.length) this.add(slices[own + 1], v, u, p, light * f, f * light);
          }
        }
      }
    }
  }

  private add(slice: Slice, v: number, u: number, p: number, light: number, tent: number): void {
    const { r, g, b } = this.card;
    const { planes, extent } = slice;
    const at = v * this.across + u;
    planes[0].data[at] += light * r[p];
    planes[1].data[at] += light * g[p];
    planes[2].data[at] += light * b[p];
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
    for (let i = 0; i < line.length; i++) {
      const { data } = stack[i];
      for (let x = 0; x < coarse; x++) line[i][x] = data[top + x] + (v - y0) * (data[low + x] - data[top + x]);
      line[i][coarse] = line[i][coarse - 1];
    }
    for (let x = 0, p = y * width; x < width; x++, p++) {
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

import { lightnessOf, cielabOf } from '../../colour/cielab';
import { distanceTo } from '../../raster/distance';
import { indicesWhere, maskOf } from '../../raster/mask';
import type { Picture, Plane } from '../../raster/plane';
import { around, judged, unknown, type Check, type CheckPlace } from './check';
import { usualScale } from '../../raster/usual';

/** Side of the cells in which an outline is looked at, px of a picture of the usual size, and px of this one at least. */
const cellSize = 44;
const leastCell = 14;
/** Outlines shorter than so many cells tell nothing. */
const leastCells = 6;

function cellOf(scale: number): number {
  return Math.max(leastCell, cellSize * scale);
}

/** The longest side of what is looked at counts, so that a draft tells about what the full size does. */
interface Rings {
  /** Distance from the subject outside it, and from the ground inside it, px. */
  outside: Float32Array;
  inside: Float32Array;
}

function ringsOf({ width, height, data }: Plane, reach: number): Rings {
  return {
    outside: distanceTo(
      maskOf(data, (a) => a >= 0.5),
      width,
      height,
      reach,
    ).data,
    inside: distanceTo(
      maskOf(data, (a) => a < 0.5),
      width,
      height,
      reach,
    ).data,
  };
}

/** Sums of colour of one band in one cell. */
class Mean {
  private l = 0;
  private a = 0;
  private b = 0;
  weight = 0;
  /** @param at where the colour stands in a list of them */
  add(lab: ArrayLike<number>, at = 0, w = 1): void {
    this.l += w * lab[at];
    this.a += w * lab[at + 1];
    this.b += w * lab[at + 2];
    this.weight += w;
  }
  get lab(): number[] {
    return [this.l / this.weight, this.a / this.weight, this.b / this.weight];
  }
}

/**
 * Bands by distance, px of a picture of the usual size: just inside; the rim where a halo lies; then the ground, farther and farther. And the same laid
 * where no halo is, farther out: what looks like one there does so by chance.
 */
const bands: Bands = { inner: 'subject', rim: [1.5, 9], ground: [[18, 27], [27, 36], [36, 45]] }; // prettier-ignore
const chanceBands: Bands = { inner: [12, 20], rim: [22, 30], ground: [[38, 47], [47, 56], [56, 65]] }; // prettier-ignore
const insideBand = [2, 12] as const;

interface Bands {
  inner: 'subject' | readonly [number, number];
  rim: readonly [number, number];
  ground: readonly (readonly [number, number])[];
}
/** A rim is another colour from so much on, ΔE, and when it is so much more than the ground changes by itself. */
const [haloFrom, haloTimes] = [3.5, 1.8];

/**
 * A halo: in the finished picture, a rim along the subject's outline that is lighter, darker or otherwise coloured than both sides. Cell
 * by cell the rim's mean colour is held against the way from the subject's to the ground's farther out; what ground changes by itself from
 * band to band does not count.
 *
 * @param finished the finished picture, linear
 * @param cover the subject's opacity in it
 */
export function checkHalo(finished: Picture, cover: Plane, scale: number): Check {
  const usual = usualScale(cover, scale);
  const far = chanceBands.ground[2][1] * usual;
  const rings = ringsOf(cover, far + 2);
  const near = nearOutline(finished, rings, usual);
  const own = lookedForRim(near, cover, rings, bands, scale);
  const chance = lookedForRim(near, cover, rings, chanceBands, scale);
  if (own.looked < leastCells || chance.looked < leastCells) {
    return unknown('edge-halo', 'There is too little outline with ground beside it to tell.');
  }
  const share = (of: Looked): number => of.found.length / of.looked;
  return judged('edge-halo', 100 * Math.max(0, share(own) - share(chance)), own.found.map((f) => f.place)); // prettier-ignore
}

interface Looked {
  looked: number;
  /** Cells whose rim is of another colour, the farthest off first. */
  found: { off: number; place: CheckPlace }[];
}

/** Pixels near the outline, and their colours, L*, a* and b* of each. */
interface NearOutline {
  at: Int32Array;
  lab: Float64Array;
}

function nearOutline({ r, g, b }: Picture, { outside, inside }: Rings, scale: number): NearOutline {
  const [farOut, farIn] = [chanceBands.ground[2][1] * scale, insideBand[1] * scale];
  const at = indicesWhere(outside.length, (p) => outside[p] <= farOut && inside[p] <= farIn);
  const lab = new Float64Array(3 * at.length);
  for (let i = 0; i < at.length; i++) lab.set(cielabOf(r[at[i]], g[at[i]], b[at[i]]), 3 * i);
  return { at, lab };
}

const within = ([from, to]: readonly [number, number], d: number): boolean => d >= from && d <= to;

interface RimCell {
  inner: Mean;
  rim: Mean;
  ground: Mean[];
}

function lookedForRim(
  { at: pixels, lab }: NearOutline,
  { width, height, data }: Plane,
  { outside, inside }: Rings,
  of: Bands,
  scale: number,
): Looked {
  const usual = usualScale({ width, height }, scale);
  const side = cellOf(usual);
  const across = Math.ceil(width / side);
  const cells = new Map<number, RimCell>();
  for (let i = 0; i < pixels.length; i++) {
    const p = pixels[i];
    const cover = data[p];
    const clear = cover < 0.02;
    const out = outside[p] / usual;
    const isIn = of.inner === 'subject' ? cover > 0.98 && within(insideBand, inside[p] / usual) : clear && within(of.inner, out);
    const isRim = clear && within(of.rim, out);
    let k = clear ? of.ground.length - 1 : -1;
    while (k >= 0 && !within(of.ground[k], out)) k--;
    if (!isIn && !isRim && k < 0) continue;
    const y = Math.floor(p / width);
    const at = Math.floor(y / side) * across + Math.floor((p - y * width) / side);
    let cell = cells.get(at);
    if (!cell) cells.set(at, (cell = { inner: new Mean(), rim: new Mean(), ground: of.ground.map(() => new Mean()) }));
    if (isIn) cell.inner.add(lab, 3 * i);
    if (isRim) cell.rim.add(lab, 3 * i);
    if (k >= 0) cell.ground[k].add(lab, 3 * i);
  }
  // A cell at the outline may hold little of one band: its neighbours' count as well.
  const near = (at: number, mean: (c: RimCell) => Mean): Mean => {
    const sum = new Mean();
    for (const dy of [-1, 0, 1]) {
      for (const dx of [-1, 0, 1]) {
        const c = cells.get(at + dy * across + dx);
        if (c && mean(c).weight > 0) sum.add(mean(c).lab, 0, mean(c).weight);
      }
    }
    return sum;
  };
  const found: Looked['found'] = [];
  let looked = 0;
  const least = 0.02 * side * side;
  for (const [at, cell] of cells) {
    const inner = near(at, (c) => c.inner);
    const ground = of.ground.map((_, k) => near(at, (c) => c.ground[k]));
    if (cell.rim.weight < least || inner.weight < least || ground.some((g) => g.weight < least)) continue;
    looked++;
    const means = ground.map((g) => g.lab);
    const own = Math.max(...means.map((a) => Math.max(...means.map((b) => Math.hypot(...a.map((v, i) => v - b[i]))))));
    const rim = cell.rim.lab;
    const off = Math.hypot(...rim.map((v, i) => v - means[0][i]));
    const [cx, cy] = [(at % across) + 0.5, Math.floor(at / across) + 0.5];
    if (off > haloFrom + haloTimes * own)
      found.push({ off, place: around((cx * side) / scale, (cy * side) / scale, side / scale, 'frame') });
  }
  return { looked, found: found.sort((a, b) => b.off - a.off) };
}

/** A cell's edge is hard below the first width, px; that of the whole is soft above the second. */
const [hardBelow, softAbove] = [1.2, 2.2];

/**
 * A torn edge: hard cuts, stairs and flat pieces in an edge that is soft elsewhere. The width of the way from clear to opaque is measured
 * cell by cell along the outline.
 *
 * @param matte opacity
 */
export function checkTorn(matte: Plane, scale: number): Check {
  const { width, height, data } = matte;
  const side = cellOf(usualScale(matte, scale));
  const across = Math.ceil(width / side);
  const soft = new Map<number, number>();
  const border = new Map<number, number>();
  const more = (map: Map<number, number>, at: number): void => void map.set(at, (map.get(at) ?? 0) + 1);
  for (let y = 1; y + 1 < height; y++) {
    for (let x = 1; x + 1 < width; x++) {
      const p = y * width + x;
      const v = data[p];
      const at = Math.floor(y / side) * across + Math.floor(x / side);
      if (v > 0.04 && v < 0.96) more(soft, at);
      if (v >= 0.5 !== data[p + 1] >= 0.5 || v >= 0.5 !== data[p + width] >= 0.5) more(border, at);
    }
  }
  const cells = [...border].filter(([, n]) => n > 0.4 * side).map(([at, n]) => ({ at, width: (soft.get(at) ?? 0) / n }));
  if (cells.length < leastCells) return unknown('edge-torn', 'There is too little outline to tell.');
  const widths = cells.map((c) => c.width).sort((a, b) => a - b);
  const usual = widths[Math.floor(0.6 * widths.length)];
  if (usual < softAbove) return judged('edge-torn', 0);
  const torn = cells.filter((c) => c.width < Math.max(hardBelow, 0.2 * usual)).sort((a, b) => a.width - b.width);
  const places = torn.map(({ at }) =>
    around((((at % across) + 0.5) * side) / scale, ((Math.floor(at / across) + 0.5) * side) / scale, side / scale, 'shot'),
  );
  return judged('edge-torn', (100 * torn.length) / cells.length, places);
}

/** Under the feet, and what is compared with: parts of the subject's height below its lowest points; less where the frame ends. */
const [under, farBelow, leastRoom] = [0.035, [0.1, 0.2], 0.06] as const;

/**
 * Contact: how light the ground is right under where the subject stands, against the ground a bit farther down, percent. Where it
 * touches, light is lost; where it does not, it floats.
 */
export function checkContact(finished: Picture, cover: Plane, scale: number): Check {
  const { width, height, data } = cover;
  let [top, bottom] = [height, 0];
  const lowest = new Int32Array(width).fill(-1);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (data[p] < 0.5) continue;
      if (y < top) top = y;
      bottom = y + 1;
      lowest[x] = y;
    }
  }
  const tall = bottom - top;
  if (tall < 24) return unknown('contact', 'There is no subject in the frame.');
  const room = (height - bottom) / tall;
  if (room < leastRoom) return unknown('contact', 'The frame ends too close under the subject to see what it stands on.');
  const lightness = (x: number, y: number): number => {
    const p = y * width + x;
    return lightnessOf(0.2126 * finished.r[p] + 0.7152 * finished.g[p] + 0.0722 * finished.b[p]);
  };
  let [near, far, feet] = [0, 0, 0];
  let [left, right] = [width, 0];
  for (let x = 0; x < width; x++) {
    if (lowest[x] < bottom - 0.05 * tall) continue;
    const mean = (from: number, to: number): number | undefined => {
      let [sum, n] = [0, 0];
      for (let y = Math.round(lowest[x] + from); y <= Math.min(height - 1, Math.round(lowest[x] + to)); y++) {
        if (data[y * width + x] > 0.02) continue;
        sum += lightness(x, y);
        n++;
      }
      return n > 0 ? sum / n : undefined;
    };
    const here = mean(2, 2 + Math.max(2, under * tall));
    const there = mean(Math.min(farBelow[0], 0.55 * room) * tall, Math.min(farBelow[1], room) * tall);
    if (here === undefined || there === undefined) continue;
    near += here;
    far += there;
    feet++;
    [left, right] = [Math.min(left, x), Math.max(right, x + 1)];
  }
  if (feet < 4 || far / feet < 3) return unknown('contact', 'The ground under the subject is too dark to tell.');
  const box = { x: left, y: bottom - 0.05 * tall, width: right - left, height: 0.15 * tall };
  const place = { x: box.x / scale, y: box.y / scale, width: box.width / scale, height: box.height / scale, on: 'frame' as const };
  return judged('contact', (100 * near) / far, [place]);
}

import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { indicesWhere, maskOf } from '../raster/mask';
import { makePlane, type Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { touchedBy, unitOf } from './outlineRings';
import { telling } from './residueTone';

/** Opacity above which a pixel is surely subject. Lengths below are px of a shot 1200 px long. */
const sure = 0.95;
/** Borders of the rings around the matte, px. */
const rings = [0, 1.5, 3, 4.5, 6.5, 9, 12.5, 17, 23, 31, 42];
const last = rings.length - 2;
const outermost = rings[last + 1];
/** Ground that is compared with lies so far from the matte, px. */
const groundFrom = 34;
const groundTo = 90;
/** The subject within its edge is looked at up to so many px inwards; an outline laid elsewhere keeps so far from it. */
const edgeTo = 6;
const apart = 12;
/** Along the outline so much is looked at together, px (standard deviation). */
const along = 11;
/** A ring leans towards the subject when it does so by this much more than the ring so many farther out. */
const leans = 0.11;
const farther = 2;
/** Ground that leans so far, and does not differ from the subject beside it by more than so much, is a part that the matte lacks. */
const isPart = 0.6;
/** What is beside the matte lies within so many px of it. */
const beside = 5;
const sameAcross = 0.03;
/** So many times the outline is laid over ground alone, to see what is found by chance. */
const trials = 4;

/** What is measured, at the size it is measured at. */
export interface Scene {
  width: number;
  height: number;
  unit: number;
  /** Encoded light. */
  codes: Float32Array[];
  /** The cell of each pixel. */
  cells: Int32Array;
  /** Distance to what the matte touches, px. */
  away: Float32Array;
  /** Pixels within the outermost ring and a little farther, and those that ground is guessed from; both around the outline. */
  near: Int32Array;
  far: Int32Array;
  /** The subject's colour carried outwards, and its mean within the edge; by cell. */
  subject: Float32Array[];
  inner: Float32Array[];
}

/** What is measured of a shot and its matte, both at the size at which it is. */
export function sceneOf(codes: Float32Array[], cover: Plane): Scene {
  const { width, height } = cover;
  const unit = unitOf(width, height);
  const away = distanceTo(touchedBy(cover), width, height, groundTo * unit).data;
  const open = maskOf(cover.data, (a) => a < sure);
  const inwards = distanceTo(open, width, height, edgeTo * unit + 1).data;
  const edge = new Around(width, height, 3);
  const inside = indicesWhere(away.length, (p) => inwards[p] > unit);
  const cells = cellsOf(width, height);
  for (const p of inside) if (inwards[p] < edgeTo * unit) edge.addColour(cells[p], p, codes);
  return {
    ...{ width, height, unit, codes, cells, away, inner: edge.means(along * unit) },
    near: indicesWhere(away.length, (p) => away[p] > 0 && away[p] <= outermost * unit),
    // One pixel in four tells as much.
    far: indicesWhere(
      away.length,
      (p) => away[p] > groundFrom * unit && away[p] < groundTo * unit && (p & 1) === 0 && (Math.floor(p / width) & 1) === 0,
    ),
    subject: carried({ width, height, codes, cells }, inside),
  };
}

/** Side, px, of the cells in which colours are carried, and means are taken before they are smoothed. */
const cell = 4;

/** The cell of each pixel: row by row. */
function cellsOf(width: number, height: number): Int32Array {
  const across = Math.ceil(width / cell);
  const out = new Int32Array(width * height);
  for (let y = 0, p = 0; y < height; y++) {
    const row = Math.floor(y / cell) * across;
    for (let x = 0; x < width; x++, p++) out[p] = row + Math.floor(x / cell);
  }
  return out;
}

/** Colours at some pixels carried everywhere, by cell. */
function carried({ width, height, codes, cells }: Pick<Scene, 'width' | 'height' | 'codes' | 'cells'>, places: Int32Array): Float32Array[] {
  const size = { width: Math.ceil(width / cell), height: Math.ceil(height / cell) };
  const known = makePlane(size.width, size.height);
  const count = known.data;
  for (const p of places) count[cells[p]]++;
  const sums = codes.map((channel) => {
    const sum = makePlane(size.width, size.height);
    for (const p of places) sum.data[cells[p]] += channel[p];
    for (let q = 0; q < count.length; q++) if (count[q] > 0) sum.data[q] /= count[q];
    return sum;
  });
  for (let q = 0; q < count.length; q++) if (count[q] > 0) count[q] = 1;
  return pushPull(sums, known).map(({ data }) => data);
}

/** Means over what lies around, of pixels by group. */
class Around {
  private readonly size: { width: number; height: number };
  private readonly sum: Float32Array[];
  private readonly total: Float32Array[];

  constructor(width: number, height: number, groups: number) {
    this.size = { width: Math.ceil(width / cell), height: Math.ceil(height / cell) };
    const area = this.size.width * this.size.height;
    this.sum = Array.from({ length: groups }, () => new Float32Array(area));
    this.total = Array.from({ length: groups }, () => new Float32Array(area));
  }

  add(group: number, at: number, value: number): void {
    this.sum[group][at] += value;
    this.total[group][at]++;
  }

  /** A pixel's colour, into the first three groups. */
  addColour(at: number, p: number, codes: Float32Array[]): void {
    for (let c = 0; c < 3; c++) this.add(c, at, codes[c][p]);
  }

  /** Means by group and cell, smoothed. @param sigma px */
  means(sigma: number): Float32Array[] {
    return this.sum.map((sum, g) => {
      const smooth = gaussian({ ...this.size, data: sum }, sigma / cell).data;
      const total = gaussian({ ...this.size, data: this.total[g] }, sigma / cell).data;
      for (let i = 0; i < smooth.length; i++) smooth[i] = total[i] > 1e-3 ? smooth[i] / total[i] : 0;
      return smooth;
    });
  }
}

/** Whether every ring up to one leans clearly more than the ring farther out. */
function falls(means: Float32Array[], ring: number, at: number): boolean {
  if (ring + farther > last) return false;
  for (let j = 0; j <= ring; j++) if (means[j][at] - means[j + farther][at] < leans) return false;
  return true;
}

/** Pixels moved with the outline; none that leave the picture or come too near to the subject. */
function moved({ width, height, away, unit }: Scene, places: Int32Array, dx: number, dy: number): Int32Array {
  if (dx === 0 && dy === 0) return places;
  const out = new Int32Array(places.length);
  const tooNear = apart * unit;
  let count = 0;
  for (const p of places) {
    const y = Math.floor(p / width);
    const x = p - y * width + dx;
    const q = p + dy * width + dx;
    if (x < 0 || y + dy < 0 || x >= width || y + dy >= height || away[q] < tooNear) continue;
    out[count++] = q;
  }
  return out.subarray(0, count);
}

/** What is found around an outline. */
export interface Found {
  /** Masks: a part that the matte lacks, and what leans towards the subject the less the farther out it is. */
  part: Uint8Array;
  rim: Uint8Array;
  /** Pixels of such parts for each pixel of outline. */
  parts: number;
  /** Length of the outline, px. */
  outline: number;
}

/**
 * What is found around the matte's outline, or around the same outline laid elsewhere: there it has the subject's colours with it, but no
 * subject.
 *
 * @param dx px, a whole number of cells, as `dy`
 */
export function look(scene: Scene, dx: number, dy: number): Found {
  const { width, height, codes, cells, away, near, far, subject, inner, unit } = scene;
  const offset = dy * width + dx;
  const shift = (dy / cell) * Math.ceil(width / cell) + dx / cell;
  const behind = carried(scene, moved(scene, far, dx, dy));
  const edge = new Around(width, height, 3);
  const around = new Around(width, height, last + 1);
  const places = moved(scene, near, dx, dy);
  const ring = new Int8Array(places.length).fill(-1);
  const tells = new Uint8Array(places.length);
  const [r, g, b] = codes;
  const [groundR, groundG, groundB] = behind;
  const [ownR, ownG, ownB] = subject;
  const borders = rings.map((d) => d * unit);
  let outline = 0;
  for (let i = 0; i < places.length; i++) {
    const p = places[i];
    const d = away[p - offset];
    if (d <= 1) outline++;
    if (d > borders[last + 1]) continue;
    let at = 0;
    while (d > borders[at + 1]) at++;
    ring[i] = at;
    const here = cells[p];
    const own = cells[p - offset];
    const [wayR, wayG, wayB] = [ownR[own] - groundR[here], ownG[own] - groundG[here], ownB[own] - groundB[here]];
    const separate = wayR * wayR + wayG * wayG + wayB * wayB;
    if (separate > telling) {
      const toward = (r[p] - groundR[here]) * wayR + (g[p] - groundG[here]) * wayG + (b[p] - groundB[here]) * wayB;
      tells[i] = 1;
      around.add(at, here, Math.max(-1, Math.min(1.5, toward / separate)));
    }
    if (d <= beside * unit) edge.addColour(here, p, codes);
  }
  const means = around.means(along * unit);
  const outer = edge.means(along * unit);
  const [part, rim] = [new Uint8Array(width * height), new Uint8Array(width * height)];
  let parts = 0;
  const isLacking = (here: number, own: number, to: number): boolean => {
    for (let j = 0; j <= to; j++) if (means[j][here] <= isPart) return false;
    let [differs, separate] = [0, 0];
    for (let c = 0; c < 3; c++) {
      differs += (inner[c][here - shift] - outer[c][here]) ** 2;
      separate += (subject[c][own] - behind[c][here]) ** 2;
    }
    return differs < sameAcross * separate;
  };
  for (let i = 0; i < places.length; i++) {
    if (ring[i] < 0) continue;
    const p = places[i];
    const here = cells[p];
    if (tells[i] === 1 && isLacking(here, cells[p - offset], ring[i])) {
      part[p] = 1;
      parts++;
    } else if (falls(means, ring[i], here)) rim[p] = 1;
  }
  return { part, rim, parts: parts / Math.max(1, outline), outline };
}

/** Where the outline can be laid over ground alone: as much of it as possible in the picture and off the subject. */
export function placesFor({ width, height, away, unit }: Scene): [number, number][] {
  const rim: [number, number][] = [];
  let [left, right, top, bottom] = [width, 0, height, 0];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (away[p] === 0) [left, right, top, bottom] = [Math.min(left, x), Math.max(right, x), Math.min(top, y), Math.max(bottom, y)];
      else if (away[p] > 10 * unit && away[p] < 11 * unit) rim.push([x, y]);
    }
  }
  const candidates: [number, number, number][] = [];
  for (let k = 0; k < 16; k++) {
    for (const share of [0.3, 0.55, 0.9]) {
      const dx = cell * Math.round((share * (right - left) * Math.cos((k * Math.PI) / 8)) / cell);
      const dy = cell * Math.round((share * (bottom - top) * Math.sin((k * Math.PI) / 8)) / cell);
      let free = 0;
      for (let i = 0; i < rim.length; i += 4) {
        const [x, y] = [rim[i][0] + dx, rim[i][1] + dy];
        if (x >= 0 && y >= 0 && x < width && y < height && away[y * width + x] > 40 * unit) free++;
      }
      candidates.push([dx, dy, (4 * free) / Math.max(1, rim.length)]);
    }
  }
  return candidates
    .filter(([, , free]) => free > 0.2)
    .sort((a, b) => b[2] - a[2])
    .slice(0, trials)
    .map(([dx, dy]) => [dx, dy]);
}

import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { indicesWhere, maskOf, maskOfCode } from '../raster/mask';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { residueKinds } from './residueKinds';

/** Lengths below are px of a shot whose longest side is this. */
const named = 1200;
const smallestUnit = 0.7;
/** Opacity from which a pixel is the matte's own, and above which it is surely subject. */
const touched = 0.01;
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
/** A strand leans this far from its surroundings towards the subject, in their direction, and stands out of them by so many deviations. */
const strandLean = 0.14;
const strandWay = 0.8;
const strandOut = 2.2;
const strandAround = 7;
const strandReach = 34;
/** It begins so near to the matte, and goes so far away from it, px. */
const strandFrom = 9;
const strandLong = 8;
/** Light lost in a shade, as a share, that is more than that of the ring farther out. */
const shades = 0.07;
/** Least squared difference of subject and ground, in encoded light, that lets them be told apart. */
const telling = 0.006;
/** So many times the outline is laid over ground alone, to see what is found by chance. */
const trials = 4;

/** Codes of the kinds, places in `residueKinds` and one. */
const [rim, part, strand, shade] = residueKinds.map((_, i) => i + 1);

/** What is measured, at the size it is measured at. */
export interface Scene {
  width: number;
  height: number;
  unit: number;
  /** Encoded light. */
  codes: Float32Array[];
  /** Distance to what the matte touches, px. */
  away: Float32Array;
  /** Pixels within the outermost ring and a little farther, and those that ground is guessed from; both around the outline. */
  near: Int32Array;
  far: Int32Array;
  /** The subject's colour carried outwards, by block, and its mean within the edge, by cell. */
  subject: Float32Array[];
  inner: Float32Array[];
}

/** What is measured of a shot and its matte, both at the size at which it is. */
export function sceneOf(shot: Picture, cover: Plane): Scene {
  const { width, height } = cover;
  // Rings narrower than a pixel would be empty.
  const unit = Math.max(smallestUnit, Math.max(width, height) / named);
  const codes = [shot.r, shot.g, shot.b].map((data) => data.map((v) => encodedQuickly(v)));
  const covered = maskOf(cover.data, (a) => a > touched);
  const away = distanceTo(covered, width, height, groundTo * unit).data;
  const open = maskOf(cover.data, (a) => a < sure);
  const inwards = distanceTo(open, width, height, edgeTo * unit + 1).data;
  const edge = new Around(width, height, 3);
  const inside = indicesWhere(away.length, (p) => inwards[p] > unit);
  for (const p of inside) if (inwards[p] < edgeTo * unit) edge.addColour(p, codes);
  return {
    ...{ width, height, unit, codes, away, inner: edge.means(along * unit) },
    near: indicesWhere(away.length, (p) => away[p] > 0 && away[p] <= (outermost + strandAround) * unit),
    // One pixel in four tells as much.
    far: indicesWhere(
      away.length,
      (p) => away[p] > groundFrom * unit && away[p] < groundTo * unit && (p & 1) === 0 && (Math.floor(p / width) & 1) === 0,
    ),
    subject: carried(codes, inside, width, height),
  };
}

/** Colours that are carried are worked out in blocks so many times halved. */
const blocks = 2;

/** The block of a pixel. */
function blockOf(p: number, width: number): number {
  const y = Math.floor(p / width);
  return (y >> blocks) * ((width + (1 << blocks) - 1) >> blocks) + ((p - y * width) >> blocks);
}

/** Colours at some pixels carried everywhere, by block. */
function carried(codes: Float32Array[], places: Int32Array, width: number, height: number): Float32Array[] {
  const least = (1 << blocks) - 1;
  const size = { width: (width + least) >> blocks, height: (height + least) >> blocks };
  const known = makePlane(size.width, size.height);
  const sums = codes.map(() => makePlane(size.width, size.height));
  for (const p of places) {
    const q = blockOf(p, width);
    known.data[q]++;
    for (let c = 0; c < 3; c++) sums[c].data[q] += codes[c][p];
  }
  for (let q = 0; q < known.data.length; q++) {
    if (known.data[q] === 0) continue;
    for (const s of sums) s.data[q] /= known.data[q];
    known.data[q] = 1;
  }
  return pushPull(sums, known).map(({ data }) => data);
}

/** Side, px, of the cells in which means are taken before they are smoothed. */
const cell = 4;

/** Means over what lies around, of pixels by group. */
class Around {
  readonly across: number;
  private readonly down: number;
  private readonly sum: Float32Array[];
  private readonly total: Float32Array[];

  constructor(
    private readonly width: number,
    height: number,
    groups: number,
  ) {
    this.across = Math.ceil(width / cell);
    this.down = Math.ceil(height / cell);
    this.sum = Array.from({ length: groups }, () => new Float32Array(this.across * this.down));
    this.total = Array.from({ length: groups }, () => new Float32Array(this.across * this.down));
  }

  at(p: number): number {
    const y = Math.floor(p / this.width);
    return Math.floor(y / cell) * this.across + Math.floor((p - y * this.width) / cell);
  }

  add(group: number, at: number, value: number): void {
    this.sum[group][at] += value;
    this.total[group][at]++;
  }

  /** A pixel's colour, into the first three groups. */
  addColour(p: number, codes: Float32Array[]): void {
    for (let c = 0; c < 3; c++) this.add(c, this.at(p), codes[c][p]);
  }

  /** Means by group and cell, smoothed. @param sigma px */
  means(sigma: number): Float32Array[] {
    const size = { width: this.across, height: this.down };
    return this.sum.map((sum, g) => {
      const smooth = gaussian({ ...size, data: sum }, sigma / cell).data;
      const total = gaussian({ ...size, data: this.total[g] }, sigma / cell).data;
      return smooth.map((v, i) => (total[i] > 1e-3 ? v / total[i] : 0));
    });
  }
}

/** Whether every ring up to one has so much more than the ring farther out. */
function falls(means: Float32Array[], first: number, ring: number, at: number, by: number): boolean {
  if (ring + farther > last) return false;
  for (let j = first; j <= first + ring; j++) if (means[j][at] - means[j + farther][at] < by) return false;
  return true;
}

/** A pixel moved with the outline; −1 when it leaves the picture or comes too near to the subject. */
function movedBy({ width, height, away, unit }: Scene, p: number, dx: number, dy: number): number {
  if (dx === 0 && dy === 0) return p;
  const [x, y] = [(p % width) + dx, Math.floor(p / width) + dy];
  if (x < 0 || y < 0 || x >= width || y >= height) return -1;
  const q = y * width + x;
  return away[q] < apart * unit ? -1 : q;
}

/**
 * What is found around the matte's outline, or around the same outline laid elsewhere: there it has the subject's colours with it, but no
 * subject.
 *
 * @param dx px, a whole number of cells, as `dy`
 */
export function look(scene: Scene, dx: number, dy: number): { kind: Uint8Array; share: number[]; outline: number } {
  const { width, height, codes, away, near, far, subject, inner, unit } = scene;
  const n = width * height;
  const offset = dy * width + dx;
  const shift = (dy / cell) * Math.ceil(width / cell) + dx / cell;
  const behind = carried(codes, far.map((p) => movedBy(scene, p, dx, dy)).filter((q) => q >= 0), width, height); // prettier-ignore
  const edge = new Around(width, height, 3);
  const around = new Around(width, height, 2 * (last + 1));
  const places = near.map((p) => movedBy(scene, p, dx, dy)).filter((q) => q >= 0);
  const ring = new Int8Array(places.length).fill(-1);
  const tells = new Uint8Array(places.length);
  let outline = 0;
  for (let i = 0; i < places.length; i++) {
    const p = places[i];
    const d = away[p - offset];
    if (d <= 1) outline++;
    if (d > outermost * unit) continue;
    const g = blockOf(p, width);
    const s = blockOf(p - offset, width);
    let [toward, separate] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const way = subject[c][s] - behind[c][g];
      toward += (codes[c][p] - behind[c][g]) * way;
      separate += way * way;
    }
    while (d > rings[ring[i] + 1] * unit) ring[i]++;
    const at = around.at(p);
    if (separate > telling) {
      tells[i] = 1;
      around.add(ring[i], at, Math.max(-1, Math.min(1.5, toward / separate)));
    }
    if (d <= beside * unit) edge.addColour(p, codes);
    const was = luminance(behind[0][g], behind[1][g], behind[2][g]);
    const is = luminance(codes[0][p], codes[1][p], codes[2][p]);
    if (was > 0.05) around.add(last + 1 + ring[i], at, Math.max(-1, Math.min(1, 1 - is / was)));
  }
  const means = around.means(along * unit);
  const outer = edge.means(along * unit);
  const kind = new Uint8Array(n);
  for (let i = 0; i < places.length; i++) {
    if (ring[i] < 0) continue;
    const p = places[i];
    const at = around.at(p);
    let lacking = tells[i] === 1;
    for (let j = 0; j <= ring[i] && lacking; j++) lacking = means[j][at] > isPart;
    if (lacking) {
      const [g, s] = [blockOf(p, width), blockOf(p - offset, width)];
      let [differs, separate] = [0, 0];
      for (let c = 0; c < 3; c++) {
        differs += (inner[c][at - shift] - outer[c][at]) ** 2;
        separate += (subject[c][s] - behind[c][g]) ** 2;
      }
      lacking = differs < sameAcross * separate;
    }
    if (lacking) kind[p] = part;
    else if (falls(means, 0, ring[i], at, leans)) kind[p] = rim;
    else if (falls(means, last + 1, ring[i], at, shades)) kind[p] = shade;
  }
  strands(scene, places, offset, kind);
  const share = residueKinds.map(() => 0);
  for (const p of places) if (kind[p] > 0) share[kind[p] - 1] += 1 / Math.max(1, outline);
  return { kind, share, outline };
}

/** Single strands: thin, of the subject's colour, unlike all around them, long, and from the subject on. */
function strands({ width, height, codes, away, subject, unit }: Scene, places: Int32Array, offset: number, kind: Uint8Array): void {
  const around = new Around(width, height, 4);
  for (const p of places) {
    around.addColour(p, codes);
    around.add(3, around.at(p), codes[0][p] ** 2 + codes[1][p] ** 2 + codes[2][p] ** 2);
  }
  const means = around.means(strandAround * unit);
  for (const p of places) {
    if (away[p - offset] > strandReach * unit || kind[p] > 0) continue;
    const at = around.at(p);
    const s = blockOf(p - offset, width);
    let [out, toward, separate, spread] = [0, 0, 0, means[3][at]];
    for (let c = 0; c < 3; c++) {
      const mean = means[c][at];
      const e = codes[c][p] - mean;
      const d = subject[c][s] - mean;
      spread -= mean * mean;
      out += e * e;
      toward += e * d;
      separate += d * d;
    }
    if (separate < telling || toward < strandLean * separate || toward < strandWay * Math.sqrt(out * separate)) continue;
    if (out < strandOut * spread + 0.0008) continue;
    kind[p] = strand;
  }
  const { label, area } = components(maskOfCode(kind, strand), width, height);
  const from = new Float32Array(area.length).fill(Infinity);
  const to = new Float32Array(area.length);
  for (const p of places) {
    const i = label[p];
    from[i] = Math.min(from[i], away[p - offset]);
    to[i] = Math.max(to[i], away[p - offset]);
  }
  for (const p of places) {
    const i = label[p];
    if (i > 0 && (from[i] > strandFrom * unit || to[i] - from[i] < strandLong * unit)) kind[p] = 0;
  }
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

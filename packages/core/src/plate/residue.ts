import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { indicesWhere, maskAt, maskOf, maskOfCode } from '../raster/mask';
import { assertSameSize, makePlane, type Picture, type Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { resizePicture, resizePlane, scaledSize } from '../raster/resize';

/** What of the subject may be left beside its matte, as it is told. */
export const residueKinds = ['rim', 'part', 'strand', 'shade'] as const;
export type ResidueKind = (typeof residueKinds)[number];

/** A place where something of the subject is left, px of the full-size shot. */
export interface ResiduePlace {
  x: number;
  y: number;
  kind: ResidueKind;
  /** Area, px² of the full-size shot. */
  area: number;
}

/** What of the subject is left beside its matte. */
export interface Residue {
  /** 1 where something is left, of kinds that are found clearly more often than by chance; at the shot's size. */
  map: Plane;
  /** What each pixel is taken for: 0 nothing, else a place in `residueKinds` and one. Chance finds among them. */
  kind: Uint8Array;
  /** By kind: area found for each pixel of outline, px of a shot whose longest side is 1200. */
  found: number[];
  /** The same where the outline was laid over ground alone; nothing where there was no room to lay it. */
  chance?: number[];
  /** Length of the matte's outline, px of the shot. */
  outline: number;
}

/** What of it a hole does not swallow. */
export interface Left {
  /** Its mean width along the outline, px of the full-size shot; nothing when it cannot be told from what is there by chance. */
  width?: number;
  /** The largest places, largest first. */
  places: ResiduePlace[];
}

/** Longest side, px, at which it is looked for. Lengths below are px of a shot whose longest side is 1200. */
const workSide = 900;
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
const strand = 3;
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
/** By kind, so much of it for each pixel of outline is something, px, if it is also so many times what is found by chance. */
const enough = [0.15, 0.03, 0.012, 0.15];
const beyondChance = [1.6, 2.5, 1.8, 1.6];
/** What is left is swallowed with so much around it, px of the full-size shot. */
const swallowed = 2;
/** So many times the outline is laid over ground alone, to see what is found by chance. */
const trials = 4;

/** What is measured, at the size it is measured at. */
interface Scene {
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

/**
 * What of the subject is left in the ground beside its matte: a soft or smeared rim, a part that the matte lacks, single strands,
 * its contact shadow. The ground is guessed from what lies farther away. In rings around the matte, and along the outline place by
 * place, it is measured how far the shot's colour has moved from that guess towards the subject beside it, or into the dark. What the
 * subject leaves falls off with the distance from it or has no contour towards it; what merely looks alike rarely does. How
 * rarely is measured with the same outline laid over ground alone.
 *
 * @throws RangeError when sizes differ
 */
export function residueOf(shot: Picture, matte: Plane): Residue {
  assertSameSize(shot, matte, 'looking for what is left of the subject');
  const whole = { width: matte.width, height: matte.height };
  const longest = Math.max(whole.width, whole.height);
  const size = scaledSize(whole.width, whole.height, Math.min(1, workSide / longest));
  const scene = sceneOf(resizePicture(shot, size.width, size.height), resizePlane(matte, size.width, size.height));
  const own = look(scene, 0, 0);
  const shifts = placesFor(scene);
  const chance = residueKinds.map(() => 0);
  for (const [dx, dy] of shifts) look(scene, dx, dy).share.forEach((v, i) => (chance[i] += v / shifts.length));
  const known = shifts.length > 0;
  const clear = own.share.map((v, i) => known && v / scene.unit > enough[i] && v > beyondChance[i] * chance[i]);
  const kind = maskAt(own.kind, size.width, size.height, whole.width, whole.height);
  const map: Plane = { ...size, data: Float32Array.from(own.kind, (k) => (k > 0 && clear[k - 1] ? 1 : 0)) };
  return {
    map: resizePlane(map, whole.width, whole.height),
    kind,
    found: own.share.map((v) => v / scene.unit),
    ...(known && { chance: chance.map((v) => v / scene.unit) }),
    outline: (own.outline * whole.width) / size.width,
  };
}

/** Whether a kind is found clearly more often than by chance. */
export function isClear({ found, chance }: Residue, kind: ResidueKind): boolean {
  const i = residueKinds.indexOf(kind);
  return chance !== undefined && found[i] > enough[i] && found[i] > beyondChance[i] * chance[i];
}

/** The hole with all in it that is clearly left of the subject, shadows excepted: they belong to the ground. */
export function swallowing(hole: Plane, residue: Residue, scale: number): Plane {
  const { width, height } = hole;
  const shade = residueKinds.indexOf('shade') + 1;
  const left = maskOf(residue.map.data, (v, p) => v > 0.5 && residue.kind[p] !== shade);
  if (!left.includes(1)) return hole;
  const reach = swallowed * scale;
  const away = distanceTo(left, width, height, reach + 1).data;
  return { ...hole, data: hole.data.map((h, p) => Math.max(h, Math.min(1, Math.max(0, reach + 1 - away[p])))) };
}

/** What of the subject is left where a hole does not reach. */
export function leftOutside(residue: Residue, hole: Plane, scale: number): Left {
  const kept = (p: number): boolean => hole.data[p] < 0.5;
  const places = residuePlaces(residue, kept, scale);
  const area = places.reduce((sum, p) => sum + p.area, 0);
  return { ...(residue.chance && { width: (area * scale) / Math.max(1, residue.outline) }), places: places.slice(0, 40) };
}

function sceneOf(shot: Picture, cover: Plane): Scene {
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
function look(scene: Scene, dx: number, dy: number): { kind: Uint8Array; share: number[]; outline: number } {
  const { width, height, codes, away, near, far, subject, inner, unit } = scene;
  const n = width * height;
  const offset = dy * width + dx;
  const shift = (dy / cell) * Math.ceil(width / cell) + dx / cell;
  const behind = carried(codes, far.map((p) => movedBy(scene, p, dx, dy)).filter((q) => q >= 0), width, height); // prettier-ignore
  const rim = new Around(width, height, 3);
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
    if (d <= beside * unit) rim.addColour(p, codes);
    const was = luminance(behind[0][g], behind[1][g], behind[2][g]);
    const is = luminance(codes[0][p], codes[1][p], codes[2][p]);
    if (was > 0.05) around.add(last + 1 + ring[i], at, Math.max(-1, Math.min(1, 1 - is / was)));
  }
  const means = around.means(along * unit);
  const outer = rim.means(along * unit);
  const kind = new Uint8Array(n);
  for (let i = 0; i < places.length; i++) {
    if (ring[i] < 0) continue;
    const p = places[i];
    const at = around.at(p);
    let part = tells[i] === 1;
    for (let j = 0; j <= ring[i] && part; j++) part = means[j][at] > isPart;
    if (part) {
      const [g, s] = [blockOf(p, width), blockOf(p - offset, width)];
      let [differs, separate] = [0, 0];
      for (let c = 0; c < 3; c++) {
        differs += (inner[c][at - shift] - outer[c][at]) ** 2;
        separate += (subject[c][s] - behind[c][g]) ** 2;
      }
      part = differs < sameAcross * separate;
    }
    if (part) kind[p] = 2;
    else if (falls(means, 0, ring[i], at, leans)) kind[p] = 1;
    else if (falls(means, last + 1, ring[i], at, shades)) kind[p] = 4;
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
function placesFor({ width, height, away, unit }: Scene): [number, number][] {
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

/** Places of what is left where it is kept, the largest first. */
function residuePlaces({ map, kind }: Residue, kept: (p: number) => boolean, scale: number): ResiduePlace[] {
  const { width, height } = map;
  const mask = maskOf(map.data, (v, p) => v > 0.5 && kind[p] > 0 && kept(p));
  const { label, area } = components(mask, width, height);
  const sums = area.map(() => ({ x: 0, y: 0, kinds: [0, 0, 0, 0] }));
  for (let p = 0; p < label.length; p++) {
    if (label[p] === 0) continue;
    const s = sums[label[p]];
    s.x += p % width;
    s.y += Math.floor(p / width);
    s.kinds[kind[p] - 1]++;
  }
  const out: ResiduePlace[] = [];
  for (let i = 1; i < area.length; i++) {
    const { x, y, kinds } = sums[i];
    const most = kinds.indexOf(Math.max(...kinds));
    out.push({ x: (x / area[i] + 0.5) / scale, y: (y / area[i] + 0.5) / scale, kind: residueKinds[most], area: area[i] / scale ** 2 });
  }
  return out.sort((a, b) => b.area - a.area);
}

import type { Features } from './colourModel';
import type { Contours } from './contours';

/** A picture as regions between contours, and which lie beside each other. */
export interface RegionGraph {
  count: number;
  /** The region of each pixel. */
  region: Int32Array;
  /** Of each region: pixels, mean features, middle (px), and pixels on the picture's rim. */
  area: Float64Array;
  l: Float64Array;
  a: Float64Array;
  b: Float64Array;
  busy: Float64Array;
  x: Float64Array;
  y: Float64Array;
  rim: Float64Array;
  /** Pairs of neighbours: both regions, pixels along the border between them, and its mean strength. */
  from: Int32Array;
  to: Int32Array;
  length: Float64Array;
  strength: Float64Array;
}

/** Steps of strength that the flood tells apart, and how many 1 is. */
const steps = 256;
const stepsEach = 60;
/** Regions wanted at most, about; and how unlike two may be that are merged anyway, and at most. */
const wanted = 2200;
const alike = 0.5;
const mostUnlike = 4 * alike;
/** Regions with fewer pixels than this are merged sooner. */
const smallest = 60;
/** What a difference of mean colour counts, and one of busyness. */
const colourWeight = 8;
const busyWeight = 0.5;

/**
 * Regions by flooding the strengths of contours from their minima (watershed; Vincent & Soille 1991), then merging neighbours, the
 * most alike first, by the strength of their whole common border and by their mean colours (after Arbeláez et al. 2011).
 * The border of a thing is judged as a whole: one weak place in it is no gap.
 */
export function regionsOf(lab: Features, contours: Contours): RegionGraph {
  const basin = flooded(contours);
  let graph = graphOf(lab, contours, basin);
  for (let limit = alike; ; limit *= 1.3) {
    for (;;) {
      const merged = mergedPairs(graph, limit);
      if (!merged) break;
      graph = merged;
    }
    if (graph.count <= wanted || limit >= mostUnlike) break;
  }
  // Until here regions were of basins.
  const { region } = graph;
  return { ...graph, region: basin.map((b) => region[b]) };
}

/** The basin of each pixel, from 0. */
function flooded({ width, height, across }: Contours): Int32Array {
  const n = width * height;
  const height8 = new Uint8Array(n);
  for (let p = 0; p < n; p++) {
    const strongest = Math.max(across[p], across[n + p], across[2 * n + p], across[3 * n + p]);
    height8[p] = Math.min(steps - 1, strongest * stepsEach);
  }
  const basin = new Int32Array(n).fill(-1);
  // A queue for each height, first come first served.
  const head = new Int32Array(steps).fill(-1);
  const tail = new Int32Array(steps).fill(-1);
  const next = new Int32Array(n);
  const put = (p: number, at: number): void => {
    next[p] = -1;
    if (head[at] < 0) head[at] = p;
    else next[tail[at]] = p;
    tail[at] = p;
  };
  // The neighbours of a pixel, or the pixel itself where there is none.
  const beside = new Int32Array(4);
  const lookAround = (p: number): void => {
    const x = p % width;
    beside[0] = x > 0 ? p - 1 : p;
    beside[1] = x + 1 < width ? p + 1 : p;
    beside[2] = p >= width ? p - width : p;
    beside[3] = p + width < n ? p + width : p;
  };
  // Minima: flat places without a lower neighbour.
  const seen = new Uint8Array(n);
  const flat = new Int32Array(n);
  let count = 0;
  for (let p = 0; p < n; p++) {
    if (seen[p]) continue;
    let lowest = true;
    let end = 0;
    flat[end++] = p;
    seen[p] = 1;
    for (let i = 0; i < end; i++) {
      lookAround(flat[i]);
      for (let k = 0; k < 4; k++) {
        const q = beside[k];
        if (height8[q] < height8[p]) lowest = false;
        else if (height8[q] === height8[p] && !seen[q]) {
          seen[q] = 1;
          flat[end++] = q;
        }
      }
    }
    if (!lowest) continue;
    for (let i = 0; i < end; i++) {
      basin[flat[i]] = count;
      put(flat[i], height8[p]);
    }
    count++;
  }
  for (let at = 0; at < steps; at++) {
    while (head[at] >= 0) {
      const p = head[at];
      head[at] = next[p];
      lookAround(p);
      for (let k = 0; k < 4; k++) {
        const q = beside[k];
        if (basin[q] >= 0) continue;
        basin[q] = basin[p];
        put(q, Math.max(at, height8[q]));
      }
    }
  }
  return basin;
}

/** Means, middles and neighbours of basins; each is its own region. */
function graphOf(lab: Features, { width, height, across }: Contours, basin: Int32Array): RegionGraph {
  const n = width * height;
  let count = 0;
  for (let p = 0; p < n; p++) count = Math.max(count, basin[p] + 1);
  const sums = (): Float64Array => new Float64Array(count);
  const [area, l, a, b, busy, x, y, rim] = [sums(), sums(), sums(), sums(), sums(), sums(), sums(), sums()];
  const pairs = new Pairs();
  for (let v = 0, p = 0; v < height; v++) {
    for (let u = 0; u < width; u++, p++) {
      const r = basin[p];
      area[r]++;
      l[r] += lab.l[p];
      a[r] += lab.a[p];
      b[r] += lab.b[p];
      if (lab.busy) busy[r] += lab.busy[p];
      x[r] += u;
      y[r] += v;
      if (u === 0 || v === 0 || u === width - 1 || v === height - 1) rim[r]++;
      if (u + 1 < width && basin[p + 1] !== r) pairs.add(r, basin[p + 1], 1, Math.max(across[p], across[p + 1]));
      if (v + 1 < height && basin[p + width] !== r) {
        pairs.add(r, basin[p + width], 1, Math.max(across[2 * n + p], across[2 * n + p + width]));
      }
    }
  }
  for (const sum of [l, a, b, busy, x, y]) for (let r = 0; r < count; r++) sum[r] /= area[r];
  const region = Int32Array.from({ length: count }, (_, r) => r);
  return { count, region, area, l, a, b, busy, x, y, rim, ...pairs.lists() };
}

/** How unlike two neighbours are; small regions count as more alike. */
function unlikeness(g: RegionGraph, e: number): number {
  const [i, j] = [g.from[e], g.to[e]];
  const apart = Math.sqrt(apartInColour(g, i, j));
  const small = Math.min(g.area[i], g.area[j]);
  const plain = g.strength[e] + colourWeight * apart + busyWeight * Math.abs(g.busy[i] - g.busy[j]);
  return plain * Math.min(1, 0.3 + small / smallest);
}

/** Squared difference of two regions' mean colours. */
export function apartInColour(g: RegionGraph, i: number, j: number): number {
  const da = g.a[i] - g.a[j];
  const db = g.b[i] - g.b[j];
  return (g.l[i] - g.l[j]) ** 2 + 4 * (da * da + db * db);
}

/** The graph with all pairs merged that are each other's most alike neighbour; nothing when there are none within the limit. */
function mergedPairs(g: RegionGraph, limit: number): RegionGraph | undefined {
  const best = new Int32Array(g.count).fill(-1);
  const least = new Float64Array(g.count).fill(limit);
  const closer = (i: number, e: number, apart: number): void => {
    if (apart > least[i] || (apart === least[i] && best[i] >= 0)) return;
    least[i] = apart;
    best[i] = e;
  };
  for (let e = 0; e < g.from.length; e++) {
    const apart = unlikeness(g, e);
    closer(g.from[e], e, apart);
    closer(g.to[e], e, apart);
  }
  const name = new Int32Array(g.count).fill(-1);
  let count = 0;
  for (let i = 0; i < g.count; i++) {
    if (name[i] >= 0) continue;
    name[i] = count;
    const e = best[i];
    if (e >= 0) {
      const other = g.from[e] === i ? g.to[e] : g.from[e];
      if (best[other] === e) name[other] = count;
    }
    count++;
  }
  if (count === g.count) return undefined;
  const area = new Float64Array(count);
  const rim = new Float64Array(count);
  for (let i = 0; i < g.count; i++) {
    area[name[i]] += g.area[i];
    rim[name[i]] += g.rim[i];
  }
  const mean = (of: Float64Array): Float64Array => {
    const out = new Float64Array(count);
    for (let i = 0; i < g.count; i++) out[name[i]] += (of[i] * g.area[i]) / area[name[i]];
    return out;
  };
  const pairs = new Pairs();
  for (let e = 0; e < g.from.length; e++) {
    const [i, j] = [name[g.from[e]], name[g.to[e]]];
    if (i !== j) pairs.add(i, j, g.length[e], g.length[e] * g.strength[e]);
  }
  const region = g.region.map((r) => name[r]);
  const [l, a, b, busy, x, y] = [g.l, g.a, g.b, g.busy, g.x, g.y].map(mean);
  return { count, region, area, l, a, b, busy, x, y, rim, ...pairs.lists() };
}

/** Pairs of numbers and two sums for each, in the order in which they came first. */
class Pairs {
  private count = 0;
  private from = new Int32Array(1024);
  private to = new Int32Array(1024);
  private lengths = new Float64Array(1024);
  private sums = new Float64Array(1024);
  /** Places of pairs by a hash of them, one more than the place; 0 where none is. */
  private table = new Int32Array(4096);

  add(i: number, j: number, length: number, sum: number): void {
    const low = Math.min(i, j);
    const high = Math.max(i, j);
    let slot = this.slotOf(low, high);
    if (this.table[slot] === 0) {
      if (this.count === this.from.length) {
        this.grow();
        slot = this.slotOf(low, high);
      }
      this.from[this.count] = low;
      this.to[this.count] = high;
      this.table[slot] = ++this.count;
    }
    const at = this.table[slot] - 1;
    this.lengths[at] += length;
    this.sums[at] += sum;
  }

  private slotOf(low: number, high: number): number {
    const mask = this.table.length - 1;
    for (let slot = (Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b)) >>> 7; ; slot++) {
      const at = this.table[slot & mask] - 1;
      if (at < 0 || (this.from[at] === low && this.to[at] === high)) return slot & mask;
    }
  }

  private grow(): void {
    const room = 2 * this.from.length;
    const larger = <T extends Int32Array | Float64Array>(old: T, out: T): T => {
      out.set(old);
      return out;
    };
    this.from = larger(this.from, new Int32Array(room));
    this.to = larger(this.to, new Int32Array(room));
    this.lengths = larger(this.lengths, new Float64Array(room));
    this.sums = larger(this.sums, new Float64Array(room));
    this.table = new Int32Array(4 * room);
    for (let at = 0; at < this.count; at++) this.table[this.slotOf(this.from[at], this.to[at])] = at + 1;
  }

  lists(): Pick<RegionGraph, 'from' | 'to' | 'length' | 'strength'> {
    const length = this.lengths.slice(0, this.count);
    return {
      from: this.from.slice(0, this.count),
      to: this.to.slice(0, this.count),
      length,
      strength: this.sums.slice(0, this.count).map((s, e) => s / length[e]),
    };
  }
}

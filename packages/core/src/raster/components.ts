import { inArenaNow, type Arena } from '../runtime/arena';

/** Connected regions of a mask as runs: stretches of a row that belong to it. */
export interface RegionRuns {
  /** First pixel of each run and the one after its last, in reading order. */
  start: Int32Array;
  end: Int32Array;
  /** The number of each run's region, from 1 in the reading order of their first pixels. */
  region: Int32Array;
  /** Area in pixels of region i at index i; index 0 is unused. */
  area: number[];
}

/** What belongs to a region: the non-zero bytes of a mask, or numbers that lie between two limits. */
type Belonging = Uint8Array | { values: Float32Array; above: number; below: number };

/**
 * Regions of pixels that touch along a side or a corner. Runs of each row are joined to those they touch in the
 * row above (union-find). Costs a look at each pixel, and the runs.
 */
export function regionRuns(what: Belonging, width: number, height: number): RegionRuns {
  const { start, end, rows } = runsOf(what, width, height);
  const parent = new Int32Array(start.length);
  for (let i = 0; i < parent.length; i++) parent[i] = i;
  const rootOf = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  for (let y = 1; y < height; y++) {
    let above = rows[y - 1];
    const first = rows[y];
    for (let run = first; run < rows[y + 1]; run++) {
      const [from, p] = [start[run], end[run]];
      // Runs of the row above that end before this one begins touch none that follow either.
      while (above < first && end[above] + width < from) above++;
      for (let k = above; k < first && start[k] + width <= p; k++) {
        const [a, b] = [rootOf(k), rootOf(run)];
        // The lower number stays.
        if (a < b) parent[b] = a;
        else parent[a] = b;
      }
    }
  }
  const region = new Int32Array(start.length);
  const area = [0];
  for (let i = 0; i < region.length; i++) {
    const root = rootOf(i);
    if (root === i) {
      region[i] = area.length;
      area.push(0);
    } else region[i] = region[root];
    area[region[i]] += end[i] - start[i];
  }
  return { start, end, region, area };
}

/** Rows that are looked through at a time. */
const band = 64;

/** The runs of what belongs to a region, and the number of each row's first. */
function runsOf(what: Belonging, width: number, height: number): { start: Int32Array; end: Int32Array; rows: Int32Array } {
  const found: { start: Int32Array; end: Int32Array }[] = [];
  for (let y = 0; y < height; y += band) {
    const from = y * width;
    const rows = Math.min(band, height - y);
    found.push(
      inArenaNow((arena) => {
        // No row has more runs than every second pixel.
        const most = 4 * ((width * rows + rows) >> 1);
        const [starts, ends] = [arena.alloc(most), arena.alloc(most)];
        const mask = maskIn(arena, what, from, width * rows);
        const count = arena.run.runsOf(mask, width, rows, starts, ends);
        const [start, end] = [new Int32Array(count), new Int32Array(count)];
        arena.copyOut(starts, start);
        arena.copyOut(ends, end);
        for (let i = 0; i < count; i++) {
          start[i] += from;
          end[i] += from;
        }
        return { start, end };
      }),
    );
  }
  const count = found.reduce((sum, part) => sum + part.start.length, 0);
  const [start, end] = [new Int32Array(count), new Int32Array(count)];
  let at = 0;
  for (const part of found) {
    start.set(part.start, at);
    end.set(part.end, at);
    at += part.start.length;
  }
  const rows = new Int32Array(height + 1);
  for (let y = 0, i = 0; y <= height; y++) {
    while (i < count && start[i] < y * width) i++;
    rows[y] = i;
  }
  return { start, end, rows };
}

/** The address of a mask of so many pixels, the first of them being `from`. */
function maskIn(arena: Arena, what: Belonging, from: number, n: number): number {
  if (what instanceof Uint8Array) return arena.copyIn(what.subarray(from, from + n));
  const mask = arena.alloc(n);
  arena.run.between(n, arena.copyIn(what.values.subarray(from, from + n)), what.above, what.below, mask);
  return mask;
}

/** Connected regions of a mask. */
export interface Components {
  /** For each pixel the number of its region from 1, or 0 outside the mask. */
  label: Int32Array;
  /** Area in pixels of region i at index i; index 0 is unused. */
  area: number[];
}

/** The same regions, pixel by pixel. */
export function components(mask: Uint8Array, width: number, height: number): Components {
  const { start, end, region, area } = regionRuns(mask, width, height);
  const label = new Int32Array(width * height);
  for (let i = 0; i < region.length; i++) label.fill(region[i], start[i], end[i]);
  return { label, area };
}

/** Connected regions of a mask as runs: stretches of a row that belong to it. */
export interface RegionRuns {
  /** First pixel of each run and the one after its last, in reading order. */
  start: number[];
  end: number[];
  /** The number of each run's region, from 1 in the reading order of their first pixels. */
  region: Int32Array;
  /** Area in pixels of region i at index i; index 0 is unused. */
  area: number[];
}

/**
 * Regions of non-zero pixels that touch along a side or a corner. Runs of each row are joined to those they touch in the
 * row above (union-find). Costs a look at each pixel, and the runs.
 */
export function regionRuns(mask: ArrayLike<number>, width: number, height: number): RegionRuns {
  const start: number[] = [];
  const end: number[] = [];
  const parent: number[] = [];
  const rootOf = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  let above = 0;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const first = start.length;
    for (let p = row, last = row + width; p < last; p++) {
      if (!mask[p]) continue;
      const from = p;
      while (p < last && mask[p]) p++;
      const run = start.length;
      start.push(from);
      end.push(p);
      parent.push(run);
      // Runs of the row above that end before this one begins touch none that follow either.
      while (above < first && end[above] + width < from) above++;
      for (let k = above; k < first && start[k] + width <= p; k++) {
        const [a, b] = [rootOf(k), rootOf(run)];
        // The lower number stays.
        if (a < b) parent[b] = a;
        else parent[a] = b;
      }
    }
    above = first;
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

/** Connected regions of a mask. */
export interface Components {
  /** For each pixel the number of its region from 1, or 0 outside the mask. */
  label: Int32Array;
  /** Area in pixels of region i at index i; index 0 is unused. */
  area: number[];
}

/** The same regions, pixel by pixel. */
export function components(mask: ArrayLike<number>, width: number, height: number): Components {
  const { start, end, region, area } = regionRuns(mask, width, height);
  const label = new Int32Array(width * height);
  for (let i = 0; i < region.length; i++) label.fill(region[i], start[i], end[i]);
  return { label, area };
}

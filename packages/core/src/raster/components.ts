/** Connected regions of a mask. */
export interface Components {
  /** For each pixel the number of its region from 1, or 0 outside the mask. */
  label: Int32Array;
  /** Area in pixels of region i at index i; index 0 is unused. */
  area: number[];
}

/**
 * Regions of non-zero pixels that touch along a side or a corner. Runs of each row are joined to those they touch in the
 * row above (union-find); linear time.
 */
export function components(mask: ArrayLike<number>, width: number, height: number): Components {
  const label = new Int32Array(width * height);
  const parent: number[] = [0];
  const count: number[] = [0];
  const rootOf = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      if (!mask[row + x]) continue;
      const from = x;
      while (x + 1 < width && mask[row + x + 1]) x++;
      let id = 0;
      if (y > 0) {
        const above = row - width;
        const last = Math.min(width - 1, x + 1);
        for (let u = Math.max(0, from - 1), before = 0; u <= last; u++) {
          const other = label[above + u];
          if (other === before) continue;
          before = other;
          if (other === 0) continue;
          const root = rootOf(other);
          if (id === 0) id = root;
          else if (root !== id) {
            // The lower number stays, so that numbers follow the reading order of the first pixels.
            const [low, high] = root < id ? [root, id] : [id, root];
            parent[high] = low;
            count[low] += count[high];
            id = low;
          }
        }
      }
      if (id === 0) {
        id = parent.length;
        parent.push(id);
        count.push(0);
      }
      label.fill(id, row + from, row + x + 1);
      count[id] += x + 1 - from;
    }
  }
  const number = new Int32Array(parent.length);
  const area = [0];
  for (let i = 1; i < parent.length; i++) {
    const root = rootOf(i);
    if (number[root] === 0) {
      number[root] = area.length;
      area.push(count[root]);
    }
    number[i] = number[root];
  }
  for (let p = 0; p < label.length; p++) if (label[p] !== 0) label[p] = number[label[p]];
  return { label, area };
}

/** Connected regions of a mask. */
export interface Components {
  /** For each pixel the number of its region from 1, or 0 outside the mask. */
  label: Int32Array;
  /** Area in pixels of region i at index i; index 0 is unused. */
  area: number[];
}

/** Regions of non-zero pixels that touch along a side or a corner. Linear time. */
export function components(mask: ArrayLike<number>, width: number, height: number): Components {
  const label = new Int32Array(width * height);
  const area = [0];
  const stack = new Int32Array(width * height);
  for (let seed = 0; seed < label.length; seed++) {
    if (!mask[seed] || label[seed]) continue;
    const id = area.length;
    let top = 0;
    let count = 0;
    stack[top++] = seed;
    label[seed] = id;
    while (top > 0) {
      const p = stack[--top];
      count++;
      const x = p % width;
      const y = (p - x) / width;
      for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
        for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
          const q = ny * width + nx;
          if (mask[q] && !label[q]) {
            label[q] = id;
            stack[top++] = q;
          }
        }
      }
    }
    area.push(count);
  }
  return { label, area };
}

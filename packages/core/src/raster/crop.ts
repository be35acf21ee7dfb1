import { withOpacity, type Picture, type Plane } from './plane';

/** A part of a plane, px. */
export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The smallest box around all values above a limit; nothing when there are none. */
export function boxAround({ width, height, data }: Plane, above: number): Box | undefined {
  let [left, right, top, bottom] = [width, 0, height, 0];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (!(data[p] > above)) continue;
      if (x < left) left = x;
      if (x >= right) right = x + 1;
      if (y < top) top = y;
      bottom = y + 1;
    }
  }
  return right > left ? { left, top, width: right - left, height: bottom - top } : undefined;
}

/** A box with so much more on each side, as far as there is more. */
export function grownBox({ left, top, width, height }: Box, by: number, within: { width: number; height: number }): Box {
  const [l, t] = [Math.max(0, left - by), Math.max(0, top - by)];
  return { left: l, top: t, width: Math.min(within.width, left + width + by) - l, height: Math.min(within.height, top + height + by) - t };
}

/** What of a plane lies in a box. */
export function cropped(p: Plane, { left, top, width, height }: Box): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const from = (top + y) * p.width + left;
    data.set(p.data.subarray(from, from + width), y * width);
  }
  return { width, height, data };
}

/** What of a picture lies in a box. */
export function croppedPicture(p: Picture, box: Box): Picture {
  const part = (data: Float32Array): Plane => cropped({ width: p.width, height: p.height, data }, box);
  const { width, height } = box;
  const colours = { width, height, r: part(p.r).data, g: part(p.g).data, b: part(p.b).data };
  return p.a ? withOpacity(colours, part(p.a)) : colours;
}

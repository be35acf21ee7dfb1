import { makePlane, type Box, type Picture, type Plane } from './plane';

/** The box around all values from a least on, with a margin, within the plane; nothing when there are none. */
export function boxAround({ width, height, data }: Plane, least: number, margin = 0): Box | undefined {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i] < least) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return undefined;
  const [x, y] = [Math.max(0, left - margin), Math.max(0, top - margin)];
  return { x, y, width: Math.min(width, right + 1 + margin) - x, height: Math.min(height, bottom + 1 + margin) - y };
}

/** A box of a plane. */
export function planeIn(p: Plane, box: Box): Plane {
  const out = makePlane(box.width, box.height);
  for (let y = 0; y < box.height; y++) {
    const from = (y + box.y) * p.width + box.x;
    out.data.set(p.data.subarray(from, from + box.width), y * box.width);
  }
  return out;
}

/** A box of a picture's colours. */
export function coloursIn({ width, height, r, g, b }: Picture, box: Box): Picture {
  const [cr, cg, cb] = [r, g, b].map((data) => planeIn({ width, height, data }, box).data);
  return { width: box.width, height: box.height, r: cr, g: cg, b: cb };
}

/** A copy of a picture with other colours in a box. */
export function withColoursIn(p: Picture, box: Box, part: Picture): Picture {
  const out: Picture = { ...p, r: p.r.slice(), g: p.g.slice(), b: p.b.slice() };
  for (const c of ['r', 'g', 'b'] as const) {
    for (let y = 0; y < box.height; y++) {
      out[c].set(part[c].subarray(y * box.width, (y + 1) * box.width), (y + box.y) * p.width + box.x);
    }
  }
  return out;
}

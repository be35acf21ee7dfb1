import { makePicture, type Picture } from '../raster/plane';
import { resizePicture } from '../raster/resize';

/** Where a picture stands in the frame. Lengths in pixels of the full-size shot. */
export interface Placement {
  /** Shift of the picture's centre from the frame's centre, px: to the right. */
  x: number;
  /** Downwards, px. */
  y: number;
  /** Size: 1 covers the frame (backgrounds) or keeps its own size (subjects). */
  scale: number;
  /** Mirrored left to right. */
  flip: boolean;
}

/** In the middle, at its own size. */
export const centred: Placement = { x: 0, y: 0, scale: 1, flip: false };

/** True when placing changes nothing. */
export function isCentred(p: Placement): boolean {
  return p.x === 0 && p.y === 0 && p.scale === 1 && !p.flip;
}

/**
 * A picture moved to its place in a frame. What of the frame it does not cover is filled by its border when it
 * is opaque, and left clear when it has opacity. Whole-pixel shifts at size 1 keep every sample.
 *
 * @param unit size of the picture, in its own pixels per frame pixel, at scale 1
 * @param scale pixels per full-size pixel, for the shift
 */
export function place(picture: Picture, width: number, height: number, unit: number, placement: Placement, scale: number): Picture {
  const w = Math.max(1, Math.round(picture.width * unit * placement.scale));
  const h = Math.max(1, Math.round(picture.height * unit * placement.scale));
  const sized = resizePicture(picture, w, h);
  const left = Math.round((width - w) / 2 + placement.x * scale);
  const top = Math.round((height - h) / 2 + placement.y * scale);
  const out = makePicture(width, height, picture.a ? 0 : undefined);
  for (let y = 0; y < height; y++) {
    const sy = y - top;
    if (picture.a && (sy < 0 || sy >= h)) continue;
    const row = Math.min(h - 1, Math.max(0, sy)) * w;
    for (let x = 0; x < width; x++) {
      const ux = x - left;
      if (picture.a && (ux < 0 || ux >= w)) continue;
      const cx = Math.min(w - 1, Math.max(0, ux));
      const q = row + (placement.flip ? w - 1 - cx : cx);
      const p = y * width + x;
      out.r[p] = sized.r[q];
      out.g[p] = sized.g[q];
      out.b[p] = sized.b[q];
      if (out.a && sized.a) out.a[p] = sized.a[q];
    }
  }
  return out;
}

/** Frame pixels per picture pixel for which a picture just covers a frame. */
export function coverUnit(picture: { width: number; height: number }, width: number, height: number): number {
  return Math.max(width / picture.width, height / picture.height);
}

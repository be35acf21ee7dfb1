import type { Picture } from '../raster/plane';

/** A clip's frames, decoded when they are asked for; numbered from 0. */
export interface Frames {
  count: number;
  load(frame: number): Promise<Picture>;
}

/** Some of so many frames, evenly spread, the first and the last among them. */
export function spreadFrames(count: number, most: number): number[] {
  const n = Math.min(count, most);
  return Array.from({ length: n }, (_, i) => Math.round((i * (count - 1)) / Math.max(1, n - 1)));
}

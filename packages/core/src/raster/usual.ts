/** Longest side, px, of the pictures that lengths in pixels are meant for. */
export const usualSide = 1800;

/**
 * Pixels of a picture per pixel of one of the usual size: a larger photograph shows the same things with more pixels, whatever size is
 * worked at. One that is not larger than that is meant as it is.
 *
 * @param scale pixels of the picture per pixel of the full-size one
 */
export function usualScale({ width, height }: { width: number; height: number }, scale: number): number {
  return Math.max(scale, Math.max(width, height) / usualSide);
}

import type { Frame } from './spread';

/** Below this scale a picture is a draft, seen while something is dragged. */
export const draftBelow = 0.3;

/**
 * The signed blur discs (px, beyond the focus positive) at which a card is cut into layers, the farthest first:
 * near the focus they lie 2 px apart, far from it a quarter of their diameter, so that what lies between two is well
 * shown by fading one into the other.
 *
 * @param apart how much wider they lie, for a quick look; 1 for the right one
 */
export function layerDiscs(least: number, most: number, apart = 1): number[] {
  const middle = (least + most) / 2;
  if (most - least < 0.3 + 0.04 * Math.abs(middle)) return [middle];
  const sizes = [0];
  while (sizes[sizes.length - 1] < Math.max(Math.abs(least), Math.abs(most))) {
    const last = sizes[sizes.length - 1];
    sizes.push(Math.max(last + 2 * apart, last * (1 + 0.25 * apart)));
  }
  const all = [...sizes.slice(1).map((s) => -s), ...sizes];
  const between = all.filter((d) => d > least + 0.3 && d < most - 0.3 && clearOf(d, least) && clearOf(d, most));
  return [most, ...between.sort((a, b) => b - a), least];
}

/** True unless two discs are so alike that a layer of its own would show nothing. */
function clearOf(a: number, b: number): boolean {
  return Math.abs(a - b) > 0.08 * Math.max(Math.abs(a), Math.abs(b));
}

/**
 * How often a picture is halved before discs of a diameter are laid on it.
 *
 * @param from the diameter from which it is, px: the smaller, the softer the rim
 */
export function levelOf(diameter: number, from: number): number {
  return Math.max(0, Math.floor(Math.log2(Math.abs(diameter) / (from / 2))));
}

/** A frame on a picture halved so often. */
export function reduced(frame: Frame, level: number): Frame {
  const k = 2 ** level;
  return { x: (frame.x + 0.5) / k - 0.5, y: (frame.y + 0.5) / k - 0.5, half: frame.half / k };
}

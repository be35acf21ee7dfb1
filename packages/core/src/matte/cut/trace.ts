import type { Mark } from './marks';

/** A picture over which it is known how likely each pixel is inside. */
interface Likely {
  width: number;
  height: number;
  /** Its pixels per pixel of the full-size shot. */
  scale: number;
  /** 0 to 1 at a pixel. */
  chanceAt: (x: number, y: number) => number;
}

/** How far beside a traced border its sides are marked, and how wide, px of the picture. */
const beside = 2.5;
const strip = 0.8;
/** Difference of the sides' mean chances below which a trace says nothing. */
const plainly = 0.02;

/** The marks with each open trace as a stroke on its likelier side, inside, and one on the other, outside. */
export function withSides(marks: readonly Mark[], likely: Likely): Mark[] {
  return marks.flatMap((mark) => (mark.kind === 'trace' && !mark.filled ? sidesOf(mark, likely) : [mark]));
}

function sidesOf({ points }: Mark, { width, height, scale, chanceAt }: Likely): Mark[] {
  const sides = [-1, 1].map((side) => {
    const moved: [number, number][] = [];
    let sum = 0;
    for (let i = 0; i < points.length; i++) {
      const [before, after] = [points[Math.max(0, i - 2)], points[Math.min(points.length - 1, i + 2)]];
      const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
      const length = Math.hypot(dx, dy);
      if (length === 0) continue;
      const away = (side * beside) / scale / length;
      const [x, y] = [points[i][0] - dy * away, points[i][1] + dx * away];
      const within = (v: number, end: number): number => Math.min(end - 1, Math.max(0, Math.floor(v * scale)));
      sum += chanceAt(within(x, width), within(y, height));
      moved.push([x, y]);
    }
    return { moved, mean: sum / Math.max(1, moved.length) };
  });
  const [left, right] = sides;
  if (Math.abs(left.mean - right.mean) < plainly) return [];
  return sides.map(({ moved, mean }) => ({
    kind: mean === Math.max(left.mean, right.mean) ? 'inside' : 'outside',
    radius: strip / scale,
    points: moved,
  }));
}

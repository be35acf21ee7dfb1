import { components, distanceTo, maskOf, seeded, type Mark, type Plane } from '@ritaglio/core';

/** How the made-up user marks. */
export type Hand = 'discs' | 'strokes' | 'loop';

/** Longest stroke and widest tip, as shares of the picture's longer side: 240 and 12 px of 1200. */
const longest = 0.2;
const widest = 0.01;
/** What is too thin to be noticed as wrong, px of 1200. */
const unnoticed = 1;

/**
 * The next mark: in the middle of the largest region that is plainly wrong. A disc, or a straight stroke through that middle in the
 * direction in which it is longest without leaving the region.
 *
 * @param found opacity as it stands @param truth the true one
 * @returns nothing when all that is wrong is too thin to be seen
 */
export function nextMark(found: Plane, truth: Plane, hand: Hand): Mark | undefined {
  const { width, height } = truth;
  const side = Math.max(width, height);
  const wrong = maskOf(truth.data, (t, p) => t > 0.5 !== found.data[p] > 0.5);
  const right = (mask: Uint8Array): Uint8Array => maskOf(mask, (v) => v === 0);
  const depth = distanceTo(right(wrong), width, height).data;
  const plain = maskOf(depth, (d) => d > (unnoticed * side) / 1200);
  const { label, area } = components(plain, width, height);
  const largest = area.reduce((best, a, i) => (i > 0 && a > (area[best] ?? 0) ? i : best), 0);
  if (largest === 0) return undefined;
  const kind = ((p: number) => (truth.data[p] > 0.5 ? 'inside' : 'outside'))(label.indexOf(largest));
  // A careful hand stays on what is wholly subject or wholly not.
  const sure = maskOf(label, (v, p) => v === largest && (kind === 'inside' ? truth.data[p] >= 0.97 : truth.data[p] <= 0.03));
  const room = distanceTo(right(sure.includes(1) ? sure : maskOf(label, (v) => v === largest)), width, height).data;
  let middle = 0;
  for (let p = 0; p < room.length; p++) if (label[p] === largest && room[p] > room[middle]) middle = p;
  const at = [middle % width, Math.floor(middle / width)] as const;
  const radius = Math.max(1, Math.min(widest * side, 0.7 * room[middle]));
  const pixel = (x: number, y: number): [number, number] => [Math.round(x) + 0.5, Math.round(y) + 0.5];
  if (hand === 'discs') return { kind, radius, points: [pixel(...at)] };
  let best: { length: number; points: [number, number][] } = { length: -1, points: [] };
  for (let k = 0; k < 24; k++) {
    const [dx, dy] = [Math.cos((Math.PI * k) / 24), Math.sin((Math.PI * k) / 24)];
    const reach = (sign: number): number => {
      for (let t = 0; ; t++) {
        const [x, y] = [Math.round(at[0] + sign * t * dx), Math.round(at[1] + sign * t * dy)];
        const outside = x < 0 || y < 0 || x >= width || y >= height;
        if (t > (longest * side) / 2 || outside || room[y * width + x] < radius) return Math.max(0, t - 1);
      }
    };
    const [back, forth] = [reach(-1), reach(1)];
    if (back + forth <= best.length) continue;
    const points = [pixel(at[0] - back * dx, at[1] - back * dy), pixel(at[0] + forth * dx, at[1] + forth * dy)];
    best = { length: back + forth, points };
  }
  return { kind, radius, points: best.points };
}

/** A rough closed line around the subject: about 3 % of the picture outside its outline, unsteady. */
export function roughLoop(truth: Plane): [number, number][] {
  const { width, height } = truth;
  const side = Math.max(width, height);
  const random = seeded(width + height);
  const own = maskOf(truth.data, (t) => t > 0.05);
  const away = distanceTo(own, width, height).data;
  // Around all parts of it: seen from the middle, the farthest point of every direction, evened out.
  let [x0, y0, n] = [0, 0, 0];
  for (let p = 0; p < own.length; p++) {
    if (!own[p]) continue;
    x0 += p % width;
    y0 += Math.floor(p / width);
    n++;
  }
  const [mx, my] = [x0 / n, y0 / n];
  const turns = 48;
  const far = Array.from({ length: turns }, (_, k) => {
    const [dx, dy] = [Math.cos((2 * Math.PI * k) / turns), Math.sin((2 * Math.PI * k) / turns)];
    let last = 0;
    for (let t = 0; t < width + height; t++) {
      const [x, y] = [Math.round(mx + t * dx), Math.round(my + t * dy)];
      if (x < 0 || y < 0 || x >= width || y >= height) break;
      if (away[y * width + x] <= 0.03 * side) last = t;
    }
    return last;
  });
  return far.map((f, k) => {
    const beside = Math.max(f, 0.9 * far[(k + 1) % turns], 0.9 * far[(k + turns - 1) % turns]);
    const r = beside + 0.012 * side * random();
    const angle = (2 * Math.PI * k) / turns;
    const inPicture = (v: number, end: number): number => Math.min(end, Math.max(0, Math.round(v)));
    return [inPicture(mx + r * Math.cos(angle), width), inPicture(my + r * Math.sin(angle), height)];
  });
}

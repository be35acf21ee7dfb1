import { components } from '../../raster/components';
import { grownMask } from '../../raster/morphology';
import { outlineOf } from '../../raster/outline';
import { maskOf, indicesWhere } from '../../raster/mask';
import { resizePlane } from '../../raster/resize';
import type { Plane } from '../../raster/plane';
import { fitColourModel, unlikeliness, type Features } from './colourModel';
import type { Mark } from './marks';
import type { MatteGround } from '../matte';

/** How far from the pressed colour a gap goes on, OKLab, and its largest share of the picture. */
const tolerance = 0.07;
const largest = 0.02;
/** How much more a pixel must be like the gap than like the subject around it, −2·log likelihood; and how like the gap it must be. */
const plainly = 3;
const likely = 12;
/** Smallest gap, px; how far beside the pressed one the subject's colours are learnt; gaps at most. */
const smallest = 6;
const around = 14;
const most = 60;
/** Where opacity says subject. */
const opaque = 0.4;

/**
 * See-through places like one that is pointed at: the pressed place is grown over like colours, and all others of its colours that lie in
 * the subject are found, the largest first; the pressed one comes first of all.
 *
 * @param matte opacity as it stands
 * @param at pixels of the full-size shot
 * @param scale pixels of the matte per pixel of the full-size shot
 * @returns outside marks around each, to be taken or dropped; none when the press says nothing
 */
export function gapsLike(ground: MatteGround, matte: Plane, at: readonly [number, number], scale: number): Mark[] {
  const lab = ground.levels[ground.levels.length - 1];
  const { width, height } = lab;
  const own = (scale * width) / matte.width;
  const within = (v: number, end: number): number => Math.min(end - 1, Math.max(0, Math.floor(v * own)));
  const pressed = grownFrom(lab, within(at[0], width), within(at[1], height));
  const area = pressed.reduce((sum, v) => sum + v, 0);
  if (area > largest * width * height) return [];
  const cover = resizePlane(matte, width, height).data;
  const near = grownMask(pressed, width, height, around);
  const colours: Features = { width, height, l: lab.l, a: lab.a, b: lab.b };
  const indices = (test: (p: number) => boolean): Int32Array => indicesWhere(cover.length, test);
  const gap = fitColourModel(
    colours,
    indices((p) => pressed[p] === 1),
    2,
  );
  // What lies around the pressed gap and is not like it.
  const subject = fitColourModel(
    colours,
    indices((p) => near[p] === 1 && pressed[p] === 0 && cover[p] > opaque && apart(lab, p, at, own) > tolerance),
    4,
  );
  const like = maskOf(cover, (c, p) => {
    if (pressed[p]) return true;
    if (c <= opaque) return false;
    const forGap = unlikeliness(gap, lab.l[p], lab.a[p], lab.b[p], 0, 1000);
    return forGap < likely && unlikeliness(subject, lab.l[p], lab.a[p], lab.b[p], 0, 1000) - forGap > plainly;
  });
  return outlines(like, pressed, width, height, own);
}

/** Squared-root distance of a pixel's colour from the pressed one's. */
function apart({ width, height, l, a, b }: Features, p: number, [x, y]: readonly [number, number], own: number): number {
  const q = Math.min(height - 1, Math.floor(y * own)) * width + Math.min(width - 1, Math.floor(x * own));
  return Math.hypot(l[p] - l[q], 2 * (a[p] - a[q]), 2 * (b[p] - b[q]));
}

/** 1 for all that is joined to a pixel over colours like its own. */
function grownFrom(lab: Features, x: number, y: number): Uint8Array {
  const { width, height } = lab;
  const out = new Uint8Array(width * height);
  const stack = [y * width + x];
  out[stack[0]] = 1;
  while (stack.length > 0) {
    const p = stack.pop()!;
    const px = p % width;
    for (const q of [px > 0 ? p - 1 : p, px + 1 < width ? p + 1 : p, p - width, p + width]) {
      if (q < 0 || q >= out.length || out[q] || apart(lab, q, [x, y], 1) > tolerance) continue;
      out[q] = 1;
      stack.push(q);
    }
  }
  return out;
}

/** An outside mark around each region, the pressed one's first, then by area. */
function outlines(mask: Uint8Array, pressed: Uint8Array, width: number, height: number, scale: number): Mark[] {
  const { label, area } = components(mask, width, height);
  const start = new Int32Array(area.length).fill(-1);
  let first = 0;
  for (let p = 0; p < label.length; p++) {
    const id = label[p];
    if (id > 0 && start[id] < 0) start[id] = p;
    if (pressed[p]) first = id;
  }
  const order = Array.from(area.keys())
    .filter((id) => id > 0 && (id === first || area[id] >= smallest))
    .sort((i, j) => Number(j === first) - Number(i === first) || area[j] - area[i])
    .slice(0, most);
  return order.map((id) => {
    const belongs = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < width && y < height && label[y * width + x] === id;
    const points = outlineOf(belongs, [start[id] % width, Math.floor(start[id] / width)], 0.4);
    return {
      kind: 'outside',
      radius: Math.round(5 / scale) / 10,
      points: points.map(([x, y]): [number, number] => [Math.round((x / scale) * 10) / 10, Math.round((y / scale) * 10) / 10]),
      ...(points.length > 2 && { filled: true }),
    };
  });
}

import { fillPolygon, makePicture, resizePlane, makePlane, type Picture, type Plane, type Random } from '@ritaglio/core';

/** Linear light, 0 to 1. */
export type Light = readonly [number, number, number];
export type Point = readonly [number, number];

/** A picture of light already multiplied by its opacity, which things are laid over one after the other. */
export interface Layer extends Picture {
  a: Float32Array<ArrayBuffer>;
}

export function clearLayer(width: number, height: number): Layer {
  return makePicture(width, height, 0) as Layer;
}

/** Lays light over a pixel by its share. */
function lay(layer: Layer, p: number, light: Light, bright: number, share: number): void {
  const rest = 1 - share;
  const much = share * bright;
  layer.r[p] = rest * layer.r[p] + much * light[0];
  layer.g[p] = rest * layer.g[p] + much * light[1];
  layer.b[p] = rest * layer.b[p] + much * light[2];
  layer.a[p] = rest * layer.a[p] + share;
}

/** How a line is drawn: its widths and brightness change evenly from its root to its tip. */
export interface Strand {
  points: readonly Point[];
  widths: readonly [number, number];
  light: Light;
  bright: readonly [number, number];
  opacity?: number;
}

/** Draws a line, each pixel by how much of it the line covers; thinner than a pixel it covers as much less. */
export function drawStrand(layer: Layer, { points, widths, light, bright, opacity = 1 }: Strand): void {
  const { width, height } = layer;
  const last = points.length - 1;
  for (let i = 0; i < last; i++) {
    const [x0, y0] = points[i];
    const [dx, dy] = [points[i + 1][0] - x0, points[i + 1][1] - y0];
    const long2 = dx * dx + dy * dy;
    const at = (t: number): number => (i + t) / last;
    const wide = widths[0] + (widths[1] - widths[0]) * at(0.5);
    const reach = wide / 2 + 1;
    const [left, right] = [Math.floor(Math.min(x0, x0 + dx) - reach), Math.ceil(Math.max(x0, x0 + dx) + reach)];
    const [top, bottom] = [Math.floor(Math.min(y0, y0 + dy) - reach), Math.ceil(Math.max(y0, y0 + dy) + reach)];
    for (let y = Math.max(0, top); y <= Math.min(height - 1, bottom); y++) {
      for (let x = Math.max(0, left); x <= Math.min(width - 1, right); x++) {
        const px = x + 0.5 - x0;
        const py = y + 0.5 - y0;
        const t = long2 > 0 ? (px * dx + py * dy) / long2 : 0;
        // Each pixel belongs to one piece of the line; only its ends are round.
        if ((t < 0 && i > 0) || (t >= 1 && i < last - 1)) continue;
        const u = Math.min(1, Math.max(0, t));
        const away = Math.sqrt((px - u * dx) ** 2 + (py - u * dy) ** 2);
        const w = widths[0] + (widths[1] - widths[0]) * at(u);
        const cover = Math.min(1, w, w / 2 + 0.5 - away);
        if (cover > 0) lay(layer, y * width + x, light, bright[0] + (bright[1] - bright[0]) * at(u), opacity * cover);
      }
    }
  }
}

/** Lays light over where a mask covers. */
export function drawMask(layer: Layer, cover: Plane, light: Light, bright: Plane, opacity = 1): void {
  for (let p = 0; p < cover.data.length; p++) if (cover.data[p] > 0) lay(layer, p, light, bright.data[p], opacity * cover.data[p]);
}

export function drawPolygon(layer: Layer, points: readonly Point[], light: Light, bright: Plane, opacity = 1): void {
  const { width, height } = layer;
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [left, top] = [Math.max(0, Math.floor(Math.min(...xs))), Math.max(0, Math.floor(Math.min(...ys)))];
  const [w, h] = [Math.min(width, Math.ceil(Math.max(...xs))) - left, Math.min(height, Math.ceil(Math.max(...ys))) - top];
  if (w <= 0 || h <= 0) return;
  const cover = fillPolygon(
    points.map(([x, y]) => [x - left, y - top] as const),
    w,
    h,
  ).data;
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, p = (top + y) * width + left; x < w; x++, i++, p++) {
      if (cover[i] > 0) lay(layer, p, light, bright.data[p], opacity * cover[i]);
    }
  }
}

/** Uneven brightness around one: several sizes of noise, the smaller the weaker. */
export function clouds(width: number, height: number, largest: number, rough: number, strength: number, random: Random): Plane {
  const out = makePlane(width, height, 1);
  let share = strength;
  for (let size = largest; size >= 2; size /= 2.5, share *= rough) {
    const small = makePlane(Math.max(2, Math.ceil(width / size)), Math.max(2, Math.ceil(height / size)));
    for (let i = 0; i < small.data.length; i++) small.data[i] = 2 * random() - 1;
    const large = resizePlane(small, width, height).data;
    for (let p = 0; p < large.length; p++) out.data[p] += share * large[p];
  }
  for (let p = 0; p < out.data.length; p++) out.data[p] = Math.max(0.05, out.data[p]);
  return out;
}

export function between(random: Random, low: number, high: number): number {
  return low + (high - low) * random();
}

/** A number whose logarithm is even between two. */
export function spread(random: Random, low: number, high: number): number {
  return low * (high / low) ** random();
}

/** Nearly normal, of deviation one. */
export function bell(random: Random): number {
  return 2 * (random() + random() + random() - 1.5);
}

/** A colour with some strength, from dark to pale. */
export function anyLight(random: Random): Light {
  const bright = spread(random, 0.015, 0.8);
  const strong = random() ** 1.5;
  const hue = random() * 2 * Math.PI;
  return [0, 2.1, 4.2].map((turn) => bright * Math.max(0.05, 1 + strong * Math.cos(hue + turn))) as unknown as Light;
}

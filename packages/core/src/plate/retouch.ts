import { linearOfHex } from '../colour/srgb';
import { pause, defaultContext, type Context } from '../runtime/context';
import { distanceTo } from '../raster/distance';
import { clonePicture, makePicture, planesOf, type Picture, type Plane } from '../raster/plane';
import { sampleAt } from '../raster/sample';
import { rasterRegions, strokeCover, type Cover, type Region, type Stroke } from '../raster/strokeCover';
import { gaussian } from '../raster/filter';
import { membraneFill } from './membrane';

/** What a retouching tip does: copy from elsewhere, copy its texture and keep the local tone, or lay a colour. */
export type RetouchTip = 'clone' | 'heal' | 'paint';

/** One retouching stroke on the plate, lengths in pixels of the full-size shot. */
export interface RetouchStroke extends Stroke {
  tip: RetouchTip;
  /** Where the first point copies from; not for paint. */
  source?: readonly [number, number];
  /** What is copied is mirrored left to right. */
  flip?: boolean;
  /** Size of what is copied. */
  size?: number;
  /** Colour of paint, #rrggbb. */
  colour?: string;
}

/** A region of the plate lifted, scaled about its middle, shifted and put down again; lengths in pixels of the full-size shot. */
export interface Move {
  region: Region;
  x: number;
  y: number;
  size: number;
  feather: number;
}

/**
 * The plate with strokes on it, oldest first.
 *
 * @param scale pixels of the plate per pixel of the full-size shot
 * @throws AbortError
 */
export async function retouch(picture: Picture, strokes: readonly RetouchStroke[], context: Context): Promise<Picture> {
  if (strokes.length === 0) return picture;
  const out = clonePicture(picture);
  const { scale } = context;
  for (const stroke of strokes) {
    await pause(context, 'Retouching');
    const cover = strokeCover(stroke, out.width, out.height, scale);
    if (!cover) continue;
    if (stroke.tip === 'paint') {
      const [r, g, b] = linearOfHex(stroke.colour ?? '#808080');
      layOver(out, cover, makeFlat(cover, r, g, b));
      continue;
    }
    const [tx, ty] = [stroke.points[0][0] * scale, stroke.points[0][1] * scale];
    const [sx, sy] = (stroke.source ?? stroke.points[0]).map((v) => v * scale);
    const k = 1 / (stroke.size ?? 1);
    const mirror = stroke.flip ? -1 : 1;
    const copied = sampled(out, cover, (x, y) => [sx + mirror * k * (x - tx), sy + k * (y - ty)]);
    layOver(out, cover, stroke.tip === 'heal' ? await toned(out, copied, cover, Infinity, context) : copied);
  }
  return out;
}

/**
 * The plate with regions moved, in order: what was lifted stays where it was, too. The seam is healed: along it the moved part takes
 * on the tone of what it was put on.
 *
 * @throws AbortError
 */
export async function moveRegions(picture: Picture, moves: readonly Move[], context: Context): Promise<Picture> {
  if (moves.length === 0) return picture;
  const out = clonePicture(picture);
  const { scale } = context;
  const { width, height } = out;
  for (const { region, x, y, size, feather } of moves) {
    await pause(context, 'Moving a region');
    const lifted = gaussian(rasterRegions([region], width, height, scale), (feather * scale) / 2);
    const xs = region.points.map((p) => p[0] * scale);
    const ys = region.points.map((p) => p[1] * scale);
    const [cx, cy] = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
    const from = (u: number, v: number): [number, number] => [cx + (u - cx - x * scale) / size, cy + (v - cy - y * scale) / size];
    const cover = coverOf(lifted, from, {
      cx: cx + x * scale,
      cy: cy + y * scale,
      size,
      xs,
      ys,
      rim: 2 * feather * scale + region.radius * scale + 2,
    });
    if (!cover) continue;
    const copied = sampled(out, cover, from);
    layOver(out, cover, await toned(out, copied, cover, Math.max(4, 2 * feather * scale), context));
  }
  return out;
}

/** Where a lifted region lands. */
function coverOf(
  lifted: Plane,
  from: (x: number, y: number) => [number, number],
  at: { cx: number; cy: number; size: number; xs: number[]; ys: number[]; rim: number },
): Cover | undefined {
  const halfWidth = ((Math.max(...at.xs) - Math.min(...at.xs)) / 2 + at.rim) * at.size;
  const halfHeight = ((Math.max(...at.ys) - Math.min(...at.ys)) / 2 + at.rim) * at.size;
  const left = Math.max(0, Math.floor(at.cx - halfWidth));
  const top = Math.max(0, Math.floor(at.cy - halfHeight));
  const width = Math.min(lifted.width, Math.ceil(at.cx + halfWidth)) - left;
  const height = Math.min(lifted.height, Math.ceil(at.cy + halfHeight)) - top;
  if (width <= 0 || height <= 0) return undefined;
  const data = new Float32Array(width * height);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k++) {
      const [u, v] = from(x + left + 0.5, y + top + 0.5);
      if (u >= 0 && v >= 0 && u < lifted.width && v < lifted.height) data[k] = sampleAt(lifted, u - 0.5, v - 0.5);
    }
  }
  return { left, top, plane: { width, height, data } };
}

/** What a picture shows, over a cover's box, where `from` leads; points are in pixels, whole numbers at pixel corners. */
function sampled(picture: Picture, { left, top, plane }: Cover, from: (x: number, y: number) => [number, number]): Picture {
  const out = makePicture(plane.width, plane.height);
  const planes = planesOf({ ...picture, a: undefined });
  const to = [out.r, out.g, out.b];
  for (let y = 0, k = 0; y < plane.height; y++) {
    for (let x = 0; x < plane.width; x++, k++) {
      const [u, v] = from(x + left + 0.5, y + top + 0.5);
      for (let c = 0; c < 3; c++) to[c][k] = sampleAt(planes[c], u - 0.5, v - 0.5);
    }
  }
  return out;
}

function makeFlat({ plane }: Cover, r: number, g: number, b: number): Picture {
  const out = makePicture(plane.width, plane.height);
  out.r.fill(r);
  out.g.fill(g);
  out.b.fill(b);
  return out;
}

/**
 * What is copied, with the local tone: the difference to what it covers is taken at the cover's rim and stretched over it (gradient-domain
 * copying with the copied slopes as guide; Pérez et al. 2003).
 *
 * @param inwards px from the rim after which the tone is the copied one's again; `Infinity` heals all of it
 */
async function toned(below: Picture, copied: Picture, { left, top, plane }: Cover, inwards: number, context: Context): Promise<Picture> {
  const { width, height } = plane;
  // A pixel more on each side, so that a rim is known there.
  const box = { width: width + 2, height: height + 2 };
  const difference = makePicture(box.width, box.height);
  const hole: Plane = { ...box, data: new Float32Array(box.width * box.height) };
  const channels = ['r', 'g', 'b'] as const;
  for (let y = 0, k = 0; y < box.height; y++) {
    for (let x = 0; x < box.width; x++, k++) {
      const [u, v] = [Math.min(width - 1, Math.max(0, x - 1)), Math.min(height - 1, Math.max(0, y - 1))];
      const p = Math.min(below.height - 1, Math.max(0, v + top)) * below.width + Math.min(below.width - 1, Math.max(0, u + left));
      for (const c of channels) difference[c][k] = below[c][p] - copied[c][v * width + u];
      const onRim = x === 0 || y === 0 || x === box.width - 1 || y === box.height - 1;
      hole.data[k] = !onRim && plane.data[v * width + u] > 0.02 ? 1 : 0;
    }
  }
  // Single pixels of the rim are noise and texture; their neighbourhood says the tone.
  for (const c of channels) difference[c] = gaussian({ ...box, data: difference[c] }, 1.5).data;
  const tone = await membraneFill(difference, hole, defaultContext({ signal: context.signal }));
  const deep = Number.isFinite(inwards)
    ? distanceTo(
        hole.data.map((h) => 1 - h),
        box.width,
        box.height,
      ).data
    : undefined;
  const out = makePicture(width, height);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k++) {
      const q = (y + 1) * box.width + x + 1;
      const share = deep ? Math.exp(-((deep[q] / inwards) ** 2)) : 1;
      for (const c of channels) out[c][k] = Math.max(0, copied[c][k] + share * tone[c][q]);
    }
  }
  return out;
}

function layOver(picture: Picture, { left, top, plane }: Cover, upper: Picture): void {
  for (const c of ['r', 'g', 'b'] as const) {
    for (let y = 0, k = 0; y < plane.height; y++) {
      for (let p = (y + top) * picture.width + left, end = p + plane.width; p < end; p++, k++) {
        picture[c][p] += plane.data[k] * (upper[c][k] - picture[c][p]);
      }
    }
  }
}

import { luminance } from '../colour/cielab';
import type { Context } from '../runtime/context';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { assertSameSize, type Picture, type Plane } from '../raster/plane';
import { outlineOf } from '../raster/outline';
import { resizePicture, resizePlane, scaledSize } from '../raster/resize';
import type { Region } from '../raster/strokeCover';

/** Longest side, px, at which the shadow is looked for. */
const workSide = 300;
/** A shadow lets less than this share of the light through. */
const dim = 0.72;
/** Farthest from the subject, as a share of its height, that its shadow is looked for. */
const farthest = 0.6;
/** Smallest area, as a share of the subject's. */
const smallest = 0.01;

/**
 * The subject's cast shadow on the ground: connected ground beside the subject's lower third that has clearly less light than the
 * same row has elsewhere. Offered, not taken: dark things that stand there look the same.
 *
 * @param context its scale says how many pixels a full-size pixel has
 * @returns regions in pixels of the full-size shot, the largest first; none when nothing is darker
 * @throws RangeError when sizes differ
 */
export function findShadow(shot: Picture, matte: Plane, context: Context): Region[] {
  assertSameSize(shot, matte, 'looking for a shadow');
  const { width, height } = scaledSize(shot.width, shot.height, Math.min(1, workSide / Math.max(shot.width, shot.height)));
  const small = resizePicture(shot, width, height);
  const cover = resizePlane(matte, width, height).data;
  const subject = cover.map((a) => (a > 0.05 ? 1 : 0));
  const rows = Array.from({ length: height }, (_, y) => subject.subarray(y * width, (y + 1) * width).some((s) => s > 0));
  const top = rows.indexOf(true);
  if (top < 0) return [];
  const bottom = rows.lastIndexOf(true);
  const away = distanceTo(subject, width, height).data;
  const light = gaussian({ width, height, data: small.r.map((_, p) => luminance(small.r[p], small.g[p], small.b[p])) }, 1.2).data;
  const shaded = new Uint8Array(width * height);
  const reach = farthest * (bottom - top + 1);
  for (let y = Math.round(bottom - (bottom - top) / 3); y < Math.min(height, bottom + reach); y++) {
    const usual: number[] = [];
    for (let x = 0; x < width; x++) if (!subject[y * width + x]) usual.push(light[y * width + x]);
    if (usual.length < width / 8) continue;
    const typical = usual.sort((a, b) => a - b)[Math.floor(usual.length * 0.6)];
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (!subject[p] && away[p] <= reach && light[p] < dim * typical) shaded[p] = 1;
    }
  }
  const { label, area } = components(shaded, width, height);
  const least = smallest * subject.reduce((sum, s) => sum + s, 0);
  const touching = new Set<number>();
  label.forEach((id, p) => {
    if (id > 0 && away[p] <= 2 && area[id] >= least) touching.add(id);
  });
  const scale = shot.width / width / context.scale;
  return [...touching]
    .sort((a, b) => area[b] - area[a])
    .map((id) => {
      const start = label.indexOf(id);
      const belongs = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < width && y < height && label[y * width + x] === id;
      const points = outlineOf(belongs, [start % width, Math.floor(start / width)], 0.7);
      return { radius: scale, filled: true, points: points.map(([x, y]) => [round((x + 0.5) * scale), round((y + 0.5) * scale)] as const) };
    });
}

function round(v: number): number {
  return Math.round(v * 10) / 10;
}

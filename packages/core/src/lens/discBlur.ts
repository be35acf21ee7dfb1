import { pause, type Context } from '../context/context';
import type { Picture, Plane } from '../raster/plane';
import { makePlane, pictureOf, planesOf } from '../raster/plane';
import { double, halve } from '../raster/resize';

/** What lies beyond the picture. */
export type Beyond = 'repeat' | 'clear';

/** One row of the disc: how far above or below the centre, and the exact half-width of the disc there. */
interface Chord {
  dy: number;
  half: number;
}

/**
 * The disc cut into rows. A row's half-width is that of the circle averaged over the row, scaled so that the
 * whole area is that of the circle.
 */
function chords(radius: number): Chord[] {
  const out: Chord[] = [];
  const reach = Math.ceil(radius - 0.5);
  const parts = 16;
  for (let dy = -reach; dy <= reach; dy++) {
    let half = 0;
    for (let i = 0; i < parts; i++) {
      const y = dy - 0.5 + (i + 0.5) / parts;
      if (Math.abs(y) < radius) half += Math.sqrt(radius * radius - y * y);
    }
    out.push({ dy, half: half / parts });
  }
  const area = out.reduce((sum, c) => sum + 2 * c.half, 0);
  const fit = (Math.PI * radius * radius) / area;
  return out.map((c) => ({ dy: c.dy, half: c.half * fit }));
}

/** From this diameter on, px, a disc is laid on the halved picture: its rim is then softened by under a twentieth. */
const coarseFrom = 32;

/**
 * One plane spread by a disc: every value becomes a disc of the given diameter that holds the same energy,
 * its rim antialiased along rows. Running row sums: the cost grows with the diameter, not with the area; large discs
 * are laid at half or a quarter of the size and enlarged, so that it stays about the same.
 *
 * @param diameter px; at most 1 returns the plane itself
 * @param beyond `repeat`: the border goes on; `clear`: zeros
 * @throws AbortError
 */
export async function discBlurPlane(p: Plane, diameter: number, beyond: Beyond, context: Context): Promise<Plane> {
  if (diameter <= 1) return p;
  const { width, height } = p;
  if (diameter >= coarseFrom && Math.min(width, height) > 1) {
    const half = await discBlurPlane(halve(p), diameter / 2, beyond, context);
    return crop(double(half), width, height);
  }
  const radius = diameter / 2;
  const rows = chords(radius);
  const reach = Math.ceil(radius) + 1;
  const out = makePlane(width, height);
  const weight = 1 / (Math.PI * radius * radius);
  const padded = width + 2 * reach;
  const sums = new Float64Array(padded + 2);

  // Each source row is summed once and added to all the output rows it reaches.
  for (let sy = -reach; sy < height + reach; sy++) {
    if (sy < 0 || sy >= height) {
      if (beyond === 'clear') continue;
    }
    if ((sy & 7) === 0) await pause(context, 'Blurring', (sy + reach) / (height + 2 * reach));
    const row = Math.min(height - 1, Math.max(0, sy)) * width;
    let sum = 0;
    for (let x = 0; x < padded; x++) {
      sums[x] = sum;
      const sx = x - reach;
      if (sx >= 0 && sx < width) sum += p.data[row + sx];
      else if (beyond === 'repeat') sum += p.data[row + (sx < 0 ? 0 : width - 1)];
    }
    sums[padded] = sums[padded + 1] = sum;
    for (const { dy, half } of rows) {
      const y = sy - dy;
      if (y < 0 || y >= height) continue;
      addChord(out.data, y * width, width, sums, reach + 0.5 - half, reach + 0.5 + half, weight);
    }
  }
  return out;
}

function crop(p: Plane, width: number, height: number): Plane {
  if (p.width === width && p.height === height) return p;
  const out = makePlane(width, height);
  for (let y = 0; y < height; y++) out.data.set(p.data.subarray(y * p.width, y * p.width + width), y * width);
  return out;
}

/** Adds, for every x, the integral of the row from x + left to x + right. */
function addChord(out: Float32Array, at: number, width: number, sums: Float64Array, left: number, right: number, weight: number): void {
  // Both are positive: whole-number arithmetic throughout the loop.
  const l = left | 0;
  const r = right | 0;
  const u = left - l;
  const v = right - r;
  let sl = sums[l];
  let sr = sums[r];
  for (let p = at, i = l + 1, j = r + 1; p < at + width; p++, i++, j++) {
    const nl = sums[i];
    const nr = sums[j];
    out[p] += weight * (sr + v * (nr - sr) - sl - u * (nl - sl));
    sl = nl;
    sr = nr;
  }
}

/** A picture whose light is spread by a disc; with opacity, light and opacity spread together, clear beyond the border. */
export async function discBlur(p: Picture, diameter: number, context: Context): Promise<Picture> {
  if (diameter <= 1) return p;
  const a = p.a;
  const premultiplied = a
    ? planesOf(p).map((plane) => (plane.data === a ? plane : { ...plane, data: plane.data.map((v, i) => v * a[i]) }))
    : planesOf(p);
  const blurred: Plane[] = [];
  for (let i = 0; i < premultiplied.length; i++) {
    blurred.push(
      await discBlurPlane(premultiplied[i], diameter, a ? 'clear' : 'repeat', {
        ...context,
        progress: (w, f) => context.progress?.(w, (i + f) / premultiplied.length),
      }),
    );
  }
  if (a) {
    const opacity = blurred[3].data;
    for (const plane of blurred.slice(0, 3)) {
      for (let i = 0; i < opacity.length; i++) plane.data[i] = opacity[i] > 1e-5 ? plane.data[i] / opacity[i] : 0;
    }
  }
  return pictureOf(blurred);
}

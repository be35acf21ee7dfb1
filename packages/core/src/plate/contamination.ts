import { distanceTo } from '../raster/distance';
import { maskOf } from '../raster/mask';
import { assertSameSize, makePlane, pictureOf, planesOf, type Picture, type Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { halve } from '../raster/resize';

/** Longest side, px, at which it is measured. */
const workSide = 1200;
/** Farthest from the matte, px, that the subject's light is looked for. */
const farthest = 24;
/** A ring is clean when it leans towards the subject by less than this more than the ring so many px farther out. */
const clean = 0.06;
const falling = 6;
/** Least squared distance of the two sides' colours for a pixel to say anything. */
const telling = 0.004;

/**
 * How far beyond the matte's last trace the surroundings still carry the subject's colour, px of the matte: a lens's
 * smear, a file's ringing, wool that the matte lost. Rings of one pixel are compared with the subject's colour at the edge and with
 * the ground 24 px away; the answer is the farthest ring from the edge on, without a gap, that leans towards the subject by 6 %
 * more than the ring 6 px farther out.
 *
 * @throws RangeError when sizes differ
 */
export function contamination(shot: Picture, matte: Plane, scale = 1): number {
  assertSameSize(shot, matte, 'measuring contamination');
  // Two pixels in one tell as much, in a quarter of the time.
  if (Math.max(matte.width, matte.height) > workSide) {
    const half = pictureOf(planesOf({ ...shot, a: undefined }).map(halve));
    return 2 * contamination(half, halve(matte), scale / 2);
  }
  const { width, height } = matte;
  const reach = Math.max(2, Math.round(farthest * scale));
  const away = distanceTo(
    maskOf(matte.data, (a) => a > 0.01),
    width,
    height,
    3 * reach,
  ).data;
  const channels = planesOf({ ...shot, a: undefined });
  const inside = makePlane(width, height);
  const outside = makePlane(width, height);
  for (let p = 0; p < away.length; p++) {
    if (matte.data[p] > 0.95) inside.data[p] = 1;
    if (away[p] > reach && away[p] < 3 * reach) outside.data[p] = 1;
  }
  const subject = pushPull(channels, inside);
  const ground = pushPull(channels, outside);
  const sums = new Float64Array(reach + 1);
  const weights = new Float64Array(reach + 1);
  for (let p = 0; p < away.length; p++) {
    const ring = Math.ceil(away[p]);
    if (ring < 1 || ring > reach) continue;
    let [along, apart] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const d = subject[c].data[p] - ground[c].data[p];
      along += (channels[c].data[p] - ground[c].data[p]) * d;
      apart += d * d;
    }
    if (apart < telling) continue;
    sums[ring] += along;
    weights[ring] += apart;
  }
  // Light and ground change slowly on their own; the subject's smear falls off within a few pixels.
  const fall = Math.max(2, Math.round(falling * scale));
  const lean = (ring: number): number => (weights[ring] > 0 ? sums[ring] / weights[ring] : 0);
  let last = 0;
  while (last + 1 + fall <= reach && lean(last + 1) - lean(last + 1 + fall) >= clean) last++;
  return last;
}

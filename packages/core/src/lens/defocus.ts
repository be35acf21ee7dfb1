import type { Context } from '../runtime/context';
import { clonePicture, makePlane, pictureOf, planesOf, type Picture, type Plane } from '../raster/plane';
import { enlarged } from './stack';
import { roundAperture, type Aperture } from './aperture';
import { drawLamps } from './drawLamps';
import type { SeenLamp } from './lamps';
import { layered } from './layered';
import { discAt } from './placing';
import { draftBelow, layerDiscs, levelOf, reduced } from './layers';
import { shapeOf, spread, type Frame } from './spread';
import { signedDisc, type Optics } from './thinLens';

/**
 * A card as the lens sees it: its light, before clipping, spread into blur discs of the diameter that the thin lens
 * gives at every spot's distance. Energy is kept. A card whose distance varies is cut into layers of like discs, spread
 * apart and laid over each other from far to near, so that what is sharp does not bleed over what is blurred behind it
 * and what is blurred in front spreads over what is behind. What hides behind something nearer on the same card is taken
 * from around it. The border goes on beyond the frame. Large
 * discs are laid on halved pictures: the cost hardly grows with their size.
 *
 * @param card in its place in the frame
 * @param distance of the card, m, or of every pixel of it
 * @param lamps drawn apart, each with the aperture's own outline
 * @throws AbortError
 */
export async function defocus(
  card: Picture,
  distance: number | Plane,
  optics: Optics,
  context: Context,
  lamps: SeenLamp[] = [],
): Promise<Picture> {
  const across = optics.across * context.scale;
  if (typeof distance === 'number') return blurredBy(card, signedDisc(optics, distance, across), optics.aperture, context, lamps);
  const frame = frameOf(card);
  let [nearest, farthest] = [Infinity, -Infinity];
  for (let p = 0; p < distance.data.length; p++) {
    const d = distance.data[p];
    if (d < nearest) nearest = d;
    if (d > farthest) farthest = d;
  }
  // The thin-lens formula once more, without a call a pixel: c = c∞·(1 − s/d).
  const law = { atInfinity: signedDisc(optics, Infinity, across), focus: optics.focus, largest: largestOn(card) };
  const layers = layerDiscs(discAt(law, nearest), discAt(law, farthest), context.scale < draftBelow ? 1.7 : 1);
  if (layers.length === 1) return blurredBy(card, layers[0], optics.aperture, context, lamps);
  const { picture, covers } = await layered(card, distance, law, layers, optics.aperture, frame, lamps.length > 0, context);
  const there = (x: number, y: number): number => discAt(law, distance.data[y * card.width + x]);
  await drawLamps(picture, lamps, there, optics.aperture, frame, covers);
  return picture;
}

/** A card blurred by one disc, whatever its distance. @param disc px of the card, negative as in front of the focus */
export async function blurredBy(
  card: Picture,
  disc: number,
  aperture: Aperture,
  context: Context,
  lamps: SeenLamp[] = [],
): Promise<Picture> {
  const frame = frameOf(card);
  const within = Math.max(-largestOn(card), Math.min(largestOn(card), disc));
  const out = await evenly(card, within, aperture, frame, context);
  if (lamps.length === 0) return out;
  const drawn = out === card ? clonePicture(card) : out;
  await drawLamps(drawn, lamps, () => within, aperture, frame, []);
  return drawn;
}

/** A disc larger than the picture is as good as one of its size: nothing is seen of it but its mean. */
function largestOn({ width, height }: { width: number; height: number }): number {
  return Math.max(width, height);
}

function frameOf({ width, height }: { width: number; height: number }): Frame {
  return { x: (width - 1) / 2, y: (height - 1) / 2, half: Math.hypot(width, height) / 2 };
}

/** From this diameter on, px, a disc is laid on the halved picture: its rim is then softened by about a twelfth of it. */
const coarseFrom = 32;

/** One blur for the whole card. @param disc px, negative in front of the focus */
async function evenly(card: Picture, disc: number, aperture: Aperture, frame: Frame, context: Context): Promise<Picture> {
  if (Math.abs(disc) <= 1) return card;
  const { width, height, a } = card;
  const level = levelOf(disc, coarseFrom);
  const shape = shapeOf(aperture, Math.abs(disc) / 2 ** level, reduced(frame, level), disc < 0);
  const planes = planesOf(card).map(({ data }) => gathered(data, width, height, level, a && data !== a ? a : undefined));
  const out = await enlarged(await spread(planes, shape, context), card, level, context);
  if (a) {
    const opacity = out[3].data;
    for (const { data } of out.slice(0, 3)) for (let p = 0; p < data.length; p++) data[p] = opacity[p] > 1e-5 ? data[p] / opacity[p] : 0;
  }
  return pictureOf(out);
}

/** A disc's blur on a picture, in pixels of it, without a lens. */
export function discBlur(p: Picture, diameter: number, context: Context): Promise<Picture> {
  return blurredBy(p, diameter, roundAperture, context);
}

/** A channel averaged over blocks of 2^level, times a weight if there is one; the border's blocks go on as the border does. */
function gathered(data: Float32Array, width: number, height: number, level: number, weight?: Float32Array): Plane {
  if (level === 0 && !weight) return { width, height, data };
  const side = 1 << level;
  const out = makePlane(Math.ceil(width / side), Math.ceil(height / side));
  const share = 1 / (side * side);
  for (let y = 0; y < out.height * side; y++) {
    const row = Math.min(height - 1, y) * width;
    const to = (y >> level) * out.width;
    for (let x = 0; x < width; x++) out.data[to + (x >> level)] += weight ? data[row + x] * weight[row + x] : data[row + x];
    for (let x = width; x < out.width * side; x++) {
      const p = row + width - 1;
      out.data[to + out.width - 1] += weight ? data[p] * weight[p] : data[p];
    }
  }
  for (let i = 0; i < out.data.length; i++) out.data[i] *= share;
  return out;
}

import type { Triple } from '../../colour/oklab';
import { pause, type Context } from '../../runtime/context';
import { distanceTo } from '../../raster/distance';
import { makePlane, type Picture, type Plane } from '../../raster/plane';
import { pushPull } from '../../raster/pushPull';
import { maskOf, weightOf } from '../../raster/mask';
import { usualScale } from '../../raster/usual';

/** How opacity is made from the distance to the screen. */
export interface ScreenParams {
  /** Share of the screen's colour, counted from the clear end, that is still taken as clear, 0 to 0.5. */
  clear: number;
  /** Share, counted from the opaque end, that is taken as opaque, 0 to 0.5. */
  opaque: number;
}

/** A matte by colour, and what was behind the subject while it was shot. */
export interface ScreenKey {
  matte: Plane;
  /** The screen as it would look without the subject: its light and folds, linear. */
  field: Picture;
}

/** Channel in which a screen is strongest, and the other two. */
export function channelsOf(colour: Triple): ['r' | 'g' | 'b', 'r' | 'g' | 'b', 'r' | 'g' | 'b'] {
  const names = ['r', 'g', 'b'] as const;
  const top = colour.indexOf(Math.max(...colour));
  return [names[top], names[(top + 1) % 3], names[(top + 2) % 3]];
}

/** How much more a pixel has of the screen's channel than of the larger of the others; linear light. */
function excessOf(p: Picture, colour: Triple): Float32Array {
  const [k, i, j] = channelsOf(colour);
  const [top, one, two] = [p[k], p[i], p[j]];
  const out = new Float32Array(top.length);
  for (let n = 0; n < out.length; n++) out[n] = top[n] - (one[n] > two[n] ? one[n] : two[n]);
  return out;
}

/** How far from what is plainly mixed a pixel must lie to be of the subject alone, px at full size. */
const inwards = 2.5;

/** Pixels around a sure one that must be like it before it counts as screen, px at full size. */
const margin = 3;

/**
 * Opacity from a coloured screen. The screen is not one colour but a smooth field, spread from what is surely screen, so
 * uneven light and folds do no harm. A pixel's excess of the screen's channel over the field's is how much of the
 * screen is seen; what the subject's own colour lacks of it is learnt from the opaque pixels nearby.
 *
 * @param colour the screen's mean colour, linear light
 * @throws AbortError
 */
export async function screenKey(shot: Picture, colour: Triple, params: ScreenParams, context: Context): Promise<ScreenKey> {
  const { width, height } = shot;
  const n = width * height;
  const usual = usualScale(shot, context.scale);
  const excess = excessOf(shot, colour);
  const sure = sureScreen(shot, excess, colour, Math.max(1, margin * usual));
  await pause(context, 'Keying the screen', 0.2);
  const known: Plane = { width, height, data: new Float32Array(sure) };
  const [r, g, b] = pushPull(
    [shot.r, shot.g, shot.b].map((data) => ({ width, height, data })),
    known,
  );
  const field: Picture = { width, height, r: r.data, g: g.data, b: b.data };
  await pause(context, 'Keying the screen', 0.6);
  const full = excessOf(field, colour);

  const first = new Float32Array(n);
  for (let p = 0; p < n; p++) first[p] = 1 - clamp(excess[p] / Math.max(1e-4, full[p]));
  // How much less of the screen's channel the subject's own colours have, for their light, spread from what lies well
  // inside to where both are mixed: a warm subject hides the screen's excess long before it covers the screen.
  const [, i, j] = channelsOf(colour);
  const mixed = distanceTo(
    first.map((a) => (a < 0.97 ? 1 : 0)),
    width,
    height,
  ).data;
  const rim = Math.max(1, inwards * usual);
  const solid: Plane = { width, height, data: weightOf(mixed, (d) => d > rim) };
  const light = shot[i].map((v, p) => v + shot[j][p]);
  const [own, ownLight] = pushPull(
    [
      { width, height, data: excess },
      { width, height, data: light },
    ],
    solid,
  );
  const matte = makePlane(width, height);
  const { clear, opaque } = params;
  for (let p = 0; p < n; p++) {
    let a = first[p];
    if (a > 0 && mixed[p] <= rim) {
      const lack = Math.min(0, own.data[p]) / Math.max(1e-3, ownLight.data[p]);
      // Excess is linear in both colours, so the share of the screen that explains it follows at once.
      const screenLight = field[i][p] + field[j][p];
      a = 1 - clamp((excess[p] - lack * light[p]) / Math.max(1e-4, full[p] - lack * screenLight));
    }
    matte.data[p] = clamp((a - clear) / Math.max(1e-3, 1 - clear - opaque));
  }
  await pause(context, 'Keying the screen', 1);
  return { matte, field };
}

function clamp(v: number): number {
  return v < 0 ? 0 : v > 1 ? 1 : v;
}

/**
 * 1 where nothing but screen can be: most of the mean's excess, about its hue, and the same all around.
 */
function sureScreen(shot: Picture, excess: Float32Array, colour: Triple, around: number): Uint8Array {
  const { width, height } = shot;
  const n = width * height;
  const [k, i, j] = channelsOf(colour);
  const sum = colour[0] + colour[1] + colour[2];
  const names = ['r', 'g', 'b'];
  const shareI = colour[names.indexOf(i)] / sum;
  const shareJ = colour[names.indexOf(j)] / sum;
  const mean = colour[names.indexOf(k)] - Math.max(colour[names.indexOf(i)], colour[names.indexOf(j)]);
  const other = new Uint8Array(n);
  for (let p = 0; p < n; p++) {
    const light = Math.max(1e-5, shot.r[p] + shot.g[p] + shot.b[p]);
    const away = Math.hypot(shot[i][p] / light - shareI, shot[j][p] / light - shareJ);
    if (excess[p] < 0.35 * mean || away > 0.06) other[p] = 1;
  }
  return maskOf(distanceTo(other, width, height).data, (d) => d > around);
}

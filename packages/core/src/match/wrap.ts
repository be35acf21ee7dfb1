import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import { boxAround, coloursIn, planeIn } from '../raster/box';
import { planesOf, type Picture } from '../raster/plane';
import { soften } from '../raster/soften';

/** Light of the surroundings on the subject. Lengths in px of the full-size picture. */
export interface Surround {
  /** Background light that creeps over the edge: how far it reaches, and how strong, 0 to 1. */
  wrap: { width: number; strength: number };
  /** Colour of the surroundings in the subject's mid-tones: #rrggbb or auto, and how much, 0 to 1. */
  ambient: { colour: string; strength: number };
}

export const defaultSurround: Surround = { wrap: { width: 12, strength: 0 }, ambient: { colour: 'auto', strength: 0 } };

/**
 * A subject with the light of its surroundings: its mid-tones drawn to the ambient colour at their own luminance, and
 * along its edge the background's light where that is brighter. Opacity stays. The very picture when both strengths are 0.
 *
 * @param subject in its place in the frame, with opacity
 * @param behind what is seen behind it, blurred as it is seen
 * @param ambient linear light of the surroundings
 */
export function surrounded(
  subject: Picture,
  behind: Picture,
  { wrap, ambient }: Surround,
  colour: readonly number[],
  scale: number,
): Picture {
  const { a } = subject;
  if (!a || (wrap.strength === 0 && ambient.strength === 0)) return subject;
  const { width, height } = subject;
  const reach = Math.max(0.5, wrap.width * scale);
  const box = boxAround({ width, height, data: a }, 1e-6, Math.ceil(3 * reach));
  if (!box) return subject;
  const out: Picture = { ...subject, r: subject.r.slice(), g: subject.g.slice(), b: subject.b.slice() };
  const level = Math.max(1e-4, luminance(colour[0], colour[1], colour[2]));
  const [ar, ag, ab] = colour.map((c) => c / level);
  const wrapped = wrap.strength > 0;
  const outside = { width, height, data: a.map((v) => 1 - v) };
  const near = wrapped ? soften(planeIn(outside, box), reach).data : undefined;
  const light = wrapped ? planesOf(coloursIn(behind, box)).map((c) => soften(c, reach).data) : undefined;
  for (let y = 0, k = 0; y < box.height; y++) {
    for (let i = (box.y + y) * width + box.x, end = i + box.width; i < end; i++, k++) {
      if (a[i] <= 0) continue;
      let r = out.r[i];
      let g = out.g[i];
      let b = out.b[i];
      if (ambient.strength > 0) {
        const luma = luminance(r, g, b);
        const code = encodedQuickly(luma);
        const share = ambient.strength * 4 * code * (1 - code);
        r += share * (luma * ar - r);
        g += share * (luma * ag - g);
        b += share * (luma * ab - b);
      }
      if (near && light && near[k] > 0.004) {
        // At the edge itself half of what is near lies outside: half of the background's light at most.
        const share = wrap.strength * near[k];
        r += share * Math.max(0, light[0][k] - r);
        g += share * Math.max(0, light[1][k] - g);
        b += share * Math.max(0, light[2][k] - b);
      }
      out.r[i] = r;
      out.g[i] = g;
      out.b[i] = b;
    }
  }
  return out;
}

import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import { makePicture, type Picture } from '../raster/plane';
import { soften } from '../raster/soften';

/** Light of the surroundings on the subject. Lengths in px of the full-size picture. */
export interface Surround {
  /** Background light that creeps over the edge: how far it reaches, and how strong, 0 to 1. */
  wrap: { width: number; strength: number };
  /** Colour of the surroundings in the subject's mid-tones: #rrggbb or auto, and how much, 0 to 1. */
  ambient: { colour: string; strength: number };
}

export const plainSurround: Surround = { wrap: { width: 12, strength: 0 }, ambient: { colour: 'auto', strength: 0 } };

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
  const out = makePicture(width, height);
  out.a = a;
  const level = Math.max(1e-4, luminance(colour[0], colour[1], colour[2]));
  const [ar, ag, ab] = colour.map((c) => c / level);
  const reach = Math.max(0.5, wrap.width * scale);
  const near = wrap.strength > 0 ? soften({ width, height, data: a.map((v) => 1 - v) }, reach).data : undefined;
  const light = near && [behind.r, behind.g, behind.b].map((data) => soften({ width, height, data }, reach).data);
  for (let i = 0; i < a.length; i++) {
    let [r, g, b] = [subject.r[i], subject.g[i], subject.b[i]];
    if (a[i] > 0) {
      if (ambient.strength > 0) {
        const y = luminance(r, g, b);
        const code = encodedQuickly(y);
        const share = ambient.strength * 4 * code * (1 - code);
        r += share * (y * ar - r);
        g += share * (y * ag - g);
        b += share * (y * ab - b);
      }
      if (near && light && near[i] > 0.004) {
        // At the edge itself half of what is near lies outside: half of the background's light at most.
        const share = wrap.strength * near[i];
        r += share * Math.max(0, light[0][i] - r);
        g += share * Math.max(0, light[1][i] - g);
        b += share * Math.max(0, light[2][i] - b);
      }
    }
    out.r[i] = r;
    out.g[i] = g;
    out.b[i] = b;
  }
  return out;
}

import { cielabOf } from '../colour/cielab';
import type { Picture, Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { weightOf } from '../raster/mask';

/**
 * How much of the old background is left in the subject's edge colour: at each partly covered pixel, how far its colour has
 * moved from that of the opaque pixels nearby towards the background's, in CIELAB units (as ΔE); 0 elsewhere. The colour of
 * a true edge moves either way and averages out; what travels along does not.
 *
 * @param subject the subject with its edge colour and straight opacity
 * @param behind what is or was behind it
 */
export function leftover(subject: Picture, behind: Picture): Plane {
  const { width, height } = subject;
  const a = subject.a ?? new Float32Array(width * height).fill(1);
  const sure: Plane = { width, height, data: weightOf(a, (v) => v >= 0.99) };
  const [r, g, b] = pushPull(
    [subject.r, subject.g, subject.b].map((data) => ({ width, height, data })),
    sure,
  );
  const out = new Float32Array(width * height);
  for (let p = 0; p < out.length; p++) {
    if (a[p] < 0.08 || a[p] > 0.92) continue;
    const own = cielabOf(r.data[p], g.data[p], b.data[p]);
    const old = cielabOf(behind.r[p], behind.g[p], behind.b[p]);
    const seen = cielabOf(subject.r[p], subject.g[p], subject.b[p]);
    const away = Math.hypot(old[0] - own[0], old[1] - own[1], old[2] - own[2]);
    if (away < 2) continue;
    let along = 0;
    for (let k = 0; k < 3; k++) along += ((seen[k] - own[k]) * (old[k] - own[k])) / away;
    out[p] = Math.max(-away, Math.min(away, along));
  }
  return { width, height, data: out };
}

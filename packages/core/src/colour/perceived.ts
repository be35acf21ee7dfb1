import { inArenaNow } from '../context/compiled';
import type { Context } from '../context/context';
import { sharedFloats, together, type Kernel } from '../context/together';
import { seenPicture, type Picture } from '../raster/plane';
import { rootTable, type OklabPlanes } from './oklab';
import { encodeTable } from './srgb';

/** A picture as it is compared and as it is mixed, in memory that every thread of the crew sees. */
export interface Perceived {
  lab: OklabPlanes;
  /** Encoded: light in which noise is even. */
  light: Picture;
}

interface PerceiveJob extends Perceived {
  picture: Picture;
}

/** Pixels that a thread takes at a time. */
const stretch = 32768;

/** Turns a picture from linear light to both, stretch by stretch. */
export const perceiveStretch: Kernel<PerceiveJob> = {
  name: 'perceiveStretch',
  begin:
    ({ picture, lab, light }) =>
    (part) => {
      const from = part * stretch;
      const to = Math.min(picture.r.length, from + stretch);
      const own = (plane: Float32Array): Float32Array => plane.subarray(from, to);
      inArenaNow((arena) => {
        const given = [picture.r, picture.g, picture.b].map((c) => arena.put(own(c)));
        const codes = arena.put(encodeTable);
        const made = Array.from({ length: 6 }, () => arena.room(4 * (to - from)));
        arena.run.perceive(to - from, ...given, arena.put(rootTable), ...made.slice(0, 3));
        given.forEach((c, k) => arena.run.encode(to - from, c, codes, made[3 + k]));
        [lab.l, lab.a, lab.b, light.r, light.g, light.b].forEach((plane, k) => arena.take(made[k], own(plane)));
      });
    },
};

/** @param picture linear light; its opacity is left out @throws AbortError */
export async function perceived(picture: Picture, context: Context): Promise<Perceived> {
  const { width, height } = picture;
  const n = width * height;
  const [l, a, b, red, green, blue] = Array.from({ length: 6 }, () => sharedFloats(n, context));
  const [lab, light] = [
    { width, height, l, a, b },
    { width, height, r: red, g: green, b: blue },
  ];
  await together(perceiveStretch, { picture: await seenPicture(picture, context), lab, light }, Math.ceil(n / stretch), context);
  return { lab, light };
}

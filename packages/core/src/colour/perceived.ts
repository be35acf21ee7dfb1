import { inArenaNow } from '../runtime/arena';
import { defaultContext, type Context } from '../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import { seenPicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { luminance } from './cielab';
import { rootTable, type OklabPlanes } from './oklab';
import { encodedQuickly, encodeTable } from './srgb';

/** A picture as it is compared and as it is mixed, in memory that every thread of the pool sees. */
export interface Perceived {
  lab: OklabPlanes;
  /** Encoded: light in which noise is even. */
  light: Picture;
}

interface PerceiveJob extends Pick<Perceived, 'light'> {
  picture: Picture;
  /** Left out where only mixing is wanted. */
  lab?: OklabPlanes;
}

/** Pixels that a thread takes at a time. */
const stretch = 32768;

/** Turns a picture from linear light to either or both, stretch by stretch. */
export const perceiveStretch: Kernel<PerceiveJob> = {
  name: 'perceiveStretch',
  begin:
    ({ picture, lab, light }) =>
    (part) => {
      const from = part * stretch;
      const to = Math.min(picture.r.length, from + stretch);
      const own = (plane: Float32Array): Float32Array => plane.subarray(from, to);
      inArenaNow((arena) => {
        const given = arena.copiesIn(own(picture.r), own(picture.g), own(picture.b));
        const codes = arena.copyIn(encodeTable);
        const bytes = 4 * (to - from);
        const made = arena.allocs(bytes, bytes, bytes);
        given.forEach((c, k) => arena.run.encode(to - from, c, codes, made[k]));
        [light.r, light.g, light.b].forEach((plane, k) => arena.copyOut(made[k], own(plane)));
        if (!lab) return;
        arena.run.perceive(to - from, ...given, arena.copyIn(rootTable), ...made);
        [lab.l, lab.a, lab.b].forEach((plane, k) => arena.copyOut(made[k], own(plane)));
      });
    },
};

/** @param picture linear light; its opacity is left out @throws AbortError */
export async function perceived(picture: Picture, context: Context): Promise<Perceived> {
  const { width, height } = picture;
  const [l, a, b] = threePlanes(picture, context);
  const lab = { width, height, l, a, b };
  return { lab, light: await encodedLight(picture, context, lab) };
}

/**
 * Only the light in which mixing is taken as linear.
 *
 * @param lab filled on the way, if there is one
 * @throws AbortError
 */
export async function encodedLight(picture: Picture, context: Context, lab?: OklabPlanes): Promise<Picture> {
  const { width, height } = picture;
  const [r, g, b] = threePlanes(picture, context);
  const light = { width, height, r, g, b };
  const job: PerceiveJob = { picture: await seenPicture(withOpacity(picture), context), light, ...(lab && { lab }) };
  await parallelFor(perceiveStretch, job, Math.ceil((width * height) / stretch), context);
  return light;
}

/** Encoded brightness of a picture, in memory that the pool sees if there is one. @param picture linear light */
export function brightnessOf({ width, height, r, g, b }: Picture, context = defaultContext()): Plane {
  const data = sharedFloats(width * height, context);
  for (let i = 0; i < data.length; i++) data[i] = encodedQuickly(luminance(r[i], g[i], b[i]));
  return { width, height, data };
}

function threePlanes({ width, height }: Picture, context: Context): Float32Array[] {
  return Array.from({ length: 3 }, () => sharedFloats(width * height, context));
}

import { alignable, findAlignment, type Alignable } from '../align/align';
import { after, inPixels, inverse, mapped, noChange, type Projective } from '../align/projective';
import type { Triple } from '../colour/oklab';
import { pause, type Context } from '../runtime/context';
import type { Picture } from '../raster/plane';
import type { Frames } from './frames';

/** How the camera moved over a clip, as seen on what is far away or stands still. */
export interface CameraPath {
  width: number;
  height: number;
  /** The frame that all others are brought over. */
  reference: number;
  /** From a pixel of each frame to the reference's, and the factor of each channel that gives a frame the reference's exposure. */
  toReference: Projective[];
  gain: Triple[];
  /** Share of each frame's points that fit. */
  fits: number[];
}

/** Below it a frame does not reach the reference by itself, and goes by its neighbour. */
const leastFit = 0.3;
/** Longest side at which frames are brought over each other, px. */
const side = 400;

/**
 * The camera's way: each frame is brought over the middle one by a homography, or where that shows too little of the same, over its
 * neighbour on the way there.
 *
 * @param hidden 1 where a frame shows the subject, which moves otherwise
 * @throws AbortError
 */
export async function cameraPath(frames: Frames, context: Context, hidden?: (frame: number) => Promise<Uint8Array>): Promise<CameraPath> {
  const { count } = frames;
  const reference = Math.floor(count / 2);
  const middle = await frames.load(reference);
  const { width, height } = middle;
  const toReference: Projective[] = new Array<Projective>(count).fill(noChange);
  const gain = Array.from({ length: count }, (): Triple => [1, 1, 1]);
  const fits = new Array<number>(count).fill(1);
  let done = 1;
  const ready = async (i: number, picture: Picture): Promise<Alignable> => alignable(picture, middle, side, await hidden?.(i));
  const target = await ready(reference, middle);
  for (const step of [1, -1]) {
    let last = target;
    for (let i = reference + step; i >= 0 && i < count; i += step) {
      await pause(context, 'Following the camera', done++ / count);
      const frame = await ready(i, await frames.load(i));
      const direct = await findAlignment(frame, target, context);
      const back = inverse(inPixels(direct.homography, width, height));
      const beside = i - step;
      // From the second frame on a neighbour can tell when the reference was missed.
      if (direct.fits >= leastFit && near(back, toReference[beside], width, height)) {
        [toReference[i], gain[i], fits[i]] = [back, direct.gain, direct.fits];
      } else {
        const found = await findAlignment(frame, last, context);
        toReference[i] = after(inverse(inPixels(found.homography, width, height)), toReference[beside]);
        gain[i] = found.gain.map((g, c) => g * gain[beside][c]) as Triple;
        fits[i] = found.fits;
      }
      last = frame;
    }
  }
  return { width, height, reference, toReference, gain, fits };
}

/** Between two frames the camera does not turn by more than this share of the picture. */
const farthest = 0.15;

function near(a: Projective, b: Projective, width: number, height: number): boolean {
  return [0, width - 1].every((x) =>
    [0, height - 1].every((y) => {
      const [p, q] = [mapped(a, x, y), mapped(b, x, y)];
      return Math.hypot(p[0] - q[0], p[1] - q[1]) < farthest * Math.max(width, height);
    }),
  );
}

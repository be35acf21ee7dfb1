import { Lookup } from '../align/lookup';
import { inverse, mapped, type Projective } from '../align/projective';
import { decodedQuickly, encodedQuickly } from '../colour/srgb';
import { pause, type Context } from '../runtime/context';
import { makePicture, makePlane, type Picture, type Plane } from '../raster/plane';
import { fillHole } from '../plate/fills';
import { maskOf } from '../raster/mask';
import { grownMask } from '../raster/morphology';
import { cameraPath, type CameraPath } from './camera';
import { spreadFrames, type Frames } from './frames';

/** The ground behind a clip's subject, as its own frames show it, in the reference's place and exposure. */
export interface ClipGround {
  /** Maybe larger than a frame: all that any of the looked-at frames shows. */
  picture: Picture;
  /** Place of the reference's first pixel in it. */
  x: number;
  y: number;
  /** How many of the looked-at frames show each pixel. */
  looks: Uint8Array;
  /** How far these are apart: median distance from their median, the widest channel, encoded. */
  apart: Plane;
  /** Share of the frames' hidden ground that was photographed, 0 to 1; the rest is invented. */
  photographed: number;
  /** Mean of `apart` where there are three looks or more, in code values of 255. */
  disagreement: number;
}

/** At most so many frames are looked at: a median of them is as good as one of all. */
const mostFrames = 40;
/** The ground is at most so many times as wide and as high as a frame. */
const mostGround = 3;

/**
 * The masked temporal median of the frames brought over each other (Granados et al. 2012): every pixel is what most frames show
 * in which the subject does not hide it. What no frame shows is filled by patches, once, so that it lies still in all frames.
 *
 * @param hidden 1 where a frame's ground is hidden by the subject, of the frame's size
 * @throws AbortError
 */
export async function clipGround(
  frames: Frames,
  path: CameraPath,
  hidden: (frame: number) => Promise<Uint8Array>,
  context: Context,
): Promise<ClipGround> {
  const { width, height } = path;
  const chosen = spreadFrames(frames.count, mostFrames);
  const canvas = canvasOf(path, chosen);
  const n = canvas.width * canvas.height;
  const codes: Uint16Array[] = [];
  const hiddenSum = new Float32Array(n);
  for (const [k, frame] of chosen.entries()) {
    await pause(context, 'Looking at all frames', k / chosen.length);
    codes.push(brought(await frames.load(frame), await hidden(frame), frame, path, canvas, hiddenSum));
  }
  const picture = makePicture(canvas.width, canvas.height);
  const looks = new Uint8Array(n);
  const apart = makePlane(canvas.width, canvas.height);
  const planes = [picture.r, picture.g, picture.b];
  const values = new Uint16Array(codes.length);
  let [sum, several] = [0, 0];
  for (let p = 0; p < n; p++) {
    if (p % (canvas.width * 16) === 0) await pause(context, 'Laying the frames together', p / n);
    let count = 0;
    let widest = 0;
    for (let c = 0; c < 3; c++) {
      count = 0;
      for (const code of codes) if (code[3 * p] > 0) values[count++] = code[3 * p + c];
      if (count === 0) break;
      const seen = values.subarray(0, count).sort();
      const middle = count % 2 ? seen[count >> 1] : (seen[(count >> 1) - 1] + seen[count >> 1]) / 2;
      planes[c][p] = decodedQuickly((middle - 1) / mostCode);
      for (let i = 0; i < count; i++) seen[i] = Math.abs(seen[i] - middle);
      widest = Math.max(widest, seen.sort()[count >> 1] / mostCode);
    }
    looks[p] = count;
    apart.data[p] = widest;
    if (count >= 3) [sum, several] = [sum + widest, several + 1];
  }
  const photographed = photographedShare(looks, hiddenSum);
  const missing = { ...apart, data: Float32Array.from(looks, (v) => (v > 0 ? 0 : 1)) };
  const whole = missing.data.includes(1) ? await filled(picture, missing, context) : picture;
  return {
    picture: whole,
    ...{ x: canvas.x, y: canvas.y, looks, apart, photographed, disagreement: several ? (255 * sum) / several : 0 },
  };

  /** Where frames' ground is hidden, the share that another frame shows. */
  function photographedShare(seen: Uint8Array, covered: Float32Array): number {
    let [all, shown] = [0, 0];
    for (let p = 0; p < n; p++) {
      all += covered[p];
      if (seen[p] > 0) shown += covered[p];
    }
    return all > 0 ? shown / all : 1;
  }

  function filled(shot: Picture, hole: Plane, inContext: Context): Promise<Picture> {
    const allowed = { ...hole, data: hole.data.map((h) => 1 - h) };
    return fillHole({ behind: shot, hole, allowed }, { kind: 'patch', tries: 1, taken: 1 }, inContext).then((f) => f.picture);
  }

  /** A frame as codes from 1 on, three a pixel of the ground; 0 where it shows nothing of it. */
  function brought(
    frame: Picture,
    mask: Uint8Array,
    index: number,
    { toReference, gain }: CameraPath,
    to: Canvas,
    sums: Float32Array,
  ): Uint16Array {
    const out = new Uint16Array(3 * n);
    const from = new Lookup(frame, frame);
    const back = inverse(toReference[index]);
    const light = new Float64Array(3);
    for (let y = 0, p = 0; y < to.height; y++) {
      for (let x = 0; x < to.width; x++, p++) {
        const [sx, sy] = mapped(back, x - to.x, y - to.y);
        from.place(sx, sy);
        if (!from.inside || sx < 0 || sy < 0 || sx > width - 1 || sy > height - 1) continue;
        if (mask[Math.round(sy) * width + Math.round(sx)]) {
          sums[p]++;
          continue;
        }
        from.sharp(frame.r, frame.g, frame.b, light);
        for (let c = 0; c < 3; c++) {
          out[3 * p + c] = 1 + Math.round(mostCode * Math.min(1, Math.max(0, encodedQuickly(Math.max(0, light[c] * gain[index][c])))));
        }
      }
    }
    return out;
  }
}

/** Opacity from which a frame's ground is hidden, and how far around, px of the full-size frame. */
const hiddenFrom = 0.02;
const hiddenAround = 2;

/** How the camera moved over a clip, and the ground behind a subject whose mattes are known. @throws AbortError */
export async function groundBehindMattes(
  frames: Frames,
  matteOf: (frame: number) => Promise<Plane>,
  context: Context,
): Promise<{ path: CameraPath; ground: ClipGround }> {
  const hides = async (i: number): Promise<Uint8Array> => {
    const { width, height, data } = await matteOf(i);
    const hidden = maskOf(data, (a) => a > hiddenFrom);
    return grownMask(hidden, width, height, hiddenAround * context.scale);
  };
  const path = await cameraPath(frames, context, hides);
  return { path, ground: await clipGround(frames, path, hides, context) };
}

const mostCode = 65534;

interface Canvas {
  width: number;
  height: number;
  x: number;
  y: number;
}

/** Room for all that the frames show, within reason. */
function canvasOf({ width, height, toReference }: CameraPath, chosen: number[]): Canvas {
  let [left, top, right, bottom] = [0, 0, width - 1, height - 1];
  for (const i of chosen) {
    for (const [cx, cy] of [
      [0, 0],
      [width - 1, 0],
      [0, height - 1],
      [width - 1, height - 1],
    ] as const) {
      const [x, y] = mapped(toReference[i], cx, cy);
      if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
      [left, right] = [Math.min(left, x), Math.max(right, x)];
      [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
    }
  }
  const most = (mostGround - 1) / 2;
  const x = Math.min(Math.ceil(-left - 1e-6), Math.round(most * width));
  const y = Math.min(Math.ceil(-top - 1e-6), Math.round(most * height));
  return {
    ...{ x, y },
    width: Math.min(Math.ceil(right - 1e-6) + 1, Math.round((1 + most) * width)) + x,
    height: Math.min(Math.ceil(bottom - 1e-6) + 1, Math.round((1 + most) * height)) + y,
  };
}

/** The ground as a frame sees it, of the frame's size and exposure, and what is known of it there. */
export interface GroundInFrame {
  picture: Picture;
  /** 1 where the ground reaches. */
  seen: Plane;
  /** How many frames show it, and how far they are apart. */
  looks: Plane;
  apart: Plane;
}

/** Brings the ground back to a frame. */
export function groundInFrame(ground: ClipGround, path: CameraPath, frame: number): GroundInFrame {
  const { width, height } = path;
  const out = makePicture(width, height);
  const [seen, looks, apart] = [makePlane(width, height), makePlane(width, height), makePlane(width, height)];
  const from = new Lookup(ground.picture, ground.picture);
  const { width: wide, height: high } = ground.picture;
  const map: Projective = path.toReference[frame];
  const gain = path.gain[frame];
  const light = new Float64Array(3);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const [rx, ry] = mapped(map, x, y);
      const [sx, sy] = [rx + ground.x, ry + ground.y];
      from.place(sx, sy);
      from.sharp(ground.picture.r, ground.picture.g, ground.picture.b, light);
      out.r[p] = Math.max(0, light[0] / gain[0]);
      out.g[p] = Math.max(0, light[1] / gain[1]);
      out.b[p] = Math.max(0, light[2] / gain[2]);
      if (!from.inside) continue;
      seen.data[p] = 1;
      const at = Math.min(high - 1, Math.max(0, Math.round(sy))) * wide + Math.min(wide - 1, Math.max(0, Math.round(sx)));
      looks.data[p] = ground.looks[at];
      apart.data[p] = ground.apart.data[at];
    }
  }
  return { picture: out, seen, looks, apart };
}

import { broughtTo } from '../align/bring';
import { after, inverse, mapped, moved } from '../align/projective';
import { encodedLight } from '../colour/perceived';
import { decodedQuickly } from '../colour/srgb';
import type { Triple } from '../colour/oklab';
import { pause, type Context } from '../runtime/context';
import { makePlane, seenPicture, type Picture, type Plane } from '../raster/plane';
import { parallelFor, sharedBytes, sharedCodes, sharedFloats, type Kernel } from '../runtime/parallelFor';
import { fillHole } from '../plate/fills';
import { maskOf } from '../raster/mask';
import { rankOf } from '../raster/rank';
import { grownMask } from '../raster/morphology';
import { cameraPath, type CameraPath } from './camera';
import { spreadFrames, type Frames } from './frames';
import { usualScale } from '../raster/usual';

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
  const chosen = spreadFrames(frames.count, mostFrames);
  const canvas = canvasOf(path, chosen);
  const n = canvas.width * canvas.height;
  const codes: Uint16Array[] = [];
  const covered = new Float32Array(n);
  for (const [k, i] of chosen.entries()) {
    await pause(context, 'Looking at all frames', k / chosen.length);
    const back = after(moved(-canvas.x, -canvas.y), inverse(path.toReference[i]));
    const { picture, nearest } = await broughtTo(await frames.load(i), back, path.gain[i], canvas, context, 0);
    const { r, g, b } = await encodedLight(picture, context);
    const mask = await hidden(i);
    const out = sharedCodes(3 * n, context);
    for (let p = 0; p < n; p++) {
      if (nearest[p] < 0) continue;
      if (mask[nearest[p]]) covered[p]++;
      else [out[3 * p], out[3 * p + 1], out[3 * p + 2]] = [codeOf(r[p]), codeOf(g[p]), codeOf(b[p])];
    }
    codes.push(out);
  }
  const [r, g, b] = [0, 1, 2].map(() => sharedFloats(n, context));
  const picture: Picture = { width: canvas.width, height: canvas.height, r, g, b };
  const looks = sharedBytes(n, context);
  const apart: Plane = { width: canvas.width, height: canvas.height, data: sharedFloats(n, context) };
  await parallelFor(
    medianBand,
    { codes, picture, looks, apart: apart.data },
    Math.ceil(canvas.height / band),
    context,
    'Laying the frames together',
  );
  let [all, shown, sum, several] = [0, 0, 0, 0];
  const missing = makePlane(canvas.width, canvas.height);
  for (let p = 0; p < n; p++) {
    all += covered[p];
    if (looks[p] > 0) shown += covered[p];
    else missing.data[p] = 1;
    if (looks[p] >= 3) [sum, several] = [sum + apart.data[p], several + 1];
  }
  const whole = missing.data.includes(1) ? await seenPicture(await filled(picture, missing, context), context) : picture;
  return {
    ...{ picture: whole, x: canvas.x, y: canvas.y, looks, apart },
    photographed: all > 0 ? shown / all : 1,
    disagreement: several ? (255 * sum) / several : 0,
  };
}

async function filled(shot: Picture, hole: Plane, context: Context): Promise<Picture> {
  const allowed = { ...hole, data: hole.data.map((h) => 1 - h) };
  return (await fillHole({ behind: shot, hole, allowed }, { kind: 'patch', tries: 1, taken: 1 }, context)).picture;
}

/** Light as a code from 1 on: 0 stands for nothing seen. */
function codeOf(encoded: number): number {
  return 1 + Math.round(mostCode * encoded);
}

/** Rows that a thread takes at a time. */
const band = 32;

interface MedianJob {
  codes: Uint16Array[];
  picture: Picture;
  looks: Uint8Array;
  apart: Float32Array;
}

/** What most frames show of a band of the ground, how many show it, and how far they are apart. */
export const medianBand: Kernel<MedianJob> = {
  name: 'medianBand',
  begin({ codes, picture, looks, apart }) {
    const { width, height, r, g, b } = picture;
    const planes = [r, g, b];
    const values = new Float32Array(codes.length);
    return (part) => {
      for (let p = part * band * width; p < Math.min(height, (part + 1) * band) * width; p++) {
        let count = 0;
        let widest = 0;
        for (let c = 0; c < 3; c++) {
          count = 0;
          for (const code of codes) if (code[3 * p] > 0) values[count++] = code[3 * p + c];
          if (count === 0) break;
          const middle = medianOf(values, count);
          planes[c][p] = decodedQuickly((middle - 1) / mostCode);
          for (let i = 0; i < count; i++) values[i] = Math.abs(values[i] - middle);
          widest = Math.max(widest, rankOf(values, count >> 1, count) / mostCode);
        }
        looks[p] = count;
        apart[p] = widest;
      }
    };
  },
};

/** The median of the first so many values, which are put in some other order. */
function medianOf(values: Float32Array, count: number): number {
  const half = count >> 1;
  const high = rankOf(values, half, count);
  if (count % 2) return high;
  let low = values[0];
  for (let i = 1; i < half; i++) low = Math.max(low, values[i]);
  return (low + high) / 2;
}

/** Opacity from which a frame's ground is hidden, and how far around, px of a frame of the usual size. */
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
    return grownMask(hidden, width, height, hiddenAround * usualScale({ width, height }, context.scale));
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

/** Brings the ground back to a frame. @throws AbortError */
export async function groundInFrame(ground: ClipGround, path: CameraPath, frame: number, context: Context): Promise<GroundInFrame> {
  const { width, height } = path;
  const map = after(path.toReference[frame], moved(ground.x, ground.y));
  const gain = path.gain[frame].map((g) => 1 / g) as Triple;
  const { picture, nearest } = await broughtTo(ground.picture, map, gain, path, context);
  const [seen, looks, apart] = [0, 1, 2].map(() => makePlane(width, height));
  for (let p = 0; p < nearest.length; p++) {
    const at = nearest[p];
    if (at < 0) continue;
    seen.data[p] = 1;
    looks.data[p] = ground.looks[at];
    apart.data[p] = ground.apart.data[at];
  }
  return { picture, seen, looks, apart };
}

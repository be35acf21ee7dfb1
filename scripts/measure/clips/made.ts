import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  decodeSrgb,
  encodeSrgb,
  makePicture,
  makePlane,
  resizePicture,
  resizePlane,
  seeded,
  withOpacity,
  type FrameMark,
  type Frames,
  type Mark,
  type Picture,
  type Plane,
} from '@ritaglio/core';
import { matteAt, pictureAt, root } from '../truth';

/** A clip with known mattes. */
export interface TrueClip {
  name: string;
  half: 'open' | 'held back';
  frames: Frames;
  truth: (frame: number) => Promise<Plane>;
  /** What is behind the subject in a frame, where that is known. */
  ground?: (frame: number) => Promise<Picture>;
  marks: FrameMark[];
}

/** How a made-up subject and camera move over one clip, and what the frames are like. */
interface Motion {
  /** Way of the subject over the whole clip, and how far it sways, px. */
  way: readonly [number, number];
  sway: number;
  /** Largest way of the camera by a shaking hand, px, and largest change of exposure, stops. */
  shake: number;
  drift: number;
}

const count = 16;
const marked = 8;
const longest = 480;
/** Standard deviation of the noise, 1 = white; new in every frame. */
const noise = 1.6 / 255;

/** Where a shaking hand points the camera: a slow and a quick swing, as a similarity with a little perspective. */
function hand(seed: number, frame: number, reach: number): (x: number, y: number) => readonly [number, number] {
  const random = seeded(seed);
  const swing = (): number => {
    const [a, b, c, d] = [random(), random(), random(), random()].map((v) => 2 * Math.PI * v);
    return 0.7 * Math.sin(a + frame * (0.25 + 0.05 * c)) + 0.3 * Math.sin(b + frame * (0.9 + 0.1 * d));
  };
  const [dx, dy] = [reach * swing(), reach * swing()];
  const turn = (reach / 12) * 0.012 * swing();
  const size = 1 + (reach / 12) * 0.012 * swing();
  const [px, py] = [(reach / 12) * 2e-5 * swing(), (reach / 12) * 2e-5 * swing()];
  return (x, y) => {
    const w = 1 + px * x + py * y;
    return [(size * (x * Math.cos(turn) - y * Math.sin(turn)) + dx) / w, (size * (x * Math.sin(turn) + y * Math.cos(turn)) + dy) / w];
  };
}

/** A plane's value between its pixels by cubic weights (Keys 1981); 0 beyond its border, or the border repeated. */
function cubic({ width, height, data }: Plane, x: number, y: number, repeat: boolean): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const weights = (t: number): number[] =>
    [1 + t, t, 1 - t, 2 - t].map((d) => (d < 1 ? 1 + d * d * (1.5 * d - 2.5) : 2 + d * (-4 + d * (2.5 - 0.5 * d))));
  const [wx, wy] = [weights(x - x0), weights(y - y0)];
  let sum = 0;
  for (let j = 0; j < 4; j++) {
    for (let i = 0; i < 4; i++) {
      const [u, v] = [x0 - 1 + i, y0 - 1 + j];
      if (!repeat && (u < 0 || v < 0 || u >= width || v >= height)) continue;
      sum += wx[i] * wy[j] * data[Math.min(height - 1, Math.max(0, v)) * width + Math.min(width - 1, Math.max(0, u))];
    }
  }
  return sum;
}

function planes(p: Picture): Plane[] {
  return [p.r, p.g, p.b].map((data) => ({ width: p.width, height: p.height, data }));
}

/** Any picture's frames as another hand held the camera: turned and shifted, of another exposure, with new noise and in whole codes. */
function seenBy(p: Picture, opacity: Plane, seed: number, frame: number, { shake, drift }: Motion): { picture: Picture; truth: Plane } {
  const { width, height } = p;
  const at = hand(seed, frame, shake);
  const gain = 2 ** (drift * Math.sin(frame * 0.5 + seed));
  const out = makePicture(width, height);
  const truth = makePlane(width, height);
  const from = planes(p);
  const to = planes(out);
  for (let y = 0, q = 0; y < height; y++) {
    for (let x = 0; x < width; x++, q++) {
      const [u, v] = at(x - width / 2, y - height / 2);
      const [sx, sy] = shake > 0 ? [u + width / 2, v + height / 2] : [x, y];
      for (let c = 0; c < 3; c++) to[c].data[q] = gain * Math.max(0, shake > 0 ? cubic(from[c], sx, sy, true) : from[c].data[q]);
      truth.data[q] = Math.min(1, Math.max(0, shake > 0 ? cubic(opacity, sx, sy, true) : opacity.data[q]));
    }
  }
  return { picture: out, truth };
}

/** Noise and whole codes, as of a file. */
function filed(p: Picture, seed: number): Picture {
  const random = seeded(seed);
  const out = makePicture(p.width, p.height);
  const [from, to] = [planes(p), planes(out)];
  for (let q = 0; q < p.r.length; q++) {
    for (let c = 0; c < 3; c++) {
      const normal = Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
      const code = encodeSrgb(Math.min(1, Math.max(0, from[c].data[q]))) + noise * normal;
      to[c].data[q] = decodeSrgb(Math.min(255, Math.max(0, Math.round(255 * code))) / 255);
    }
  }
  return out;
}

/** A subject with known opacity that moves over its own plate. */
async function moving(name: string, half: TrueClip['half'], motion: Motion, seed: number): Promise<TrueClip> {
  const folder = `demo/truth/cuts/${name}`;
  const large = await pictureAt(`${folder}/plate.jpg`);
  const ratio = longest / Math.max(large.width, large.height);
  const [width, height] = [Math.round(large.width * ratio), Math.round(large.height * ratio)];
  const plate = resizePicture(large, width, height);
  const alpha = resizePlane(await matteAt(`${folder}/alpha.png`), width, height);
  const front = resizePicture(withOpacity(await pictureAt(`${folder}/foreground.png`)), width, height);
  const place = (frame: number): [number, number] => {
    const t = (frame - marked) / (count - 1);
    return [
      motion.way[0] * t + motion.sway * Math.sin(0.8 * (frame - marked)),
      motion.way[1] * t + 0.4 * motion.sway * Math.sin(1.1 * (frame - marked)),
    ];
  };
  const at = (frame: number): { picture: Picture; truth: Plane } => {
    const [dx, dy] = place(frame);
    const out = makePicture(width, height);
    const truth = makePlane(width, height);
    const [under, over, to] = [planes(plate), planes(front), planes(out)];
    for (let y = 0, q = 0; y < height; y++) {
      for (let x = 0; x < width; x++, q++) {
        const a = Math.min(1, Math.max(0, cubic(alpha, x - dx, y - dy, false)));
        truth.data[q] = a;
        for (let c = 0; c < 3; c++) {
          const colour = a > 0 ? Math.max(0, cubic(over[c], x - dx, y - dy, true)) : 0;
          to[c].data[q] = a * colour + (1 - a) * under[c].data[q];
        }
      }
    }
    return seenBy(out, truth, seed, frame, motion);
  };
  const marks = (JSON.parse(readFileSync(join(root, folder, 'marks.json'), 'utf8')) as Mark[]).map((mark) => ({
    ...mark,
    radius: mark.radius * ratio,
    points: mark.points.map(([x, y]) => [x * ratio, y * ratio] as const),
    frame: marked,
  }));
  const empty = makePlane(width, height);
  return {
    name: `${name}, ${motion.shake > 0 ? 'by hand' : 'from a stand'}`,
    half,
    frames: { count, load: async (i) => filed(at(i).picture, seed * 1000 + i) },
    truth: async (i) => at(i).truth,
    ground: async (i) => seenBy(plate, empty, seed, i, motion).picture,
    // Where the hand points at the marked frame, marks would have to be moved: it begins still there.
    marks: motion.shake > 0 ? carriedMarks(marks, hand(seed, marked, motion.shake), width, height) : marks,
  };
}

/** Marks on what a moved camera shows: the inverse of where it looks, by a few rounds. */
function carriedMarks(marks: FrameMark[], at: ReturnType<typeof hand>, width: number, height: number): FrameMark[] {
  const back = (x: number, y: number): [number, number] => {
    let [u, v] = [x - width / 2, y - height / 2];
    for (let k = 0; k < 8; k++) {
      const [a, b] = at(u, v);
      [u, v] = [u + (x - width / 2 - a), v + (y - height / 2 - b)];
    }
    return [u + width / 2, v + height / 2];
  };
  return marks.map((m) => ({ ...m, points: m.points.map((p) => back(p[0], p[1])) }));
}

const goatFrames = 36;

/** The goat that rolls along the quay; by a shaking hand if asked. */
function goat(shaken: boolean): TrueClip {
  const seed = 7;
  const motion: Motion = { way: [0, 0], sway: 0, shake: shaken ? 8 : 0, drift: shaken ? 0.2 : 0 };
  const number = (i: number): string => String(i + 1).padStart(4, '0');
  const folder = 'demo/truth/goat-clip';
  const own = (i: number): Promise<Picture> => pictureAt(`${folder}/frames/${number(i)}.jpg`);
  const alpha = (i: number): Promise<Plane> => matteAt(`${folder}/alpha/${number(i)}.png`);
  const given = JSON.parse(readFileSync(join(root, folder, 'marks.json'), 'utf8')) as { strokes: FrameMark[] };
  const marks = given.strokes.map((m) => ({ ...m, frame: m.frame - 1 }));
  return {
    name: shaken ? 'goat, by hand' : 'goat, from a stand',
    half: 'open',
    frames: { count: goatFrames, load: async (i) => (shaken ? seenBy(await own(i), await alpha(i), seed, i, motion).picture : own(i)) },
    truth: async (i) => (shaken ? seenBy(await own(i), await alpha(i), seed, i, motion).truth : alpha(i)),
    ...(shaken && {
      ground: async (i: number) => {
        const empty = await pictureAt(`${folder}/empty.jpg`);
        return seenBy(empty, makePlane(empty.width, empty.height), seed, i, motion).picture;
      },
    }),
    ...(!shaken && { ground: () => pictureAt(`${folder}/empty.jpg`) }),
    marks: shaken ? marks.flatMap((m) => carriedMarks([m], hand(seed, m.frame, motion.shake), 640, 427)) : marks,
  };
}

/** The same answers, each worked out once. */
function once<T>(work: (frame: number) => Promise<T>): (frame: number) => Promise<T> {
  const made = new Map<number, Promise<T>>();
  return (frame) => {
    const held = made.get(frame) ?? work(frame);
    made.set(frame, held);
    return held;
  };
}

/** A clip whose frames and truths are kept, as making them takes long. */
function remembered(clip: TrueClip): TrueClip {
  return {
    ...clip,
    frames: { ...clip.frames, load: once((i) => clip.frames.load(i)) },
    truth: once((i) => clip.truth(i)),
    ...(clip.ground && { ground: once(clip.ground) }),
  };
}

/** All clips that mattes over time and plates from clips are judged on. */
export async function trueClips(): Promise<TrueClip[]> {
  const clips = [
    goat(false),
    goat(true),
    await moving('yarn-doll', 'open', { way: [60, 6], sway: 2, shake: 6, drift: 0.1 }, 11),
    // Hardly moves: most of the ground is never seen.
    await moving('bird-cage', 'open', { way: [0, 0], sway: 5, shake: 0, drift: 0 }, 13),
    await moving('reed-plume', 'held back', { way: [-70, 0], sway: 3, shake: 0, drift: 0 }, 17),
    await moving('night-tin', 'held back', { way: [30, -4], sway: 3, shake: 6, drift: 0.2 }, 19),
  ];
  return clips.map(remembered);
}

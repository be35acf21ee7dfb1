import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  bandOutside,
  broughtBy,
  brightnessOf,
  dtSsd,
  followClip,
  frameMatte,
  groundInFrame,
  matteErrors,
  matteGround,
  matteOn,
  messdDt,
  noTrim,
  opticalFlow,
  defaultContext,
  psnr,
  type Flow,
  type FrameMark,
  type Plane,
} from '@ritaglio/core';
import { nodePool } from '../../../packages/cli/src/pool';
import { table } from '../table';
import { root } from '../truth';
import { trueClips, type TrueClip } from './made';

/**
 * Mattes over time and plates from clips against the truth, beside every frame by itself and the first matte carried by flow alone.
 * Written to docs/clips.md.
 */
const pool = nodePool(1);
const context = defaultContext(pool ? { pool } : {});

/** Mean figures over a clip. */
interface Figures {
  sad: number;
  mse: number;
  dtssd: number;
  messddt: number;
}

async function judged({ frames, truth }: TrueClip, mattes: Plane[], back: Flow[]): Promise<Figures> {
  const sum: Figures = { sad: 0, mse: 0, dtssd: 0, messddt: 0 };
  for (let i = 0; i < frames.count; i++) {
    const { sad, mse } = matteErrors(mattes[i], await truth(i));
    sum.sad += sad / frames.count;
    sum.mse += mse / frames.count;
    if (i === 0) continue;
    const pair = { before: mattes[i - 1], now: mattes[i], trueBefore: await truth(i - 1), trueNow: await truth(i) };
    sum.dtssd += dtSsd(pair) / (frames.count - 1);
    sum.messddt += messdDt(pair, back[i]) / (frames.count - 1);
  }
  return sum;
}

/** Flow from each frame to the one before, and from there to it. */
async function flowsOf({ frames }: TrueClip): Promise<{ back: Flow[]; forth: Flow[] }> {
  const [back, forth]: Flow[][] = [[], []];
  let last = brightnessOf(await frames.load(0), context);
  for (let i = 1; i < frames.count; i++) {
    const now = brightnessOf(await frames.load(i), context);
    [back[i], forth[i]] = await opticalFlow([now, last], [[0, 1], [1, 0]], context); // prettier-ignore
    last = now;
  }
  return { back, forth };
}

/** Marks of a frame moved to the one beside it by what flows there. */
function moved(marks: FrameMark[], flow: Flow, frame: number): FrameMark[] {
  const { width, height } = flow;
  return marks.map((m) => ({
    ...m,
    frame,
    points: m.points.map(([x, y]) => {
      const p = Math.min(height - 1, Math.max(0, Math.floor(y))) * width + Math.min(width - 1, Math.max(0, Math.floor(x)));
      return [x + flow.u[p], y + flow.v[p]] as const;
    }),
  }));
}

/** Every frame by itself: the marks of the nearest marked frame, moved along with what flows. */
async function byItself({ frames, marks }: TrueClip, { back, forth }: Awaited<ReturnType<typeof flowsOf>>): Promise<Plane[]> {
  const on = [...new Set(marks.map((m) => m.frame))];
  const own = Array.from({ length: frames.count }, (_, i) => marks.filter((m) => m.frame === i));
  const nearest = (i: number): number => on.reduce((a, b) => (Math.abs(b - i) < Math.abs(a - i) ? b : a));
  const moves: FrameMark[][] = own.map((m) => m);
  for (let i = 1; i < frames.count; i++) if (nearest(i) < i) moves[i] = moved(moves[i - 1], forth[i], i);
  for (let i = frames.count - 2; i >= 0; i--) if (nearest(i) > i) moves[i] = moved(moves[i + 1], back[i + 1], i);
  const out: Plane[] = [];
  for (let i = 0; i < frames.count; i++) {
    const ground = await matteGround(await frames.load(i), context);
    out.push((await matteOn({ ground }, { marks: moves[i], trim: noTrim }, context)).matte);
  }
  return out;
}

/** The matte of the frame with most marks, carried by flow and nothing else. */
async function carriedAlone({ frames, marks }: TrueClip, { back, forth }: Awaited<ReturnType<typeof flowsOf>>): Promise<Plane[]> {
  const most = (i: number): number => marks.filter((m) => m.frame === i).length;
  const first = [...new Set(marks.map((m) => m.frame))].reduce((a, b) => (most(b) > most(a) ? b : a));
  const ground = await matteGround(await frames.load(first), context);
  const out: Plane[] = [];
  out[first] = (await matteOn({ ground }, { marks: marks.filter((m) => m.frame === first), trim: noTrim }, context)).matte;
  for (let i = first + 1; i < frames.count; i++) out[i] = broughtBy(back[i], out[i - 1]);
  for (let i = first - 1; i >= 0; i--) out[i] = broughtBy(forth[i + 1], out[i + 1]);
  return out;
}

const only = process.argv[3] as string | undefined;
const words: string[][] = [];
const plates: string[][] = [];
const ways = ['ours', 'each by itself', 'carried alone'];
const sums = ways.map((): Figures => ({ sad: 0, mse: 0, dtssd: 0, messddt: 0 }));
const row = (name: string, { sad, mse, dtssd, messddt }: Figures): string[] => [
  name,
  sad.toFixed(2),
  mse.toFixed(5),
  dtssd.toFixed(4),
  messddt.toFixed(5),
];
let count = 0;
for (const clip of await trueClips()) {
  if (only !== undefined && !clip.name.includes(only) && clip.half !== only) continue;
  const start = performance.now();
  const { frames } = clip;
  const followed = (await followClip(frames, clip.marks, context))!;
  const ours: Plane[] = [];
  const overlaps: number[] = [];
  for (let i = 0; i < frames.count; i++) {
    ours.push((await frameMatte(followed, i, context)).matte);
    overlaps.push(overlap(ours[i].data, (await clip.truth(i)).data));
  }
  const seconds = (performance.now() - start) / 1000 / frames.count;
  const flows = await flowsOf(clip);
  const judge = [ours, await byItself(clip, flows), await carriedAlone(clip, flows)];
  for (const [w, mattes] of judge.entries()) {
    const figures = await judged(clip, mattes, flows.back);
    for (const key of Object.keys(figures) as (keyof Figures)[]) sums[w][key] += figures[key];
    words.push(row(`${clip.name} (${clip.half}): ${ways[w]}`, figures));
  }
  count++;
  const doubt = correlation(overlaps, followed.cut.certainty);
  plates.push([clip.name, ...(await plateFigures(clip, followed)), doubt.toFixed(2), seconds.toFixed(2)]);
  console.log(clip.name, words.slice(-3).map((w) => w.slice(1).join(' ')).join(' | '), plates[plates.length - 1].join(' ')); // prettier-ignore
}

function overlap(a: Float32Array, b: Float32Array): number {
  let [both, either] = [0, 0];
  for (let p = 0; p < a.length; p++) {
    const [x, y] = [a[p] >= 0.5, b[p] >= 0.5];
    if (x && y) both++;
    if (x || y) either++;
  }
  return either > 0 ? both / either : 1;
}

function correlation(a: number[], b: number[]): number {
  const mean = (v: number[]): number => v.reduce((s, x) => s + x, 0) / v.length;
  const [ma, mb] = [mean(a), mean(b)];
  const times = (p: number[], q: number[], mp: number, mq: number): number => p.reduce((s, x, i) => s + (x - mp) * (q[i] - mq), 0);
  return times(a, b, ma, mb) / Math.sqrt(times(a, a, ma, ma) * times(b, b, mb, mb) + 1e-12);
}

/** The ground found against the true one where a frame hides it: nearness where it was photographed, share said to be. */
async function plateFigures(clip: TrueClip, { ground, path }: Awaited<ReturnType<typeof followClip>> & object): Promise<string[]> {
  if (!ground || !clip.ground) return ['none', '', ''];
  let [sum, n] = [0, 0];
  for (let i = 0; i < clip.frames.count; i += 3) {
    const here = await groundInFrame(ground, path, i, context);
    const truth = await clip.ground(i);
    const hidden = bandOutside(await clip.truth(i), -1e6, 0);
    const shown = hidden.map((h, p) => (h > 0 && here.looks.data[p] > 0 ? 1 : 0));
    if (!shown.includes(1)) continue;
    const db = psnr(here.picture, truth, Float32Array.from(shown));
    if (Number.isFinite(db)) [sum, n] = [sum + db, n + 1];
  }
  return [n ? (sum / n).toFixed(1) : '', (100 * ground.photographed).toFixed(0) + ' %', ground.disagreement.toFixed(2)];
}

const mean = ways.map((way, w) => row(`**mean: ${way}**`, Object.fromEntries(Object.entries(sums[w]).map(([k, v]) => [k, v / count])) as unknown as Figures)); // prettier-ignore
if (only === undefined) {
  writeFileSync(
    join(root, 'docs/clips.md'),
    [
      '# Clips',
      '',
      'Computed by `npm run measure -- clips`. Marks on at most three frames of a clip. Means over all frames against the true mattes, 0 is best: sum of absolute differences in thousands, mean squared error, and over time dtSSD and MESSDdt (Erofeev et al. 2015). “Each by itself” is cut as a still by the marks of the nearest marked frame moved along with the flow at them; “carried alone” is the matte of the frame with most marks brought along by flow. Clips “by hand” are shaken by made-up homographies, with a drifting exposure.',
      '',
      table(['', 'SAD', 'MSE', 'dtSSD', 'MESSDdt'], [...mean, ...words]),
      '## The ground from the clip’s own frames',
      '',
      'Signal to noise where the subject hides it and some other frame shows it, dB; share of the hidden that was photographed; how far frames are apart, codes of 255; how well the certainty of the matte goes with its overlap with the truth (correlation, 1 is best); seconds a frame for it all.',
      '',
      table(['', 'dB', 'photographed', 'apart', 'certainty', 's a frame'], plates),
    ].join('\n'),
  );
}
for (const m of mean) console.log(m.join('  '));
process.exit(0);

import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import {
  ProductMemory,
  matte,
  meanDeltaE,
  noTrim,
  render,
  resizePicture,
  scaledSize,
  toRgba8,
  type Context,
  type Mark,
  type Picture,
  type PictureSource,
  type PlateProduct,
  type Recipe,
} from '@ritaglio/core';
import { root } from '../measure/truth';
import { time } from './timing';

/** The plate of the shot enlarged to 24 megapixels: time, memory, and whether it holds the same as at the size that is shown. */
export async function plateAtFullSize(shot: Picture, recipe: Recipe, context: Context): Promise<string> {
  const six = resizePicture(shot, 6000, 4000);
  const k = 6000 / shot.width;
  const pictures: PictureSource = {
    key: (id) => id,
    size: () => Promise.resolve(six),
    load: (_, scale) => {
      const { width, height } = scaledSize(6000, 4000, scale);
      return Promise.resolve(resizePicture(six, width, height));
    },
  };
  const [subject] = recipe.subjects;
  const marks = subject.marks.map((m) => ({
    ...m,
    radius: m.radius * k,
    points: m.points.map(([x, y]) => [x * k, y * k] as [number, number]),
  }));
  const job = { ...recipe, subjects: [{ ...subject, shot: 'six', marks }] };
  const plates = async (scale: number): Promise<{ seconds: number; more: number; plate: PlateProduct }> => {
    const memory = new ProductMemory(4e9);
    const at = { ...context, scale };
    await render(job, pictures, 'unmixed', at, memory);
    const inUse = process.memoryUsage().rss;
    const began = performance.now();
    const plate = await render(job, pictures, 'plate', at, memory);
    return { seconds: (performance.now() - began) / 1000, more: Math.max(0, process.memoryUsage().rss - inUse) / 1e9, plate };
  };
  const [large, shown] = [await plates(1), await plates(1800 / 6000)];
  const held = (24e6 * 4 * 8) / 1e9;
  const apart = meanDeltaE(
    resizePicture(large.plate.plate, 1800, 1200),
    shown.plate.plate,
    shown.plate.hole.data.map((h) => (h > 0.5 ? 1 : 0)),
  );
  return `The patched plate at 6000 × 4000, hole and choice of patches included: ${large.seconds.toFixed(1)} s (aim 30 s), ${(held + large.more).toFixed(1)} GB with its input and output (aim 3 GB); reduced, it differs in the hole from the one that is shown at 1800 px by ΔE ${apart.toFixed(1)} (aim 3).`;
}

/** The demo shot enlarged to 24 megapixels: the working answer, the full one, memory, and how soon a cancel takes hold. */
export async function lineAtFullSize(shot: Picture, strokes: readonly Mark[], ofDiscs: number, context: Context): Promise<string[]> {
  const large = resizePicture(shot, 6000, 4000);
  const k = 6000 / shot.width;
  const largeMarks = strokes.map((m) => ({
    ...m,
    radius: m.radius * k,
    points: m.points.map((p) => [p[0] * k, p[1] * k] as [number, number]),
  }));
  const largeTimes: string[] = [];
  const small = resizePicture(large, 900, 600);
  const working = await time(() => matte(small, { marks: largeMarks, trim: noTrim }, { ...context, scale: 900 / 6000 }));
  const began = performance.now();
  await matte(large, { marks: largeMarks, trim: noTrim }, context);
  const whole = performance.now() - began;
  const latencies: number[] = [];
  // Moments all through the work at which it is cancelled.
  const moments = 24;
  for (let k = 0; k < moments; k++) {
    const after = ((k + 0.5) / moments) * whole;
    const controller = new AbortController();
    const due = performance.now() + after;
    const timer = setTimeout(() => controller.abort(), after);
    await matte(large, { marks: largeMarks, trim: noTrim }, { ...context, signal: controller.signal }).catch(() => undefined);
    clearTimeout(timer);
    // Counted from when it was due: on a busy thread the timer itself comes late.
    if (controller.signal.aborted) latencies.push(performance.now() - due);
  }
  const folder = mkdtempSync(join(tmpdir(), 'ritaglio-bench-'));
  const code = toRgba8(large);
  await sharp(Buffer.from(code.buffer), { raw: { width: 6000, height: 4000, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality: 92 })
    .toFile(join(folder, 'large.jpg'));
  writeFileSync(join(folder, 'marks.json'), JSON.stringify(largeMarks));
  const alone = spawnSync(
    process.execPath,
    [
      'packages/cli/bin/ritaglio.mjs',
      'matte',
      join(folder, 'large.jpg'),
      '--marks',
      join(folder, 'marks.json'),
      '--out',
      join(folder, 'm.png'),
      '--json',
    ],
    { cwd: root, encoding: 'utf8' },
  );
  const { ms: aloneMs, peakMB } = JSON.parse(alone.stdout) as { ms: number; peakMB: number };
  const composed = spawnSync(
    process.execPath,
    [
      ...['packages/cli/bin/ritaglio.mjs', 'compose', join(folder, 'large.jpg'), '--matte', join(folder, 'm.png')],
      ...['--depth', join(root, 'demo/truth/goat-quay/depth.png'), '--depth-max', '262.14', '--lift', '5'],
      ...['--focal-length', '85', '--sensor-width', '36', '--f-number', '1.91', '--focus', '3.1'],
      ...['--out', join(folder, 'finished.png'), '--json'],
    ],
    { cwd: root, encoding: 'utf8' },
  );
  const job = JSON.parse(composed.stdout) as { ms: number; peakMB: number };
  rmSync(folder, { recursive: true });
  largeTimes.push(
    `The rest of the job at 6000 × 4000 from the command line (edge colour, patched plate, lens by a depth map with lamps lifted, laid together, read and written): ${(job.ms / 1000).toFixed(1)} s and ${(job.peakMB / 1000).toFixed(1)} GB at most; with the matte ${((job.ms + aloneMs) / 1000).toFixed(1)} s (aim 45 s). From discs of 12 px to discs of 96 px the lens takes ${ofDiscs.toFixed(2)} times as long (aim 1.6).`,
  );
  largeTimes.push(
    `At 6000 × 4000 (the demo shot enlarged): working answer at 900 px in ${working.toFixed(0)} ms (its reduction not counted), full-size matte in ${(whole / 1000).toFixed(1)} s (aim 25 s); from the command line, reading and writing included, ${(aloneMs / 1000).toFixed(1)} s and ${(peakMB / 1000).toFixed(1)} GB at most (aim 3 GB). Cancelled at ${latencies.length} moments: at most ${Math.max(...latencies).toFixed(0)} ms from the abort to the end (aim 200 ms).`,
  );
  return largeTimes;
}

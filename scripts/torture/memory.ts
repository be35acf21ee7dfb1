import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { newRecipe } from '@ritaglio/core';
import { By } from 'selenium-webdriver';
import sharp from 'sharp';
import { draw, find, openStep, settled, startSession } from '../../e2e/browser';
import { ofBrowsers } from '../measure/processes';
import { root } from '../measure/truth';
import { writePart } from './page';

/** `npm run memory`: peaks of short and long clips, what the browser holds after many jobs, and the whole line's peak at 48 megapixels; into docs/reliability.md. `stills`, `large` or `clips` does a part. */
const jobs = 30;
const only = process.argv[2];
const folder = mkdtempSync(join(tmpdir(), 'ritaglio-memory-'));
const shot = join(root, 'demo/pictures/goat-quay.jpg');

/** Memory of all browsers on this machine, MB; what several of their processes share counts once. */
const browserMB = (): number => ofBrowsers('smaps_rollup', (text) => Number(/^Pss:\s+(\d+)/m.exec(text)?.[1] ?? 0)) / 1024;

/** Memory after each of the jobs: a photo, a cut by two strokes, its plate, blurred. */
async function afterJobs(): Promise<number[]> {
  const session = await startSession({ workingSide: 1800 });
  const held: number[] = [];
  try {
    const { driver, address } = session;
    const [width, height] = [1800, 1200];
    for (let k = 0; k < jobs; k++) {
      const path = join(folder, `job-${k}.jpg`);
      await sharp(shot).resize(width, height).modulate({ hue: 11 * k }).jpeg().toFile(path); // prettier-ignore
      await driver.get(address);
      await (await find(driver, By.css('input[type=file]'))).sendKeys(path);
      await find(driver, By.css('nav[aria-label="Work line"]'));
      await settled(driver);
      await draw(driver, [width, height], [[775, 605], [980, 580], [1170, 600]]); // prettier-ignore
      await settled(driver);
      await openStep(driver, 'lens');
      await settled(driver);
      await driver.sleep(1000);
      held.push(browserMB());
      console.log(`${k + 1} of ${jobs}: ${held[k].toFixed(0)} MB`);
    }
  } finally {
    await session.close();
  }
  return held;
}

/** Peak of the terminal's whole line at 8000 × 6000, MB, and seconds. */
async function largePeak(): Promise<{ peakMB: number; seconds: number }> {
  const [width, height] = [8000, 6000];
  await sharp(shot).resize(width, height, { fit: 'fill' }).jpeg({ quality: 90 }).toFile(join(folder, 'large.jpg')); // prettier-ignore
  const plain = newRecipe('Large', 'large', width, height);
  const at = (points: [number, number][]): [number, number][] => points.map(([x, y]) => [(x * width) / 1800, (y * height) / 1200]);
  const marks = [
    { kind: 'inside' as const, radius: 80, points: at([[775, 605], [980, 580], [1170, 600]]) }, // prettier-ignore
    { kind: 'outside' as const, radius: 80, points: at([[100, 100], [1700, 100], [1700, 1100], [100, 1100]]) }, // prettier-ignore
  ];
  const recipe = { ...plain, subjects: [{ ...plain.subjects[0], marks }], lens: { ...plain.lens, fNumber: 1.4 } };
  writeFileSync(join(folder, 'large.json'), JSON.stringify({ recipe, pictures: [{ id: 'large', file: 'large.jpg' }] }));
  const terminal = join(root, 'packages/cli/bin/ritaglio.mjs');
  const told = execFileSync('node', [terminal, 'export', join(folder, 'large.json'), '--out', join(folder, 'large.png'), '--json'], {
    encoding: 'utf8',
  });
  const { peakMB, ms } = JSON.parse(told) as { peakMB: number; ms: number };
  return { peakMB, seconds: ms / 1000 };
}

/** Peak of the terminal's clip whose subject is followed through so many frames of 640 × 427, of which the last 24 are finished, MB. */
function clipPeak(frames: number): { peakMB: number; seconds: number } {
  const path = join(root, 'demo/jobs/goat-rolling-by.json');
  const { recipe, pictures } = JSON.parse(readFileSync(path, 'utf8')) as {
    recipe: { time: object; clips: { count: number; from: { pictures: string[] } }[] };
    pictures: { id: string; file: string }[];
  };
  const [clip] = recipe.clips;
  const ids = clip.from.pictures;
  // There and back again; every place in the clip is a file of its own.
  const turn = 2 * (ids.length - 1);
  const own = Array.from({ length: frames }, (_, i) => ids[i % turn < ids.length ? i % turn : turn - (i % turn)]);
  const fileOf = new Map(pictures.map(({ id, file }) => [id, join(root, 'demo/jobs', file)]));
  own.forEach((id, i) => copyFileSync(fileOf.get(id)!, join(folder, `frame-${i}.jpg`)));
  const files = own.map((_, i) => ({ id: `frame-${i}`, file: `frame-${i}.jpg` }));
  const others = pictures.filter(({ id }) => !ids.includes(id)).map(({ id, file }) => ({ id, file: basename(file) }));
  for (const { id, file } of others) copyFileSync(fileOf.get(id)!, join(folder, file));
  const long = {
    ...recipe,
    time: { ...recipe.time, first: 0, last: frames - 1 },
    clips: [{ ...clip, count: frames, from: { ...clip.from, pictures: files.map(({ id }) => id) } }],
  };
  writeFileSync(join(folder, 'clip.json'), JSON.stringify({ recipe: long, pictures: [...files, ...others] }));
  const terminal = join(root, 'packages/cli/bin/ritaglio.mjs');
  const told = execFileSync('node', [terminal, 'clip', join(folder, 'clip.json'), '--frames', `${frames - 23}-${frames}`, '--out', join(folder, 'frames'), '--json'], { encoding: 'utf8' }); // prettier-ignore
  const { peakMB, ms } = JSON.parse(told) as { peakMB: number; ms: number };
  return { peakMB, seconds: ms / 1000 };
}

function clips(): void {
  const [short, long] = [60, 600].map((frames) => {
    const peak = clipPeak(frames);
    console.log(`clip of ${frames} frames: ${peak.peakMB.toFixed(0)} MB, ${peak.seconds.toFixed(0)} s`);
    return peak;
  });
  writePart('memory of clips', 'Memory of clips', [
    `A clip of 640 × 427 from the terminal (\`npm run memory -- clips\`), its subject followed through all frames and the last 24 finished: ${short.peakMB.toFixed(0)} MB at most`,
    `for 60 frames, ${long.peakMB.toFixed(0)} MB for 600 (aim: a tenth more), in ${short.seconds.toFixed(0)} and ${long.seconds.toFixed(0)} s.`,
  ]);
}

async function stills(): Promise<void> {
  const held = await afterJobs();
  const grown = held[held.length - 1] - held[0];
  writePart('memory', 'Memory', [
    `${jobs} jobs one after another in one browser (\`npm run memory\`; each a photo of 1800 × 1200, a stroke, its plate, blurred): ${held[0].toFixed(0)} MB`,
    `in all its processes after the first, ${held[held.length - 1].toFixed(0)} MB after the last, at most ${Math.max(...held).toFixed(0)} MB in between: ${grown.toFixed(0)} MB more (aim 300).`,
  ]);
}

async function large(): Promise<void> {
  const { peakMB, seconds } = await largePeak();
  writePart('memory of large pictures', 'Memory of large pictures', [
    `The whole line at 8000 × 6000 from the terminal (\`npm run memory -- large\`; cut, plate, lens, laid together, written): ${((peakMB * 1024 ** 2) / 1e9).toFixed(1)} GB at most`,
    `(aim 3.2), ${seconds.toFixed(0)} s.`,
  ]);
}

try {
  if (!only || only === 'stills') await stills();
  if (!only || only === 'large') await large();
  if (!only || only === 'clips') clips();
} finally {
  rmSync(folder, { recursive: true, force: true });
}

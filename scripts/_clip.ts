import { momentOf, readRecipe, resizePicture, scaledSize, type Picture } from '@ritaglio/core';
import { ProductMemory } from '../packages/core/src/render/memory';
import { render } from '../packages/core/src/render/render';
import { renderFrame } from '../packages/core/src/render/overTime';
import type { PictureSource } from '../packages/core/src/render/products';
import { jobAt, pictureAt } from './measure/truth';
import { defaultContext } from '@ritaglio/core';
import { nodePool } from '../packages/cli/src/pool';
const job = readRecipe(jobAt('goat-rolling-by').recipe);
const frames = 12, first = 12;
const clip = { ...job.clips[0], id: 'bench', count: frames, from: { kind: 'pictures' as const, pictures: Array.from({ length: frames }, (_, i) => `${first + i}`) } };
const marks = job.subjects[0].marks.filter((m) => (m.frame ?? 0) >= first && (m.frame ?? 0) < first + frames);
const part: typeof job = { ...job, time: { ...job.time!, first: 0, last: frames - 1 }, clips: [clip],
  subjects: [{ ...job.subjects[0], shot: 'bench', marks: marks.map((m) => ({ ...m, frame: (m.frame ?? 0) - first })) }] };
const read = new Map<string, Picture>();
for (let i = 0; i < frames; i++) read.set(`${first + i}`, await pictureAt(`demo/truth/goat-clip/frames/${String(first + i + 1).padStart(4, '0')}.jpg`));
const source: PictureSource = { key: (id) => id, load: (id, scale) => { const p = read.get(id)!; const { width, height } = scaledSize(p.width, p.height, scale); return Promise.resolve(resizePicture(p, width, height)); } };
const pool = process.env.POOL ? nodePool() : undefined; const context = defaultContext({ ...(pool && { pool }) });
const only = process.argv[2];
for (let r = 0; r < Number(process.env.ROUNDS ?? 1); r++) {
  const memory = new ProductMemory(900e6);
  const t0 = performance.now();
  await render(momentOf(part, 0), source, 'following', context, memory);
  const t1 = performance.now();
  const all: number[] = [];
  if (only !== 'follow') for (let i = 0; i < frames; i++) { const t = performance.now(); await renderFrame(part, i, source, context, memory); all.push(performance.now() - t); }
  console.log('follow', ((t1 - t0) / frames).toFixed(0), 'finish', (all.reduce((a, b) => a + b, 0) / frames).toFixed(0), all.map((x) => x.toFixed(0)).join(' '));
}
process.exit(0);

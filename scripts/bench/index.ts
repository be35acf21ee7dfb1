import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  ProductMemory,
  addGrain,
  brightnessOf,
  momentOf,
  opticalFlow,
  renderFrame,
  sampleAt,
  type Flow,
  blurDiscAt,
  defocus,
  edgeColour,
  edgeWalk,
  findBanding,
  findSubject,
  graded,
  lightOnOutline,
  matte,
  matteGround,
  matteOn,
  measureGrain,
  measureTone,
  noTrim,
  over,
  patchFill,
  defaultContext,
  defaultGrade,
  defaultPlate,
  plate,
  readRecipe,
  render,
  resizeHoled,
  resizePicture,
  resizePlane,
  sampleColours,
  scaledSize,
  scopesOf,
  signedDisc,
  smoothFill,
  solveGrade,
  surrounded,
  toRgba8,
  type Context,
  type Grade,
  type Optics,
  type Picture,
  type PictureSource,
} from '@ritaglio/core';
import { mostThreads, nodePool } from '../../packages/cli/src/pool';
import { jobAt, matteAt, pictureAt, root, strokesOf } from '../measure/truth';
import { interfaceTimes } from './interface';
import { lineAtFullSize, plateAtFullSize } from './large';
import { median, once, rounds, time, timeBoth, type Other } from './timing';
import { vision } from './vision';

/**
 * Time of every stage at 1800 × 1200, as a ratio to a general-purpose vision library doing the like in the same run and
 * to a plain copy of the picture's three float planes. Written to docs/speed.md.
 */
const threads = mostThreads();
const pool = nodePool();
const context = defaultContext({ ...(pool && { pool }) });

const shot = await pictureAt('demo/pictures/goat-quay.jpg');
const background = await pictureAt('demo/pictures/canal-night.jpg');
const recipe = readRecipe(jobAt('goat-on-the-quay').recipe);
const strokes = strokesOf('goat-quay');
const lens = recipe.lens;
const disc = blurDiscAt(lens, 20, shot.width);

const copied = [new Float32Array(shot.r.length), new Float32Array(shot.r.length), new Float32Array(shot.r.length)];
const copy = await time(() => [shot.r, shot.g, shot.b].forEach((c, k) => copied[k].set(c)));

const source: PictureSource = {
  key: (id) => id,
  load: (_, scale) => {
    const { width, height } = scaledSize(shot.width, shot.height, scale);
    return Promise.resolve(resizePicture(shot, width, height));
  },
};
const withMarks = (marks: (typeof recipe.subjects)[0]['marks'], fNumber = lens.fNumber): typeof recipe => ({
  ...recipe,
  lens: { ...lens, fNumber },
  subjects: [{ ...recipe.subjects[0], shot: 'shot', marks }],
});
const products = new ProductMemory(900e6);
const draft = { ...context, scale: 450 / 1800 };
interface Row {
  what: string;
  ms: number;
  against?: { what: string; ms: number };
}
const rows: Row[] = [];
async function row(what: string, work: () => unknown, library?: { what: string; ms: number } | Other): Promise<void> {
  const both = library && 'work' in library ? await timeBoth(work, library.work) : undefined;
  const ms = both?.[0] ?? (await time(work));
  addRow(what, ms, library && { what: library.what, ms: both?.[1] ?? (library as { ms: number }).ms });
}
function addRow(what: string, ms: number, against?: Row['against']): void {
  rows.push({ what, ms, against });
  console.log(what, ms.toFixed(0), 'ms', against ? `${against.what} ${against.ms.toFixed(0)} ms` : '');
}

const solved = (await matte(shot, { marks: strokes, trim: noTrim }, context)).matte;
const careful = (await matte(shot, recipe.subjects[0], context)).matte;
const { subject, behind } = await edgeColour(shot, careful, context);
const plateInputs = { shot, behind, matte: careful };
const filled = await plate(plateInputs, defaultPlate, context);
const blurred = await defocus(filled.plate, 20, lens, context);
const v = await vision(toRgba8(shot), shot.width, shot.height);
const cutThere = { what: 'grabCut, 1 round', ms: await time(() => v.cut(strokes)) };
const inpaintThere: Other = { what: 'inpaint, radius 3', work: () => v.inpaint(filled.hole) };
const discThere: Other = { what: `filter2D, disc of ${disc.toFixed(0)} px`, work: () => v.disc(disc) };
const gaussThere: Other = { what: `GaussianBlur, the same spread`, work: () => v.gaussian(disc / 4) };

await row('First matte, the strokes that come with the picture', () => matte(shot, { marks: strokes, trim: noTrim }, context), cutThere);
/** The job's last marks, each added to those before it, in the order in which they were drawn. */
const lastMarks = 5;
const upTo = (k: number): typeof strokes => recipe.subjects[0].marks.slice(0, recipe.subjects[0].marks.length - lastMarks + k);
async function furtherMarks(of: typeof context): Promise<number[]> {
  await render(withMarks(upTo(0)), source, 'matte', of, products);
  const took: number[] = [];
  for (let k = 1; k <= lastMarks; k++) {
    const begun = performance.now();
    await render(withMarks(upTo(k)), source, 'matte', of, products);
    took.push(performance.now() - begun);
  }
  return took;
}
const further = await furtherMarks(context);
addRow('A further mark', median(further), cutThere);
addRow('The slowest of them', Math.max(...further));
addRow('The same in the draft', median(await furtherMarks(draft)));
let n = 0;
const oneMore = (k: number): typeof strokes => [...strokes, { kind: 'outside', radius: 6, points: [[300 + k, 100]] }];
await row('A first mark in the draft', () => render(withMarks(oneMore(++n)), source, 'matte', draft, new ProductMemory(900e6)));
const lantern = await pictureAt('demo/pictures/lantern-greencloth.jpg');
const lanternCut = readRecipe(jobAt('lantern').recipe).subjects[0];
const lanternGround = await matteGround(lantern, context);
await row('Matte by its screen, 1500 × 1000', () => matteOn({ ground: lanternGround }, lanternCut, context));
const truePlate = await pictureAt('demo/truth/goat-quay/plate.jpg');
const ground = await matteGround(shot, context);
await row('Matte by difference, aligning included', () =>
  matteOn({ ground, plate: truePlate }, { cut: 'difference', marks: [], trim: noTrim }, context),
);
await row('Finding the subject', () => findSubject(ground, context));
await row('Edge colour', () => edgeColour(shot, careful, context));
await row('Walking the edge, old background in it measured', () => edgeWalk(subject, behind, context));
await row('Plate, smooth', () => smoothFill(behind, filled.hole, context), inpaintThere);
const mayCopy = { ...careful, data: careful.data.map((a) => (a > 0.01 ? 0 : 1)) };
await row('Plate, patch', () => patchFill(behind, filled.hole, mayCopy, 1, context), inpaintThere);
const draftSize = { width: 450, height: 300 };
const draftHoled = resizeHoled({ picture: behind, hole: filled.hole }, draftSize.width, draftSize.height);
const draftCopy = resizePlane(mayCopy, draftSize.width, draftSize.height);
await row('The same in the draft, patch', () => patchFill(draftHoled.picture, draftHoled.hole, draftCopy, 1, draft));
await row('Plate measured and patched, as in a job', () => plate(plateInputs, defaultPlate, context));
await row(`Lens, disc of ${disc.toFixed(0)} px`, () => defocus(filled.plate, 20, lens, context), discThere);
await row('The same against a Gaussian', () => defocus(filled.plate, 20, lens, context), gaussThere);
const depth = await matteAt('demo/truth/goat-quay/depth.png');
// 250 counts a metre; what is beyond the range is as far as can be.
for (let p = 0; p < depth.data.length; p++) depth.data[p] = depth.data[p] >= 1 ? 10000 : Math.max(0.05, (depth.data[p] * 65535) / 250);
const farDisc = signedDisc(lens, Infinity, lens.across);
const atDisc = (d: number): Optics => ({ ...lens, fNumber: (lens.fNumber * farDisc) / d });
await row('Lens, distances varying, discs up to 96 px', () => defocus(filled.plate, depth, atDisc(96), context), {
  what: 'filter2D, disc of 96 px',
  work: () => v.disc(96),
});
await row('The same, discs up to 12 px', () => defocus(filled.plate, depth, atDisc(12), context));
const draftPlate = resizePicture(filled.plate, 450, 300);
const draftDepth = resizePlane(depth, 450, 300);
await row('The same in the draft, discs up to 96 px', () => defocus(draftPlate, draftDepth, atDisc(96), draft));
await render(withMarks(strokes), source, 'background', draft, products);
await row('Blur draft, all that follows a change of aperture', () =>
  render(withMarks(strokes, 2 + ++n / 100), source, 'composite', draft, products),
);
const sample = sampleColours(subject);
const goal = measureTone(background);
const everything = { cast: 1, tint: 1, black: 1, white: 1, middle: 1, contrast: 1, saturation: 1 };
const solvedGrade = solveGrade(sample, goal, everything);
await row('Match measured and solved, seven properties', () => solveGrade(sampleColours(subject), measureTone(background), everything));
await row('Match applied', () => graded(subject, solvedGrade, context));
const shotGrain = measureGrain(shot)!;
const wrapped = { wrap: { width: 12, strength: 0.6 }, ambient: { colour: 'auto', strength: 0.3 } };
/** A whole grade (cast, tone, curve, colour), the light wrap laid with it, grain over all. */
const finishing = (s: Picture, b: Picture, c: Context): Promise<Picture> =>
  graded(over(surrounded(s, b, wrapped, [0.3, 0.25, 0.2], c.scale), b), busyGrade, c).then((p) =>
    addGrain(p, shotGrain.byTone, shotGrain.size, c),
  );
const busyGrade: Grade = {
  ...defaultGrade,
  ...{ temperature: 20, exposure: 0.2, contrast: 0.2, saturation: 1.1, vibrance: 0.2 },
  curves: { ...defaultGrade.curves, all: [[0, 0], [0.4, 0.45], [1, 1]] }, // prettier-ignore
};
const draftSubject = resizePicture(subject, 450, 300);
const draftBlurred = resizePicture(blurred, 450, 300);
await row('Whole grade, grain and wrap', () => finishing(subject, blurred, context));
await row('The same in the draft, grade', () => finishing(draftSubject, draftBlurred, draft));
const cover = { width: shot.width, height: shot.height, data: subject.a! };
await row('Scopes, both sides', () => scopesOf(shot, cover));
await row('Grain measured', () => measureGrain(shot));
await row('Banding looked for', () => findBanding(shot));
await row('Light direction, on the outline', () => lightOnOutline(shot, cover));
await row('Stage, subject over background', () => over(subject, blurred));
/** Clips: flow beside the library's, and frames a second of a whole job. */
const clipText = await (async (): Promise<string> => {
  const [w, h] = [640, 427];
  const from = resizePicture(shot, w, h);
  const brightness = brightnessOf(from, context);
  // The same picture moved by a turn and a shift: where every pixel went is known.
  const [turn, dx, dy] = [0.012, 3.4, -2.1];
  const truth = (x: number, y: number): [number, number] => {
    const [cx, cy] = [x - w / 2, y - h / 2];
    return [cx * Math.cos(turn) - cy * Math.sin(turn) + w / 2 + dx - x, cx * Math.sin(turn) + cy * Math.cos(turn) + h / 2 + dy - y];
  };
  const moved = { ...brightness, data: new Float32Array(w * h) };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [cx, cy] = [x - dx - w / 2, y - dy - h / 2];
      moved.data[y * w + x] = sampleAt(
        brightness,
        cx * Math.cos(turn) + cy * Math.sin(turn) + w / 2,
        -cx * Math.sin(turn) + cy * Math.cos(turn) + h / 2,
      );
    }
  }
  const off = ({ u, v: vv }: { u: Float32Array; v: Float32Array }): number => {
    let [sum, n] = [0, 0];
    for (let y = 24; y < h - 24; y++) {
      for (let x = 24; x < w - 24; x++, n++) sum += Math.hypot(u[y * w + x] - truth(x, y)[0], vv[y * w + x] - truth(x, y)[1]);
    }
    return sum / n;
  };
  const ours = (): Promise<Flow[]> => opticalFlow([brightness, moved], [[0, 1]], context);
  await row('Dense flow between two frames, 640 × 427', ours, { what: 'calcOpticalFlowFarneback', work: () => v.flow(brightness, moved) });
  const [own] = await ours();
  const there = v.flow(brightness, moved);

  const job = readRecipe(jobAt('goat-rolling-by').recipe);
  const frames = 12;
  const first = 12;
  const clip = { ...job.clips[0], id: 'bench', count: frames, from: { kind: 'pictures' as const, pictures: Array.from({ length: frames }, (_, i) => `${first + i}`) } }; // prettier-ignore
  const marks = job.subjects[0].marks.filter((m) => (m.frame ?? 0) >= first && (m.frame ?? 0) < first + frames);
  const part: typeof job = {
    ...job,
    time: { ...job.time!, first: 0, last: frames - 1 },
    clips: [clip],
    subjects: [{ ...job.subjects[0], shot: 'bench', marks: marks.map((m) => ({ ...m, frame: (m.frame ?? 0) - first })) }],
  };
  const read = new Map<string, Picture>();
  for (let i = 0; i < frames; i++) read.set(`${first + i}`, await pictureAt(`demo/truth/goat-clip/frames/${String(first + i + 1).padStart(4, '0')}.jpg`)); // prettier-ignore
  const clipSource: PictureSource = {
    key: (id) => id,
    load: (id, scale) => {
      const p = read.get(id)!;
      const { width, height } = scaledSize(p.width, p.height, scale);
      return Promise.resolve(resizePicture(p, width, height));
    },
  };
  const memory = new ProductMemory(900e6);
  const follows = await once(() => render(momentOf(part, 0), clipSource, 'following', context, memory));
  const finishes = await once(async () => {
    for (let i = 0; i < frames; i++) await renderFrame(part, i, clipSource, context, memory);
  });
  const seen = await once(() => renderFrame(part, frames - 1, clipSource, context, memory));
  addRow('Clip of 640 × 427: following, a frame', follows / frames);
  addRow('The same: a finished frame after it', finishes / frames);
  addRow('The same: a frame that was seen before', seen);
  return `Clip of 640 × 427 (goat, ${frames} frames, ${marks.length} marks, ground from its own frames, lens by distance): ${((1000 * frames) / (follows + finishes)).toFixed(2)} frames a second all in all (aim 4). Flow of a known motion of up to ${Math.hypot(3.4 + 0.012 * 214, 2.1 + 0.012 * 320).toFixed(0)} px: off by ${off(own).toFixed(2)} px on the mean, the library's ${off(there).toFixed(2)} px.`;
})();
console.log(clipText);
const plateText = await plateAtFullSize(shot, recipe, context);
console.log(plateText);
const msOf = (what: string): number => rows.find((r) => r.what === what)!.ms;
const ofDiscs = msOf('Lens, distances varying, discs up to 96 px') / msOf('The same, discs up to 12 px');
const largeTimes = await lineAtFullSize(shot, strokes, ofDiscs, context);
console.log(largeTimes.join('\n'));
if (solved.data.every((a) => a === 0)) throw new Error('the matte is empty: nothing was measured');

const aims: Record<string, number> = {
  'The same in the draft, grade': 120,
  'Scopes, both sides': 30,
  'The same in the draft, discs up to 96 px': 100,
  'First matte, the strokes that come with the picture': 900,
  'A further mark': 350,
  'The same in the draft': 350,
  'A first mark in the draft': 900,
  'Blur draft, all that follows a change of aperture': 150,
  'Plate, smooth': 300,
  'Plate, patch': 5000,
  'The same in the draft, patch': 700,
};
const text = [
  '# Speed',
  '',
  `Computed by \`npm run bench\` at 1800 × 1200 (draft: 450 × 300), median of ${rounds} runs after one to warm up (beside the library, in turns with it, of ${2 * rounds + 1}), ${threads} threads (the library has one), Node ${process.version}. The machine is part of the figure; the ratios are less so. The vision library is \`@techstark/opencv-js\` (WebAssembly), the copy one of the picture’s three float planes (${copy.toFixed(1)} ms). Further marks are the last ${lastMarks} of the demo job, each added to those before it.`,
  '',
  '| Stage | ms | aim, ms | in copies | library doing the like | ms | ratio |',
  '|---|--:|--:|--:|---|--:|--:|',
  ...rows.map(
    (r) =>
      `| ${r.what} | ${r.ms.toFixed(0)} | ${aims[r.what] ?? ''} | ${(r.ms / copy).toFixed(0)} | ${r.against?.what ?? ''} | ${r.against?.ms.toFixed(0) ?? ''} | ${r.against ? (r.ms / r.against.ms).toFixed(2) : ''} |`,
  ),
  '',
  clipText,
  '',
  ...largeTimes,
  '',
  plateText,
  '',
  ...(await interfaceTimes()),
  '',
];
writeFileSync(join(root, 'docs/speed.md'), text.join('\n'));
console.log('docs/speed.md');

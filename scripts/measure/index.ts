import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  defocus,
  alignPicture,
  cielabOf,
  edgeColour,
  findSubject,
  halo,
  makePicture,
  maskOf,
  matteGround,
  matteOn,
  matteErrors,
  meanDeltaE,
  noTrim,
  over,
  defaultContext,
  defaultPlate,
  plate,
  psnr,
  readRecipe,
  resizePlane,
  unmix,
  weightOf,
  widened,
  withOpacity,
  opticsOf,
  type Optics,
  type Mark,
  type MatteProduct,
  type Picture,
  type Plane,
} from '@ritaglio/core';
import { arithmeticColour, feathered, fixedBand, hardCut, hardDifference, trueBand } from './baselines';
import { lensSection } from './lens';
import { matchSection } from './match';
import { plateRows } from './plates';
import { jobAt, matteAt, pictureAt, root, strokesOf, undecidedOf } from './truth';

/** Accuracy of every stage against the demo's truth pictures, written to docs/accuracy.md. */
const context = defaultContext();
const lines: string[] = [];

function table(head: string[], rows: (string | number)[][]): void {
  lines.push(`| ${head.join(' | ')} |`, `|${head.map((_, i) => (i === 0 ? '---' : '--:')).join('|')}|`);
  for (const row of rows) lines.push(`| ${row.join(' | ')} |`);
  lines.push('');
}

function section(title: string, ...text: string[]): void {
  console.log(title);
  lines.push(`## ${title}`, '', ...text.flatMap((t) => [t, '']));
}

/** The matte by marks, and the same before it is corrected by what has been learned. */
async function inShot(shot: Picture, marks: Mark[]): Promise<MatteProduct & { solvedOnly: Plane }> {
  const ground = await matteGround(shot, context);
  const product = await matteOn({ ground }, { marks, trim: noTrim }, context);
  return { ...product, solvedOnly: ground.last.carried!.large };
}
const within = (from: Plane, test: (v: number) => boolean): Float32Array => from.data.map((v) => (test(v) ? 1 : 0));
const goat = await pictureAt('demo/pictures/goat-quay.jpg');
const goatTruth = await matteAt('demo/truth/goat-quay/alpha.png');
const goatFront = withOpacity(await pictureAt('demo/truth/goat-quay/foreground.png'), goatTruth);
const truePlate = await pictureAt('demo/truth/goat-quay/plate.jpg');
const lantern = await pictureAt('demo/pictures/lantern-greencloth.jpg');
const lanternTruth = await matteAt('demo/truth/lantern-greencloth/alpha.png');
const lanternFront = withOpacity(await pictureAt('demo/truth/lantern-greencloth/foreground.png'), lanternTruth);
const job = readRecipe(jobAt('goat-on-the-quay').recipe);

section(
  'Matte',
  'SAD and gradient error in thousands (gradient: Gaussian derivative, sigma 1.4), over the whole picture and over the true undecided band (true opacity neither 0 nor 1).',
);
const strokes = strokesOf('goat-quay');
const goatMattes = {
  'goat, the strokes that come with the picture': await inShot(goat, strokes),
  [`goat, the ${job.subjects[0].marks.length} marks of the demo job`]: await inShot(goat, job.subjects[0].marks),
};
const lanternMatte = await inShot(lantern, strokesOf('lantern-greencloth'));
const rows: (string | number)[][] = [];
const colourRows: (string | number)[][] = [];
/** Band MSE of each row, for the shares said below the table. */
const bandOf: Record<string, number> = {};
function matteRow(name: string, found: Plane, truth: Plane): void {
  const whole = matteErrors(found, truth);
  const band = matteErrors(found, truth, undecidedOf(truth));
  bandOf[name] = band.mse;
  rows.push([
    name,
    ...[whole.sad.toFixed(1), whole.mse.toFixed(4), whole.gradient.toFixed(2)],
    ...[band.sad.toFixed(1), band.mse.toFixed(4), band.gradient.toFixed(2)],
  ]);
}
/** Rows of what plain ways give from the same hard cut. */
async function baselineRows(name: string, shot: Picture, hard: Plane, truth: Plane): Promise<void> {
  const ways = {
    fixed: ['— fixed band of 20 px, plain closed form', await fixedBand(shot, hard, context)],
    hard: ['— hard cut, feathered 1 px', feathered(hard)],
  } as const;
  for (const [way, [what, found]] of Object.entries(ways)) {
    matteRow(what, found, truth);
    bandOf[`${name}, ${way}`] = bandOf[what];
  }
}
/** Mean chroma of the edge colour towards the screen, beyond the truth's, ΔE. */
function towards(p: Picture, front: Picture, weight: Float32Array, screen: readonly [number, number, number]): number {
  const [, sa, sb] = cielabOf(...screen);
  const far = Math.hypot(sa, sb);
  const shown = (q: Picture, i: number): [number, number, number] =>
    cielabOf(...([q.r[i], q.g[i], q.b[i]].map((v) => Math.min(1, Math.max(0, v))) as [number, number, number]));
  let [sum, total] = [0, 0];
  weight.forEach((w, i) => {
    if (w <= 0) return;
    const [, a, b] = shown(p, i);
    const [, ta, tb] = shown(front, i);
    sum += (w * ((a - ta) * sa + (b - tb) * sb)) / far;
    total += w;
  });
  return total > 0 ? sum / total : 0;
}

const jobName = `goat, the ${job.subjects[0].marks.length} marks of the demo job`;
const lanternName = 'lantern, the strokes that come with the picture';
for (const [name, found, truth, shot, marks] of [
  ...Object.entries(goatMattes).map(([n, m], i) => [n, m, goatTruth, goat, i === 0 ? strokes : job.subjects[0].marks] as const),
  [lanternName, lanternMatte, lanternTruth, lantern, strokesOf('lantern-greencloth')] as const,
]) {
  matteRow(name, found.matte, truth);
  matteRow('— without the correction that was learned', found.solvedOnly, truth);
  await baselineRows(name, shot, await hardCut(shot, marks, context), truth);
  if (name !== jobName && shot === goat) continue;
  const known = await trueBand(shot, truth, context);
  matteRow('— the same closed form with the true band given', known, truth);
  bandOf[`${name}, known`] = bandOf['— the same closed form with the true band given'];
}
const lanternJob = readRecipe(jobAt('lantern').recipe).subjects[0];
const keyed = await matteOn({ ground: await matteGround(lantern, context) }, lanternJob, context);
matteRow('lantern by its screen, as in the demo job', keyed.matte, lanternTruth);
const empty = await pictureAt('demo/truth/goat-clip/empty.jpg');
/** The picture seen a little from elsewhere and brighter: 3 px, 1°, 0.3 stop; resampled as sharp as a photograph would be. */
function jolted(p: Picture): Picture {
  const out = makePicture(p.width, p.height);
  const [c, s] = [Math.cos(Math.PI / 180), Math.sin(Math.PI / 180)];
  const lobes = (t: number): number[] => {
    const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
    const all = Array.from({ length: 16 }, (_, k) => sinc(t - k + 7) * sinc((t - k + 7) / 8));
    return all.map((w) => w / all.reduce((a, b) => a + b, 0));
  };
  for (let y = 0; y < p.height; y++) {
    for (let x = 0; x < p.width; x++) {
      const [u, v] = [x - p.width / 2, y - p.height / 2];
      const sx = Math.min(p.width - 4, Math.max(2, c * u - s * v + p.width / 2 + 3));
      const sy = Math.min(p.height - 4, Math.max(2, s * u + c * v + p.height / 2));
      const [x0, y0] = [Math.floor(sx), Math.floor(sy)];
      const [across, down] = [lobes(sx - x0), lobes(sy - y0)];
      for (const k of ['r', 'g', 'b'] as const) {
        let light = 0;
        for (let j = 0; j < 16; j++) {
          const row = Math.min(p.height - 1, Math.max(0, y0 + j - 7)) * p.width;
          for (let i = 0; i < 16; i++) light += across[i] * down[j] * p[k][row + Math.min(p.width - 1, Math.max(0, x0 + i - 7))];
        }
        out[k][y * p.width + x] = Math.max(0, 2 ** 0.3 * light);
      }
    }
  }
  return out;
}
const moved = jolted(empty);
const alignment: string[] = [];
const clipName = (frame: string): string => `clip, frame ${frame}, difference to the empty frame`;
for (const frame of ['0012', '0020']) {
  const shot = await pictureAt(`demo/truth/goat-clip/frames/${frame}.jpg`);
  const truth = await matteAt(`demo/truth/goat-clip/alpha/${frame}.png`);
  for (const [what, plate] of [
    ['the empty frame', empty],
    ['the empty frame moved by 3 px, 1°, 0.3 stop', moved],
  ] as const) {
    const product = await matteOn(
      { ground: await matteGround(shot, context), plate },
      { cut: 'difference', marks: [], trim: noTrim },
      context,
    );
    matteRow(`clip, frame ${frame}, difference to ${what}`, product.matte, truth);
    if (plate === empty) await baselineRows(clipName(frame), shot, await hardDifference(shot, empty, context), truth);
  }
  const { gain } = await alignPicture(moved, shot, context);
  alignment.push(`frame ${frame} ${gain.map((g) => Math.log2(g).toFixed(3)).join(', ')}`);
}
for (const [name, found, truth, shot, front] of [
  ...Object.entries(goatMattes).map(([n, m]) => [n, m, goatTruth, goat, goatFront] as const),
  [lanternName, lanternMatte, lanternTruth, lantern, lanternFront] as const,
]) {
  const weight = truth.data.map((a, i) => (a > 0 && a < 1 && found.matte.data[i] > 0 ? a : 0));
  const own = await unmix(shot, found, 1, context);
  const right = await edgeColour(shot, truth, context);
  const reckoned = shot === goat ? meanDeltaE(arithmeticColour(shot, truth, truePlate), front, weight).toFixed(2) : '';
  colourRows.push([
    name,
    meanDeltaE(shot, front, weight).toFixed(2),
    meanDeltaE(own.subject, front, weight).toFixed(2),
    meanDeltaE(right.subject, front, weight).toFixed(2),
    reckoned,
  ]);
}
const keyWeight = lanternTruth.data.map((a, i) => (a > 0 && a < 1 && keyed.matte.data[i] > 0 ? a : 0));
const keyColour = await unmix(lantern, keyed, 1, context);
colourRows.push([
  'lantern by its screen, spill taken off',
  meanDeltaE(lantern, lanternFront, keyWeight).toFixed(2),
  meanDeltaE(keyColour.subject, lanternFront, keyWeight).toFixed(2),
  meanDeltaE((await unmix(lantern, { ...keyed, matte: lanternTruth }, 1, context)).subject, lanternFront, keyWeight).toFixed(2),
  '',
]);
table(['', 'SAD', 'MSE', 'gradient', 'SAD, band', 'MSE, band', 'gradient, band'], rows);
// Neither clear nor opaque all around: the lantern's translucent paper, apart from edges.
const { width: across, height: down } = lanternTruth;
const besidePaper = widened(
  maskOf(lanternTruth.data, (a) => a <= 0.4 || a === 1),
  across,
  down,
  4,
);
const [paper, edges] = [0, 1].map((side) => weightOf(undecidedOf(lanternTruth), (v, p) => v > 0 && besidePaper[p] === side));
const errorsIn = (found: Plane): string[] => [paper, edges].map((part) => matteErrors(found, lanternTruth, part).mse.toFixed(4));
const [keyErrors, markErrors] = [errorsIn(keyed.matte), errorsIn(lanternMatte.matte)];
const sumIn = (part: Float32Array, of: (p: number) => number): number => part.reduce((sum, v, p) => sum + (v ? of(p) : 0), 0);
const tooOpaque = sumIn(paper, (p) => keyed.matte.data[p] - lanternTruth.data[p]) / sumIn(paper, () => 1);
/** How far below the hard cut the closed form is with the true band given. */
const couldBe = (name: string): string => `${((1 - bandOf[`${name}, known`] / bandOf[`${name}, hard`]) * 100).toFixed(0)} %`;
const less = (name: string, than: string): string => `${((1 - bandOf[name] / bandOf[`${name}, ${than}`]) * 100).toFixed(0)} %`;
lines.push(
  `Band MSE below the fixed band and below the hard cut: goat’s job ${less(jobName, 'fixed')} and ${less(jobName, 'hard')}, lantern’s strokes ${less(lanternName, 'fixed')} and ${less(lanternName, 'hard')}, the clip’s frames ${['0012', '0020'].map((f) => `${less(clipName(f), 'fixed')} and ${less(clipName(f), 'hard')}`).join(', ')}. With the true band given the plain closed form would be below the hard cut by ${couldBe(jobName)} and ${couldBe(lanternName)}. The lantern’s screen has ${((100 * bandOf['lantern by its screen, as in the demo job']) / bandOf[lanternName]).toFixed(0)} % of the marks’: ${keyErrors.join(' and ')} in its translucent paper and in the rest of the band, the marks’ ${markErrors.join(' and ')}; it takes the paper for ${tooOpaque.toFixed(2)} more opaque than it is. Exposure found between the moved empty frame and the shots, in stops a channel (true: −0.300): ${alignment.join('; ')}.`,
  '',
);
section('Edge colour', 'Mean ΔE2000 against the true foreground in half-covered pixels, weighted by true opacity.');
table(['', 'shot as it is', 'recovered, own matte', 'recovered, true matte', 'arithmetic, true matte and true plate'], colourRows);
lines.push(
  `Mean chroma towards the screen in the lantern’s edge, beyond the truth’s: ${towards(lantern, lanternFront, keyWeight, keyed.screen!).toFixed(2)} ΔE in the shot, ${towards(keyColour.subject, lanternFront, keyWeight, keyed.screen!).toFixed(2)} ΔE recovered.`,
  '',
);

section(
  'Finding the subject',
  'No marks: the best proposal’s region, and the matte from the marks it proposes, against the truth at one half (intersection over union).',
);
const foundRows: (string | number)[][] = [];
for (const [name, shotPath, truthPath] of [
  ['goat', 'demo/pictures/goat-quay.jpg', 'demo/truth/goat-quay/alpha.png'],
  ['weathervane', 'demo/pictures/weathervane.jpg', 'demo/truth/weathervane/alpha.png'],
  ['lantern', 'demo/pictures/lantern-greencloth.jpg', 'demo/truth/lantern-greencloth/alpha.png'],
  ['clip, frame 0012', 'demo/truth/goat-clip/frames/0012.jpg', 'demo/truth/goat-clip/alpha/0012.png'],
  ['clip, frame 0020', 'demo/truth/goat-clip/frames/0020.jpg', 'demo/truth/goat-clip/alpha/0020.png'],
] as const) {
  const shot = await pictureAt(shotPath);
  const truth = await matteAt(truthPath);
  const ground = await matteGround(shot, context);
  const proposals = await findSubject(ground, context);
  const [best] = proposals;
  const small = resizePlane(truth, best.width, best.height);
  const cut = await matteOn({ ground }, { marks: best.marks, trim: noTrim }, context);
  const iou = (a: ArrayLike<number>, b: ArrayLike<number>): string => {
    let [both, any] = [0, 0];
    for (let i = 0; i < a.length; i++) {
      both += a[i] > 0.5 && b[i] > 0.5 ? 1 : 0;
      any += a[i] > 0.5 || b[i] > 0.5 ? 1 : 0;
    }
    return (both / any).toFixed(3);
  };
  foundRows.push([name, proposals.length, iou(best.label, small.data), iou(cut.matte.data, truth.data)]);
}
table(['', 'proposals', 'region', 'matte'], foundRows);

section(
  'Plate',
  'Fills of one hole against the true plate: PSNR in dB, SSIM and ΔE2000 in the hole, in the ring of 24 px on both sides of its rim, and in that ring after a disc of 24 px, which is what shows. Texture: energy of slopes in the fill over that of the true plate’s surroundings (48 px). The true plate has no cast shadow; the shot has, and keeps it. “Library” is the vision library’s two ways of inpainting, radius 3.',
);
const lensOf = (fNumber: number, focus = 3.1, across = 1800): Optics =>
  opticsOf({ focalLength: 85, sensorWidth: 36, focus, fNumber }, across);
const [, jobMatte] = Object.values(goatMattes);
const plates: Record<string, Picture> = {};
const plateTable: string[][] = [];
for (const [name, cover] of [
  ['true matte', goatTruth],
  ['marks of the demo job', jobMatte.matte],
] as const) {
  const { rows: found, filled } = await plateRows(name, goat, truePlate, cover);
  plates[name] = filled;
  plateTable.push(...found);
}
table(['', 'hole PSNR', 'SSIM', 'ΔE', 'ring PSNR', 'SSIM', 'ΔE', 'blurred ring PSNR', 'SSIM', 'ΔE', 'texture'], plateTable);
const clipPlates: string[] = [];
for (const frame of ['0012', '0020']) {
  const shot = await pictureAt(`demo/truth/goat-clip/frames/${frame}.jpg`);
  const cover = await matteAt(`demo/truth/goat-clip/alpha/${frame}.png`);
  const { behind } = await edgeColour(shot, cover, context);
  const params = { ...defaultPlate, fill: { kind: 'photographed' as const, picture: 'moved' } };
  const product = await plate({ shot, behind, matte: cover, photographed: () => Promise.resolve(moved) }, params, context);
  clipPlates.push(
    `frame ${frame} ${psnr(
      product.plate,
      empty,
      within(product.hole, (h) => h > 0.5),
    ).toFixed(1)} dB`,
  );
}
lines.push(
  `Photographed plate, the clip’s empty frame moved by 3 px, 1°, +0.3 stop, against the empty frame in the hole: ${clipPlates.join('; ')}.`,
  '',
);

lines.push(...(await lensSection()));
lines.push(...(await matchSection()));

section(
  'Halo',
  'Mean ΔE2000 0 to 4 and 4 to 12 px outside the true edge, against the same lens on the true plate with the true foreground over it. “Unfilled” blurs the shot with the subject still in it and lays the same cut over; “share” is filled over unfilled. The edge is the line of half coverage; in brackets the line where the last trace of wool ends (coverage 0.02).',
);
const haloRows: (string | number)[][] = [];
const lastTrace: Plane = { ...goatTruth, data: within(goatTruth, (a) => a > 0.02) };
for (const [name, product] of [
  ['true matte', { matte: goatTruth, solved: 0 }],
  ['marks of the demo job', jobMatte],
] as const) {
  const { subject } = await unmix(goat, product, 1, context);
  for (const fNumber of [2.8, 1.2]) {
    const see = (p: Picture): Promise<Picture> => defocus(p, 20, lensOf(fNumber), context);
    const right = over(goatFront, await see(truePlate));
    const filled = over(subject, await see(plates[name]));
    const unfilled = over(subject, await see(goat));
    const figure = (band: 'near' | 'far'): string[] => {
      const each = [goatTruth, lastTrace].map((edge) => [halo(unfilled, right, edge)[band], halo(filled, right, edge)[band]]);
      return [0, 1]
        .map((k) => `${each[0][k].toFixed(2)} (${each[1][k].toFixed(2)})`)
        .concat(`${((100 * each[0][1]) / each[0][0]).toFixed(0)} % (${((100 * each[1][1]) / each[1][0]).toFixed(0)} %)`);
    };
    haloRows.push([`${name}, f/${fNumber}`, ...figure('near'), ...figure('far')]);
  }
}
table(['', 'unfilled, 0–4 px', 'filled, 0–4 px', 'share', 'unfilled, 4–12 px', 'filled, 4–12 px', 'share'], haloRows);

writeFileSync(
  join(root, 'docs/accuracy.md'),
  `# Accuracy\n\nComputed by \`npm run measure\` from the demo pictures and their truth; full size (1800 × 1200, lantern 1500 × 1000).\n\n${lines.join('\n')}`,
);
console.log('docs/accuracy.md');

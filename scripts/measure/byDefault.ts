import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  bandOutside,
  discBlur,
  edgeColour,
  matteGround,
  matteErrors,
  matteOn,
  meanDeltaE,
  noTrim,
  over,
  defaultContext,
  defaultPlate,
  plate,
  smoothFill,
  unmix,
  withOpacity,
  type Picture,
} from '@ritaglio/core';
import { cutPictures, foregroundOf, plateOf } from './cuts/pictures';
import { overlap } from './cuts/run';
import { residueRows } from './residue';
import { plateRows } from './plates';
import { pictureAt, root } from './truth';
import { table } from './table';

/**
 * What someone gets who changes nothing: marks as they come with the pictures, everything else untouched, the background blurred. Written to
 * docs/default.md.
 */
const context = defaultContext();
const blurs = [24, 48, 96];
const bands = [[0, 4], [4, 12], [12, 32]] as const; // prettier-ignore

const ways = ['as proposed', 'with the true matte', 'with the smooth fill'];
const rows: string[][] = [];
const sums = ways.map(() => blurs.flatMap(() => bands.map(() => 0)));
const fills: string[][] = [];
const differences: string[][] = [];
const total = { iou: 0, sad: 0, mse: 0 };
let lowest = 0;
let count = 0;
for (const { name, half, load } of cutPictures().filter((p) => p.own && plateOf(p.name))) {
  const { shot, truth, marks } = await load();
  console.log(name);
  const front = withOpacity(await pictureAt(foregroundOf(name)!), truth);
  const clean = await pictureAt(plateOf(name)!);
  const zones = bands.map(([from, to]) => bandOutside(truth, from, to));
  const product = await matteOn({ ground: await matteGround(shot, context) }, { marks: marks!, trim: noTrim }, context);
  const ours = await unmix(shot, product, 1, context);
  const right = await edgeColour(shot, truth, context);
  const proposed = await plate({ shot, behind: ours.behind, matte: product.matte }, defaultPlate, context);
  const withTruth = await plate({ shot, behind: right.behind, matte: truth }, defaultPlate, context);
  const made: [Picture, Picture][] = [
    [ours.subject, proposed.plate],
    [right.subject, withTruth.plate],
    [ours.subject, await smoothFill(ours.behind, proposed.hole, context)],
  ];
  const figures = ways.map((): number[] => []);
  for (const blur of blurs) {
    const goal = over(front, await discBlur(clean, blur, context));
    for (const [w, [subject, behind]] of made.entries()) {
      const seen = over(subject, await discBlur(behind, blur, context));
      figures[w].push(...zones.map((zone) => meanDeltaE(seen, goal, zone)));
    }
  }
  for (const [w, f] of figures.entries()) {
    f.forEach((v, i) => (sums[w][i] += v));
    rows.push([`${name} (${half}): ${ways[w]}`, ...f.map((v) => v.toFixed(2))]);
  }
  count++;
  const byPlate = await matteOn(
    { ground: await matteGround(shot, context), plate: clean },
    { cut: 'difference', marks: [], trim: noTrim },
    context,
  );
  const { sad, mse } = matteErrors(byPlate.matte, truth);
  const iou = overlap(byPlate.matte, truth);
  total.iou += iou;
  total.sad += sad;
  total.mse += mse;
  differences.push([name, iou.toFixed(3), sad.toFixed(1), mse.toFixed(4)]);
  const { rows: found } = await plateRows(name, shot, clean, truth);
  fills.push(...found);
  // The last of the columns that tell of the ring after the blur but one is its ΔE.
  const blurred = (what: string): number => Number(found.find((r) => r[0].endsWith(`: ${what}`))![9]);
  if (blurred('patch') <= Math.min(...['library, marching', 'library, flow', 'smooth', 'stretch'].map(blurred))) lowest++;
}
const head = ['', ...blurs.flatMap((b) => bands.map(([from, to]) => `${b} px: ${from}–${to}`))];
const residue = await residueRows();
writeFileSync(
  join(root, 'docs/default.md'),
  [
    '# By default',
    '',
    'Computed by `npm run measure -- default`. Marks as they come with the pictures, everything else untouched, the plate blurred by a disc of 24, 48 and 96 px. Mean ΔE2000 (0 is best) in bands outside the true edge, px, against the true foreground over the true plate through the same lens.',
    '',
    table(head, [...ways.map((way, w) => [`**mean: ${way}**`, ...sums[w].map((v) => (v / count).toFixed(2))]), ...rows]),
    '## What is left of the subject',
    '',
    residue.words,
    '',
    table(['', 'said to be left', 'of', 'its place or kind right'], residue.rows),
    '## Cut by an empty picture',
    '',
    'Against the true ground, without marks: intersection over union at one half (1 is best), SAD and MSE of opacity over the picture.',
    '',
    table(
      ['', 'overlap', 'SAD', 'MSE'],
      [['**mean**', (total.iou / count).toFixed(3), (total.sad / count).toFixed(1), (total.mse / count).toFixed(4)], ...differences],
    ),
    '## Fills',
    '',
    `Every fill with the true matte against the true plate: in the hole, in the ring of 24 px inside and outside its rim, and in that ring after a disc of 24 px; last the energy of slopes as a share of the surroundings’ (1 is best). After the disc the patch fill is the nearest on ${lowest} of ${count} pictures.`,
    '',
    table(['', 'PSNR', 'SSIM', 'ΔE', 'ring PSNR', 'SSIM', 'ΔE', 'blurred PSNR', 'SSIM', 'ΔE', 'texture'], fills),
  ].join('\n'),
);
console.log('docs/default.md');

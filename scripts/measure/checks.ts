// npm run measure -- checks: how the checks of the proof do on made-up faults, and on true composites.
import { writeFileSync } from 'node:fs';
import {
  blurredBy,
  checkHalo,
  checkKinds,
  checkResidueInEdge,
  checkSpecks,
  checkTorn,
  edgeWalk,
  over,
  defaultContext,
  resizePicture,
  resizePlane,
  roundAperture,
  scaledSize,
  withOpacity,
  type Check,
  type Picture,
} from '@ritaglio/core';
import { flickerTrial } from '../../packages/core/src/motion/flickerTrials';
import { allSeeds, trials, tried } from '../../packages/core/src/proof/checks/trials';
import { table } from './table';
import { matteAt, pictureAt } from './truth';

const percent = (v: number): string => `${Math.round(100 * v)} %`;
const rows: string[][] = [];
for (const [id, trial] of trials) {
  const { recall, alarms, placed } = await tried(trial, allSeeds);
  rows.push([checkKinds[id].what, percent(recall), percent(alarms), percent(placed)]);
  console.log(id, recall, alarms, placed);
}

let [flickers, partly, flickersPlaced, flickerAlarms] = [0, 0, 0, 0];
for (const seed of allSeeds) {
  for (const fault of ['whole', 'part'] as const) {
    const { check, placed } = await flickerTrial(seed, fault, defaultContext());
    if (check.verdict !== 'look') continue;
    flickers++;
    if (fault === 'part') partly++;
    if (fault === 'part' && placed) flickersPlaced++;
  }
  if ((await flickerTrial(seed, 'none', defaultContext())).check.verdict === 'look') flickerAlarms++;
}
rows.push([checkKinds['time-flicker'].what, percent(flickers / (2 * allSeeds.length)), percent(flickerAlarms / allSeeds.length), percent(flickersPlaced / Math.max(1, partly))]); // prettier-ignore

/** Longest side at which true composites are looked at, px, and the blur of their ground. */
const side = 1000;
const disc = 48;
const told = (c: Check): string => (c.figure === undefined ? 'not known' : `${c.figure.toFixed(checkKinds[c.id].digits)} (${c.verdict})`);
const clean: string[][] = [];
const cuts = ['bird-cage', 'bottle-ship', 'night-tin', 'reed-plume', 'rigging-boat', 'yarn-doll'];
const places = [...cuts.map((name) => ({ name, folder: `demo/truth/cuts/${name}`, of: `demo/truth/cuts/${name}/shot.jpg` })), { name: 'goat', folder: 'demo/truth/goat-quay', of: 'demo/pictures/goat-quay.jpg' }]; // prettier-ignore
for (const { name, folder, of } of places) {
  const [shot, plate, foreground] = [await pictureAt(of), await pictureAt(`${folder}/plate.jpg`), await pictureAt(`${folder}/foreground.png`)]; // prettier-ignore
  const alpha = await matteAt(`${folder}/alpha.png`);
  const scale = Math.min(1, side / Math.max(alpha.width, alpha.height));
  const size = scaledSize(alpha.width, alpha.height, scale);
  const small = (p: Picture): Picture => resizePicture(p, size.width, size.height);
  const matte = resizePlane(alpha, size.width, size.height);
  const context = defaultContext({ scale });
  const seen = (p: Picture): Promise<Picture> => blurredBy(p, disc * scale, roundAperture, context, []);
  const subject = withOpacity(small(foreground), matte);
  const right = over(subject, await seen(small(plate)));
  const unfilled = over(subject, await seen(small(shot)));
  const edge = await edgeWalk(subject, small(plate), context);
  const untreated = await edgeWalk(withOpacity(small(shot), matte), small(plate), context);
  clean.push([
    name,
    told(checkHalo(right, matte, scale)),
    told(checkHalo(unfilled, matte, scale)),
    told(checkResidueInEdge(edge)),
    told(checkResidueInEdge(untreated)),
    told(checkTorn(matte, scale)),
    told(checkSpecks(matte, scale, 'specks')),
    told(checkSpecks(matte, scale, 'holes')),
  ]);
  console.log(name);
}

writeFileSync(
  new URL('../../docs/checks.md', import.meta.url),
  `# Checks, measured

Written by \`npm run measure -- checks\`.

${allSeeds.length} made-up pictures with each fault and ${allSeeds.length} without (ground of five kinds, things with a soft edge): share of the faulty that was found (aim 90 %), of the
sound that was taken for faulty (aim 10 %), and of those found whose places lie within 24 px of the fault (where it has a place).

${table(['check', 'found', 'false alarms', 'placed'], rows)}
The others: what of the plate is left of the subject is measured in docs/default.md (it misses strands on busy ground and parts like the ground, so finding nothing is
*not known*); blacks, whites, contrast, colour and light are judged by the same rule as warmth; pieces seen twice and ground that is seen are
counted, not guessed; frames that disagree are never called good.

True foregrounds over true plates through a disc of ${disc} px, where nothing is wrong, and the same with the subject left in what is blurred, or with
the shot's own colours in the edge. Thin strands, loose hair and holes of a true matte are told as specks and holes: a look, and a word.

${table(['picture', 'rim, right', 'rim, unfilled', 'edge colour, right', 'edge colour, of the shot', 'torn', 'specks', 'holes'], clean)}`,
);
console.log('Written: docs/checks.md');

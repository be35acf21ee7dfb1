import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Command, InvalidArgumentError } from 'commander';
import { layerSteps, learnedWeights, seeded, type Random } from '@ritaglio/core';
import { pictureAt, root } from '../measure/truth';
import { firstWeights, Network, type Shape } from './network';
import { anyPatch, type Sheet } from './patches';
import { makeSheet } from './sheets';

/**
 * Teaches the network that corrects opacity with made-up subjects before made-up scenes and parts of three demo pictures whose
 * mattes are not measured, and writes its weights. None of the pictures by which accuracy is measured is looked at.
 */
const shape: Shape = { seen: 18, channels: 32, steps: layerSteps, given: 4 };
/** Patches between two changes of the weights. */
const together = 12;
/** How much the plain error counts beside the squared one: it keeps what is surely clear or opaque so. */
const plainly = 0.3;

const whole = (text: string): number => {
  if (!/^\d+$/.test(text)) throw new InvalidArgumentError('A whole number is wanted.');
  return Number(text);
};
const options = new Command('teach')
  .option('--lessons <n>', 'made-up shots to learn from; an eighth of them is only for judging', whole, 80)
  .option('--rounds <n>', 'changes of the weights, each after a few patches', whole, 9000)
  .option('--seed <n>', 'what chance begins with', whole, 1)
  .option('--further', 'go on from the weights there are', false)
  .option('--rate <x>', 'the largest step', Number, 2e-3)
  .parse()
  .opts<{ lessons: number; rounds: number; seed: number; further: boolean; rate: number }>();

const photos = await Promise.all(['canal-night', 'terrace-morning', 'evening-sky'].map((n) => pictureAt(`demo/pictures/${n}.jpg`)));
const sheets: Sheet[] = [];
for (let i = 0; i < options.lessons; i++) {
  sheets.push(await makeSheet(photos, seeded(7919 * (1000 * options.seed + i) + 13)));
  console.log(`lesson ${i + 1} of ${options.lessons}`);
}
const judged = sheets.splice(0, Math.ceil(sheets.length / 8));
const random = seeded(options.seed);
const network = new Network(shape, options.further ? Float64Array.from(learnedWeights()) : firstWeights(shape, random));
const { weights, slope } = network;
const [drift, size] = [new Float64Array(weights.length), new Float64Array(weights.length)];
console.log(`before: ${errorLeft(seeded(2)).toFixed(3)} of the squared error`);
for (let round = 1; round <= options.rounds; round++) {
  slope.fill(0);
  for (let i = 0; i < together; i++) learnFrom(sheets, random);
  change(round);
  if (round % 100 === 0 || round === options.rounds) {
    console.log(`round ${round}: ${errorLeft(seeded(2)).toFixed(3)} of the squared error`);
    keep();
  }
}

function learnFrom(from: readonly Sheet[], by: Random): void {
  const { seen, lacking, asked } = anyPatch(from, by);
  const said = network.run(seen);
  const count = Math.max(
    1,
    asked.reduce((sum, v) => sum + v, 0),
  );
  network.learn(said.map((v, i) => (asked[i] * (2 * (v - lacking[i]) + plainly * Math.sign(v - lacking[i]))) / (count * together)));
}

/** Changes the weights against their slopes (Kingma & Ba 2015), first by little, then by much, at last by little again. */
function change(round: number): void {
  const rate = options.rate * Math.min(1, round / 100) * (0.02 + 0.49 * (1 + Math.cos((Math.PI * round) / options.rounds)));
  const [slow, slower] = [1 - 0.9 ** round, 1 - 0.999 ** round];
  for (let i = 0; i < weights.length; i++) {
    drift[i] += 0.1 * (slope[i] - drift[i]);
    size[i] += 0.001 * (slope[i] ** 2 - size[i]);
    weights[i] -= (rate * (drift[i] / slow)) / (Math.sqrt(size[i] / slower) + 1e-8);
  }
}

/** How much of the squared error of what was solved is left in lessons not learned from. */
function errorLeft(by: Random): number {
  let [left, before] = [0, 0];
  for (let i = 0; i < 60; i++) {
    const { seen, lacking, asked } = anyPatch(judged, by);
    const said = network.run(seen);
    for (let k = 0; k < said.length; k++) {
      left += asked[k] * (said[k] - lacking[k]) ** 2;
      before += asked[k] * lacking[k] ** 2;
    }
  }
  return left / before;
}

function keep(): void {
  const text = Buffer.from(Float32Array.from(weights).buffer)
    .toString('base64')
    .replace(/.{1,1000}/g, "  '$&',\n");
  const about = '/** The weights of the network that corrects opacity, made by scripts/teach: 32-bit numbers, layer by layer. */';
  writeFileSync(
    join(root, 'packages/core/src/matte/opacity/learnedWeights.ts'),
    `${about}\nexport const weightsText = [\n${text}].join('');\n`,
  );
}

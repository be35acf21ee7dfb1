// Digests of every product of the demo jobs, to see whether a change keeps their bytes:
//   npm run fingerprints -- FILE          compares with what the file holds, and fails where something differs
//   npm run fingerprints -- FILE --write  writes it
// With --side 450 only at that size.
import { createHash, type Hash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ProductMemory, defaultContext, momentOf, render, type Want } from '@ritaglio/core';
import { jobFrom } from '../packages/cli/src/jobs';
import { mostThreads, nodePool } from '../packages/cli/src/pool';
import { root } from './measure/truth';

const jobs = ['goat-on-the-quay', 'goat-by-the-canal', 'lantern', 'glide-along-the-quay', 'goat-rolling-by'];
const wants: Want[] = ['matte', 'subject', 'edge', 'residue', 'plate', 'showing', 'background', 'sides', 'composite', 'distances'];
const { values: options, positionals } = parseArgs({
  allowPositionals: true,
  options: { write: { type: 'boolean', default: false }, side: { type: 'string' } },
});
const [file] = positionals;
/** Longest sides, px. */
const sides = options.side ? [Number(options.side)] : [450, 1800];

/** Takes in whatever a product holds, names and numbers, in order. */
function takeIn(hash: Hash, value: unknown): void {
  if (ArrayBuffer.isView(value)) hash.update(new Uint8Array(value.buffer, value.byteOffset, value.byteLength));
  else if (typeof value !== 'object' || value === null) hash.update(`${typeof value} ${String(value)};`);
  else {
    for (const [name, part] of Object.entries(value)) {
      hash.update(`${name}:`);
      takeIn(hash, part);
    }
  }
}

async function fingerprints(): Promise<Record<string, string>> {
  const out: Record<string, string> = {};
  const pool = nodePool(mostThreads() - 1);
  for (const name of jobs) {
    const { recipe, source } = await jobFrom(join(root, `demo/jobs/${name}.json`));
    const moment = momentOf(recipe, recipe.time?.first ?? 0);
    const longest = Math.max(recipe.frame.width, recipe.frame.height);
    for (const side of sides) {
      const context = { ...defaultContext(), scale: Math.min(1, side / longest), seed: recipe.seed, ...(pool && { pool }) };
      const memory = new ProductMemory();
      for (const want of wants) {
        const hash = createHash('sha256');
        takeIn(hash, await render(moment, source, want, context, memory));
        out[`${name} ${side} ${want}`] = hash.digest('hex').slice(0, 16);
      }
      console.log(`${name} at ${side} px`);
    }
  }
  return out;
}

if (!file || (!options.write && !existsSync(file))) {
  console.error('Name a file of fingerprints that is there, or one to write with --write.');
  process.exit(2);
}
const now = await fingerprints();
if (options.write) writeFileSync(file, JSON.stringify(now, null, 1) + '\n');
else {
  const known = JSON.parse(readFileSync(file, 'utf8')) as Record<string, string>;
  const differing = Object.keys(now).filter((key) => known[key] !== now[key]);
  for (const key of differing) console.log(`differs: ${key}`);
  console.log(`${Object.keys(now).length - differing.length} of ${Object.keys(now).length} are the same`);
  process.exitCode = differing.length > 0 ? 1 : 0;
}

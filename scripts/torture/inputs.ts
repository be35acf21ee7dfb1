import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { mutatedKinds, mutations } from './mutations';

/** `npm run mutate [COUNT]`: damaged inputs of every kind; the table goes into docs/reliability.md. */
const count = Math.ceil(Number(process.argv[2] ?? 10_000) / mutatedKinds.length);
const all = [];
for (const [i, kind] of mutatedKinds.entries()) {
  all.push(await mutations(kind, count, 20261130 + i));
  console.log(all.at(-1));
}
const most = Math.round(process.resourceUsage().maxRSS / 1024);
const table = [
  '<!-- mutations -->',
  '',
  `${count * mutatedKinds.length} damaged inputs (\`npm run mutate\`): bits turned, bytes set, stretches cleared, taken out or doubled, ends cut off. Peak of memory: ${most} MB. Where a format has checksums, what is read has to be what was written.`,
  '',
  '| kind | tried | refused with a sentence | read | read and wrong | thrown otherwise | longest, ms |',
  '| --- | --: | --: | --: | --: | --: | --: |',
  ...all.map((m) => `| ${m.kind} | ${m.tried} | ${m.refused} | ${m.read} | ${['PNG', 'job archive'].includes(m.kind) ? m.wrong : 'cannot be known'} | ${m.uncaught.length} | ${m.longest.toFixed(0)} |`), // prettier-ignore
  '',
  '<!-- /mutations -->',
].join('\n');
const file = join(fileURLToPath(new URL('.', import.meta.url)), '../../docs/reliability.md');
const text = readFileSync(file, 'utf8');
writeFileSync(file, text.includes('<!-- mutations -->') ? text.replace(/<!-- mutations -->[^]*<!-- \/mutations -->/, table) : `${text.trimEnd()}\n\n## Damaged inputs\n\n${table}\n`); // prettier-ignore
process.exit(all.some((m) => m.wrong > 0 || m.uncaught.length > 0 || m.longest > 2000) ? 1 : 0);

import { mutatedKinds, mutations } from './mutations';
import { writePart } from './page';

/** `npm run mutate [COUNT]`: damaged inputs of every kind; the table goes into docs/reliability.md. */
const count = Math.ceil(Number(process.argv[2] ?? 10_000) / mutatedKinds.length);
const all = [];
for (const [i, kind] of mutatedKinds.entries()) {
  all.push(await mutations(kind, count, 20261130 + i));
  console.log(all.at(-1));
}
const most = Math.round(process.resourceUsage().maxRSS / 1024);
writePart('mutations', 'Damaged inputs', [
  `${count * mutatedKinds.length} damaged inputs (\`npm run mutate\`): bits turned, bytes set, stretches cleared, taken out or doubled, ends cut off. Peak of memory: ${most} MB. Where a format has checksums, what is read has to be what was written.`,
  '',
  '| kind | tried | refused with a sentence | read | read and wrong | thrown otherwise | longest, ms |',
  '| --- | --: | --: | --: | --: | --: | --: |',
  ...all.map((m) => `| ${m.kind} | ${m.tried} | ${m.refused} | ${m.read} | ${['PNG', 'job archive'].includes(m.kind) ? m.wrong : 'cannot be known'} | ${m.uncaught.length} | ${m.longest.toFixed(0)} |`), // prettier-ignore
]);
process.exit(all.some((m) => m.wrong > 0 || m.uncaught.length > 0 || m.longest > 2000) ? 1 : 0);

import { kills, mayBeLost, type Killed } from './kills';
import { writePart } from './page';

/** `npm run torture [COUNT]`: kills at random moments; the table goes into docs/reliability.md. */
// A command that was on its way to a page that died is told late.
process.on('unhandledRejection', (reason) => console.log(`told late: ${String(reason).slice(0, 80)}`));

const count = Number(process.argv[2] ?? 200);
const all = await kills(count, 20261130, (done, k) => {
  if (done % 10 === 0 || k.unopened > 0 || k.damaged || k.lost > mayBeLost) console.log(`${done} of ${count}`, k);
});
const rows = [...new Set(all.map((k) => `${k.way}, ${k.deed}`))].sort().map((name) => {
  const these = all.filter((k: Killed) => `${k.way}, ${k.deed}` === name);
  const lost = these.map((k) => k.lost);
  return `| ${name} | ${these.length} | ${these.reduce((n, k) => n + k.unopened, 0)} | ${these.filter((k) => k.damaged).length} | ${Math.round(Math.max(...lost))} |`;
});
writePart('torture', 'Kills', [
  `${count} kills at random moments (\`npm run torture\`), of the whole browser or of the page alone, while somebody marks, takes back, keeps a take, brings in a photo or exports:`,
  '',
  '| killed, while | times | jobs that did not open | histories with damage | most work lost, ms |',
  '| --- | --- | --- | --- | --- |',
  ...rows,
]);
process.exit(all.some((k) => k.unopened > 0 || k.damaged || k.lost > mayBeLost) ? 1 : 0);

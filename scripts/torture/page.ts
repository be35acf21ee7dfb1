import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Writes a measured part of docs/reliability.md anew, or puts it at the end under a heading of its own. */
export function writePart(name: string, heading: string, lines: string[]): void {
  const part = [`<!-- ${name} -->`, '', ...lines, '', `<!-- /${name} -->`].join('\n');
  const file = join(fileURLToPath(new URL('.', import.meta.url)), '../../docs/reliability.md');
  const text = readFileSync(file, 'utf8');
  const old = new RegExp(`<!-- ${name} -->[^]*<!-- /${name} -->`);
  writeFileSync(file, old.test(text) ? text.replace(old, () => part) : `${text.trimEnd()}\n\n## ${heading}\n\n${part}\n`);
  console.log(part);
}

import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Plugin } from 'vite';

/** A package that is part of what is served. */
interface Package {
  name: string;
  version: string;
  license: string;
  text: string;
}

/** The package that a module is of, by its folder. */
function folderOf(id: string): string | undefined {
  return /^(.*\/node_modules\/(?:@[^/]+\/)?[^/]+)\//.exec(id.replaceAll('\\', '/').replace(/^\0/, ''))?.[1];
}

function packageAt(folder: string): Package | undefined {
  const file = join(folder, 'package.json');
  if (!existsSync(file)) return undefined;
  const { name, version, license } = JSON.parse(readFileSync(file, 'utf8')) as { name?: string; version?: string; license?: string };
  if (!name) return undefined;
  const texts = readdirSync(folder).filter((f) => /^(licen[cs]e|copying|notice)/i.test(f));
  const text = texts.map((f) => readFileSync(join(folder, f), 'utf8').trim()).join('\n\n');
  return { name, version: version ?? '', license: license ?? 'see below', text };
}

const escaped = (text: string): string => text.replace(/[&<>]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[c]!);

function page(packages: Package[]): string {
  const parts = packages.map(
    (p) => `<section><h2>${escaped(p.name)} ${escaped(p.version)}</h2><p>${escaped(p.license)}</p><pre>${escaped(p.text)}</pre></section>`,
  );
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Notices · Ritaglio</title>
<style>body{font:14px/1.5 sans-serif;margin:2rem auto;max-width:52rem;padding:0 1rem;background:#e4e3df;color:#20211f}h2{font-size:1rem;margin:2rem 0 0}pre{white-space:pre-wrap;font-size:12px}</style></head>
<body><h1>What others made that is part of Ritaglio</h1><p>Packages and typefaces, each under its own licence.</p>${parts.join('\n')}</body></html>\n`;
}

/**
 * Writes `notices.html`: every package of which anything is served, with its licence, the typefaces among them.
 *
 * @param others folders of packages that no module names, such as typefaces that style sheets bring in
 */
export function notices(others: string[]): { main: Plugin; worker: () => Plugin } {
  const folders = new Set(others);
  const collect: Plugin['generateBundle'] = function () {
    for (const id of this.getModuleIds()) {
      const folder = folderOf(id);
      if (folder) folders.add(folder);
    }
  };
  return {
    worker: () => ({ name: 'notices-of-workers', generateBundle: collect }),
    main: {
      name: 'notices',
      generateBundle(...all) {
        (collect as (...args: typeof all) => void).apply(this, all);
        const found = [...folders].flatMap((folder) => packageAt(folder) ?? []);
        const one = new Map(found.map((p) => [`${p.name} ${p.version}`, p]));
        const sorted = [...one.values()].sort((a, b) => a.name.localeCompare(b.name));
        this.emitFile({ type: 'asset', fileName: 'notices.html', source: page(sorted) });
      },
    },
  };
}

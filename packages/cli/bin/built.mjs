// Bundles a part of the terminal program once, and again when a source is newer: a bundle starts in a third of the time.
import { existsSync, mkdirSync, readdirSync, renameSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const packages = fileURLToPath(new URL('../../', import.meta.url));
const sources = ['core', 'formats', 'cli'].map((name) => join(packages, name, 'src'));

function newest(folder) {
  let last = statSync(folder).mtimeMs;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    last = Math.max(last, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return last;
}

/** The address of the bundle of a source file of the program, made if need be. */
export async function built(name) {
  const out = join(packages, 'cli', 'dist', `${name}.mjs`);
  if (!existsSync(out) || statSync(out).mtimeMs < Math.max(...sources.map(newest))) {
    const { build } = await import('esbuild');
    mkdirSync(join(out, '..'), { recursive: true });
    // Written beside it and put in its place at once: others may be starting too.
    const fresh = `${out}.${process.pid}`;
    await build({
      entryPoints: [join(packages, 'cli', 'src', `${name}.ts`)],
      outfile: fresh,
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      logLevel: 'error',
      plugins: [
        {
          name: 'only our own',
          setup: ({ onResolve }) => onResolve({ filter: /^[^.]/ }, ({ path, kind }) => (kind === 'entry-point' || path.startsWith('@ritaglio/') ? undefined : { path, external: true })), // prettier-ignore
        },
      ],
    });
    renameSync(fresh, out);
  }
  return pathToFileURL(out).href;
}

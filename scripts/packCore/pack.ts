import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(fileURLToPath(new URL('.', import.meta.url)), '../..');
const core = join(root, 'packages/core');

/** The stages that are entries of their own. */
export const stages = readdirSync(join(core, 'src/entries')).map((name) => name.replace('.ts', ''));

/**
 * Makes the core a package that stands alone: ES modules, declarations, its README and list of changes, nothing to be installed beside it.
 *
 * @param to a folder for the packed file
 * @returns path of the packed file
 */
export function packCore(to: string): string {
  const out = join(core, 'dist');
  rmSync(out, { recursive: true, force: true });
  mkdirSync(out, { recursive: true });
  const { version, license } = JSON.parse(readFileSync(join(core, 'package.json'), 'utf8')) as { version: string; license: string };
  const run = (command: string, ...args: string[]): string => execFileSync(command, args, { cwd: root, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] }); // prettier-ignore
  run('npx', '--no-install', 'vite', 'build', '--config', 'scripts/packCore/vite.config.ts', '--logLevel', 'error');
  run('npx', '--no-install', 'tsc', '-p', 'scripts/packCore/tsconfig.json');
  const entry = (name: string): object => ({
    types: `./types/${name === 'index' ? 'index' : `entries/${name}`}.d.ts`,
    default: `./${name}.js`,
  });
  const exports = { '.': entry('index'), ...Object.fromEntries(stages.map((s) => [`./${s}`, entry(s)])) };
  const description = 'Matte, plate, lens, match and proof of composites, measured. No DOM, no dependencies.';
  const about = { name: '@ritaglio/core', version, description, license, type: 'module', sideEffects: false, exports };
  writeFileSync(join(out, 'package.json'), JSON.stringify(about, null, 2));
  for (const name of ['README.md', 'CHANGELOG.md']) copyFileSync(join(core, name), join(out, name));
  const [{ filename }] = JSON.parse(run('npm', 'pack', out, '--json', '--pack-destination', to)) as { filename: string }[];
  return join(to, filename);
}

/** @jest-environment node */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The core as others get it: packed, put into an empty folder, used as its README says. */
const root = join(__dirname, '../..');
const folder = mkdtempSync(join(tmpdir(), 'ritaglio-packed-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const run = (command: string, ...args: string[]): string => execFileSync(command, args, { cwd: folder, encoding: 'utf8' });

test('the packed core stands alone: the README’s example runs in an empty folder, in Node and bundled for a browser', () => {
  execFileSync('npx', ['--no-install', 'tsx', 'scripts/packCore/main.ts'], { cwd: root });
  const { version } = JSON.parse(readFileSync(join(root, 'packages/core/package.json'), 'utf8')) as { version: string };
  const packed = join(root, `packages/core/dist/ritaglio-core-${version}.tgz`);
  writeFileSync(join(folder, 'package.json'), JSON.stringify({ name: 'empty', type: 'module' }));
  run('npm', 'install', '--offline', '--no-audit', '--no-fund', packed);
  const installed = join(folder, 'node_modules/@ritaglio/core');
  const about = JSON.parse(readFileSync(join(installed, 'package.json'), 'utf8')) as { exports: Record<string, { types: string; default: string }>; dependencies?: object }; // prettier-ignore
  expect(about.dependencies).toBeUndefined();
  for (const { types, default: code } of Object.values(about.exports)) {
    expect(existsSync(join(installed, types))).toBe(true);
    expect(existsSync(join(installed, code))).toBe(true);
  }
  const [, example] = /```js\n([^]*?)```/.exec(readFileSync(join(installed, 'README.md'), 'utf8'))!;
  expect(example.trim().split('\n').length).toBeLessThanOrEqual(17);
  writeFileSync(join(folder, 'example.js'), example);
  const said = run('node', 'example.js');
  const [, area, bytes] = /^(\d+) px of subject, (\d+) bytes/.exec(said)!.map(Number);
  expect(Math.abs(area - Math.PI * 20 ** 2)).toBeLessThan(60);
  expect(bytes).toBe(4 * 120 * 80);
  // A bundle for a browser needs nothing that only Node has.
  const bundler = join(root, 'node_modules/.bin/esbuild');
  run(bundler, 'example.js', '--bundle', '--platform=browser', '--format=esm', '--outfile=bundle.mjs');
  expect(run('node', 'bundle.mjs')).toBe(said);
});

// npm run release -- patch|minor|major: tells what a release would change; with --write it changes it. Nothing is published.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, run } from './setup.mjs';

const [kind, ...rest] = process.argv.slice(2);
const kinds = ['major', 'minor', 'patch'];
if (!kinds.includes(kind)) {
  console.error('Say what kind of release it is: npm run release -- patch, minor or major.');
  process.exit(2);
}
const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'));
const at = kinds.indexOf(kind);
const next = version
  .split('.')
  .map((n, i) => (i < at ? Number(n) : i === at ? Number(n) + 1 : 0))
  .join('.');
const changes = readFileSync(join(root, 'CHANGELOG.md'), 'utf8');
const news = /## Unreleased\n\n([\s\S]*?)\n\n## /.exec(changes)?.[1];
if (!news) {
  console.error('CHANGELOG.md has nothing under “Unreleased”: write down what has changed, then release.');
  process.exit(1);
}
const packages = ['package.json', ...readdirSync(join(root, 'packages')).map((name) => join('packages', name, 'package.json'))].filter((file) => existsSync(join(root, file))); // prettier-ignore
console.log(`${version} → ${next} in ${packages.join(', ')}\n\n## ${next}\n\n${news}`);
if (!rest.includes('--write')) console.log('\nNothing was changed; with --write it is.');
else {
  for (const file of packages) {
    const text = readFileSync(join(root, file), 'utf8');
    // Its own version, and what it asks of its neighbours.
    writeFileSync(join(root, file), text.replaceAll(`"version": "${version}"`, `"version": "${next}"`).replaceAll(`"^${version}"`, `"^${next}"`)); // prettier-ignore
  }
  writeFileSync(join(root, 'CHANGELOG.md'), changes.replace('## Unreleased\n', `## Unreleased\n\n## ${next}\n`));
  run('npm', ['install', '--package-lock-only', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error']);
}

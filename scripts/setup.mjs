// What npm start and npm test do before anything else: install what is missing, build what has changed.
// Plain Node, because nothing may be installed yet.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const stamps = join(root, 'node_modules', '.ritaglio');

function stampOf(name) {
  const file = join(stamps, name);
  return existsSync(file) ? readFileSync(file, 'utf8') : '';
}

function stamp(name, value) {
  mkdirSync(stamps, { recursive: true });
  writeFileSync(join(stamps, name), value);
}

function filesUnder(path) {
  if (!existsSync(path)) return [];
  if (statSync(path).isFile()) return [path];
  return readdirSync(path)
    .filter((name) => name !== 'node_modules' && name !== 'dist')
    .sort()
    .flatMap((name) => filesUnder(join(path, name)));
}

function hashOf(paths) {
  const hash = createHash('sha256');
  for (const file of paths.flatMap((p) => filesUnder(join(root, p)))) hash.update(file.slice(root.length)).update(readFileSync(file));
  return hash.digest('hex');
}

/** Runs a command with its output shown; ends the process with its code when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.status !== 0) process.exit(result.status ?? 1);
}

/** Installs the packages of the lock file unless they are there already. */
export function installPackages() {
  const wanted = hashOf(['package-lock.json', 'package.json']);
  if (stampOf('packages') === wanted) return;
  console.log('Installing packages …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  stamp('packages', wanted);
}

/** Builds the application unless nothing it is made of has changed. */
export function buildApplication() {
  const wanted = hashOf([
    'package-lock.json',
    'packages/app/index.html',
    'packages/app/public',
    'packages/app/vite.config.ts',
    'packages/app/src',
    'packages/core/src',
    'packages/formats/src',
  ]);
  if (stampOf('application') === wanted && existsSync(join(root, 'packages/app/dist/index.html'))) return;
  console.log('Building the application …');
  run('npx', ['--no-install', 'vite', 'build', 'packages/app', '--logLevel', 'error']);
  stamp('application', wanted);
}

/** Makes sure that Debian's chromium and its driver are there; installs them when root. */
export function installBrowser() {
  if (existsSync('/usr/bin/chromium') && existsSync('/usr/bin/chromedriver')) return;
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) {
    console.error(
      'The browser tests need the packages chromium and chromium-driver: install them with apt-get install chromium chromium-driver.',
    );
    process.exit(1);
  }
  console.log('Installing chromium and chromium-driver …');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  try {
    execFileSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env });
    execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium', 'chromium-driver'], { stdio: 'ignore', env });
  } catch {
    console.error('chromium and chromium-driver could not be installed with apt-get; install them by hand, then run npm test again.');
    process.exit(1);
  }
}

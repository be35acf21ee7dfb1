// npm test: install what is missing, check types and style, run unit tests and browser tests, add the totals up.
import { spawn, spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { buildApplication, installBrowser, installPackages, root } from './setup.mjs';

installPackages();
installBrowser();
buildApplication();

let passed = 0;
let failed = 0;

/** A check that counts as one; what it says is printed when it has ended. */
async function check(name, args, command = 'npx') {
  const child = spawn(command, command === 'npx' ? ['--no-install', ...args] : args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  const said = [];
  child.stdout.on('data', (part) => said.push(part));
  child.stderr.on('data', (part) => said.push(part));
  const status = await new Promise((resolve) => {
    child.on('error', () => resolve(1));
    child.on('close', resolve);
  });
  if (status !== 0) process.stdout.write(Buffer.concat(said));
  console.log(`${name}: ${status === 0 ? 'fine' : 'FAILED'}`);
  if (status === 0) passed++;
  else failed++;
}

/** How long each suite took, the slowest ten of them. */
function tellTimes(project, results) {
  const times = results.map((r) => ({ name: relative(root, r.name), seconds: (r.endTime - r.startTime) / 1000 }));
  const all = times.reduce((sum, t) => sum + t.seconds, 0);
  console.log(`${project}: ${times.length} suites, ${Math.round(all)} s in all; the slowest:`);
  for (const t of times.sort((x, y) => y.seconds - x.seconds).slice(0, 10))
    console.log(`  ${t.seconds.toFixed(1).padStart(6)} s  ${t.name}`);
}

/** A Jest project; its own totals are read from its report. */
function suite(project) {
  const report = join(root, 'node_modules', '.ritaglio', `${project}.json`);
  rmSync(report, { force: true });
  const args = [
    '--no-install',
    'jest',
    '--selectProjects',
    project,
    '--json',
    `--outputFile=${report}`,
    // A browser computes on all cores by itself, but waits as often: two of them fill the gaps.
    `--maxWorkers=${project === 'browser' ? 2 : '100%'}`,
  ];
  const result = spawnSync('npx', args, {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, NODE_OPTIONS: '--experimental-vm-modules --no-warnings' },
  });
  try {
    const totals = JSON.parse(readFileSync(report, 'utf8'));
    passed += totals.numPassedTests;
    failed += totals.numFailedTests;
    tellTimes(project, totals.testResults);
    // A suite that could not even begin has no tests to count.
    const broken = totals.numRuntimeErrorTestSuites;
    failed += broken;
    if (result.status !== 0 && totals.numFailedTests + broken === 0) failed++;
    if (totals.numPassedTests === 0) failed++;
  } catch {
    failed++;
  }
}

const only = process.argv[2];
if (!only) {
  await Promise.all([
    check('types', ['tsc', '--noEmit']),
    check('nothing unused', ['knip', '--no-progress', '--no-config-hints']),
    check('compiled code', ['scripts/compile.mjs', '--check'], 'node'),
    check('style', ['eslint', '.', '--cache', '--cache-location', 'node_modules/.ritaglio/eslint']),
    check('format', ['prettier', '--check', '--log-level', 'warn', '--cache', '--cache-location', 'node_modules/.ritaglio/prettier', '.']),
  ]);
}
for (const project of ['unit', 'browser']) if (!only || only === project) suite(project);

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);

// Runs a TypeScript script of this repository after installing what is missing: node scripts/run.mjs FILE [ARGUMENTS]
import { buildApplication, installBrowser, installPackages, run } from './setup.mjs';

installPackages();
if (process.argv[2].includes('screenshots')) {
  buildApplication();
  installBrowser();
}
run(process.execPath, ['--max-old-space-size=6000', '--import', 'tsx', ...process.argv.slice(2)]);

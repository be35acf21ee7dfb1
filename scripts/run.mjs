// Runs a TypeScript script of this repository after installing what is missing: node scripts/run.mjs FILE [ARGUMENTS]
import { buildApplication, installBrowser, installPackages, run } from './setup.mjs';

installPackages();
if (/screenshots|controls|torture|bench/.test(process.argv[2])) {
  buildApplication();
  installBrowser();
}
run(process.execPath, ['--max-old-space-size=6000', '--import', 'tsx', ...process.argv.slice(2)]);

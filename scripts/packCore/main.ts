import { statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { packCore, stages } from './pack';

/** `npm run pack`: the core as a package, in packages/core/dist and as one file beside it. Nothing is published. */
const file = packCore(join(fileURLToPath(new URL('.', import.meta.url)), '../../packages/core/dist'));
console.log(`${file}: ${(statSync(file).size / 1e3).toFixed(0)} kB, entries: ., ${stages.join(', ')}`);

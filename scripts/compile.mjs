// Compiles packages/core/assembly and keeps it as text in packages/core/src/runtime/code.ts; with --check only sees whether that is up to date.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { root } from './setup.mjs';

const from = join('packages', 'core', 'assembly', 'index.ts');
const to = join(root, 'packages', 'core', 'src', 'runtime', 'code.ts');
const files = {};
const { error, stderr } = await asc.main(
  [
    from,
    '--baseDir',
    root,
    '--outFile',
    'code.wasm',
    '-O3',
    '--noAssert',
    '--runtime',
    'minimal',
    '--initialMemory',
    '2',
    '--enable',
    'simd',
  ],
  { writeFile: (name, data) => void (files[name] = data) },
);
if (error) {
  console.error(stderr.toString());
  process.exit(1);
}
const text = Buffer.from(files['code.wasm'])
  .toString('base64')
  .replace(/.{1,1000}/g, "  '$&',\n");
const code = `/** What \`packages/core/assembly\` compiles to, by \`npm run compile\`. */\nexport const code = [\n${text}].join('');\n`;
if (!process.argv.includes('--check')) writeFileSync(to, code);
else if (readFileSync(to, 'utf8') !== code) {
  console.error('The compiled code is not that of its source: run npm run compile.');
  process.exit(1);
}

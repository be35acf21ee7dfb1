// Compiles packages/core/assembly; keeps it as text in packages/core/src/runtime/code.ts and what it offers in functions.ts beside it. With
// --check only sees whether both are up to date.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { format, resolveConfig } from 'prettier';
import { root } from './setup.mjs';

const from = join('packages', 'core', 'assembly', 'index.ts');
const runtime = join(root, 'packages', 'core', 'src', 'runtime');
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
    '--bindings',
    'raw',
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

/** A function's line in the compiler's own declarations, and its parameters' types there above it. */
const declared = /((?:^ +\* @param .*\n)*) +\*\/\n +export function (\w+)\((.*)\): (\w+);$/gm;
const functions = [...files['code.d.ts'].matchAll(declared)].map(([, params, name, list, result]) => {
  const addresses = new Set([...params.matchAll(/@param (\w+) `usize`/g)].map(([, param]) => param));
  const typed = list.replace(/(\w+): number/g, (whole, param) => (addresses.has(param) ? `${param}: Address` : whole));
  return `  ${name}(${typed}): ${result};`;
});
const offered = await format(
  `/** Where something begins in the memory of compiled code, bytes. */
export type Address = number;

/** What \`packages/core/assembly\` offers, by \`npm run compile\`; what each does is said there. */
export interface Functions {
  memory: WebAssembly.Memory;
${functions.sort().join('\n')}
}
`,
  { ...(await resolveConfig(join(runtime, 'functions.ts'))), parser: 'typescript' },
);

for (const [name, wanted] of [
  ['code.ts', code],
  ['functions.ts', offered],
]) {
  const file = join(runtime, name);
  if (!process.argv.includes('--check')) writeFileSync(file, wanted);
  else if (readFileSync(file, 'utf8') !== wanted) {
    console.error(`${name} is not that of its source: run npm run compile.`);
    process.exit(1);
  }
}

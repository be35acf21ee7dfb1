import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const src = join(fileURLToPath(new URL('.', import.meta.url)), '../../packages/core/src');
const entries = Object.fromEntries(readdirSync(join(src, 'entries')).map((name) => [name.replace('.ts', ''), join(src, 'entries', name)]));

export default defineConfig({
  root: join(src, '..'),
  build: {
    outDir: 'dist',
    emptyOutDir: false,
    target: 'es2022',
    minify: false,
    lib: { entry: { index: join(src, 'index.ts'), ...entries }, formats: ['es'] },
  },
});

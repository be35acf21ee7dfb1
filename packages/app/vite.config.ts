import tailwindcss from '@tailwindcss/vite';
import babel from '@rolldown/plugin-babel';
import react, { reactCompilerPreset } from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { createRequire } from 'node:module';
import { VitePWA } from 'vite-plugin-pwa';
import { notices } from './notices';

/** The typefaces come by style sheets. */
const typefaces = ['@fontsource', '@fontsource-variable'].flatMap((scope) => {
  const folder = join(dirname(createRequire(import.meta.url).resolve('react/package.json')), '..', scope);
  return readdirSync(folder).map((name) => join(folder, name));
});
const told = notices(typefaces);

/** Files that the shelf opens, for systems that open files with an installed application. */
const opened = {
  'image/jpeg': ['.jpg', '.jpeg'],
  'image/png': ['.png'],
  'image/webp': ['.webp'],
  'image/avif': ['.avif'],
  'image/tiff': ['.tif', '.tiff'],
  'image/openraster': ['.ora'],
  'application/zip': ['.zip'],
};

export default defineConfig({
  plugins: [
    react(),
    // What a component shows is made anew only where what it was made of has changed.
    babel({ presets: [reactCompilerPreset()] }),
    tailwindcss(),
    told.main,
    VitePWA({
      // A newer version is offered, never forced into the middle of a job.
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Ritaglio',
        short_name: 'Ritaglio',
        description: 'Cut out, clean plate, lens blur and match, measured.',
        start_url: '/',
        display: 'standalone',
        background_color: '#e4e3df',
        theme_color: '#e4e3df',
        icons: [
          { src: '/mark-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/mark-512.png', sizes: '512x512', type: 'image/png' },
          { src: '/mark-512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
        file_handlers: [{ action: '/', accept: opened }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,png,wasm,woff,woff2}'],
        maximumFileSizeToCacheInBytes: 12_000_000,
        navigateFallback: '/index.html',
        navigateFallbackAllowlist: [/^\/$/, /^\/job\//],
        runtimeCaching: [
          // The demo jobs and their pictures stay as they are.
          { urlPattern: ({ url }) => url.pathname.startsWith('/demo/'), handler: 'CacheFirst', options: { cacheName: 'demo' } },
          { urlPattern: ({ url }) => url.pathname.startsWith('/library/'), handler: 'NetworkFirst', options: { cacheName: 'library' } },
        ],
      },
    }),
  ],
  worker: { format: 'es', plugins: () => [told.worker()] },
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  server: {
    headers: { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' },
    proxy: { '/library': 'http://127.0.0.1:4780', '/demo': 'http://127.0.0.1:4780' },
  },
});

import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const here = dirname(fileURLToPath(import.meta.url));

export default defineConfig({
  root: here,
  plugins: [react()],
  build: {
    outDir: resolve(here, '../dist/web'),
    emptyOutDir: true,
    chunkSizeWarningLimit: 1200,
    // All that is needed before anything can be shown, in one file: a browser takes some milliseconds for each, even where it has kept them.
    rolldownOptions: { output: { codeSplitting: { groups: [{ name: 'first', tags: ['$initial'] }] } } },
  },
  worker: { format: 'es' },
  // For `npx vite web` beside a running `npm start`.
  server: { proxy: { '/api': 'http://127.0.0.1:4680' } },
  css: {
    preprocessorOptions: {
      scss: {
        quietDeps: true,
        silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'],
      },
    },
  },
});

import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

const here = dirname(fileURLToPath(import.meta.url));

/** The fonts that every view is set in: asked for at once, so that nothing is laid out a second time when they have come. */
const FONTS = /source-s(?:ans-3|erif-4)-latin-wght-normal-.*\.woff2$/;

const fontsFirst: Plugin = {
  name: 'fonts-first',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle = {} }) =>
      Object.keys(bundle)
        .filter((file) => FONTS.test(file))
        .map((file) => ({
          tag: 'link',
          attrs: { rel: 'preload', as: 'font', type: 'font/woff2', href: `/${file}`, crossorigin: true },
          injectTo: 'head',
        })),
  },
};

export default defineConfig({
  root: here,
  plugins: [react(), fontsFirst],
  build: {
    outDir: resolve(here, '../dist/web'),
    emptyOutDir: true,
    chunkSizeWarningLimit: 1200,
    // All that is needed before anything can be shown, in four files: a browser takes some milliseconds for each, even where it has kept them, but parses them side by side.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            {
              name: 'react',
              tags: ['$initial'],
              test: /node_modules[\\/](react|react-dom|scheduler)[\\/]/,
              priority: 3,
            },
            { name: 'packages', tags: ['$initial'], test: /node_modules/, priority: 2 },
            { name: 'core', tags: ['$initial'], test: /[\\/](core|api)[\\/]src[\\/]/, priority: 2 },
            { name: 'first', tags: ['$initial'], priority: 1 },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  css: {
    preprocessorOptions: {
      scss: {
        quietDeps: true,
        silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'],
      },
    },
  },
});

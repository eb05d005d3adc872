import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['core/*/src/**/*.test.ts', '{api,demo,standins}/src/**/*.test.ts'],
          testTimeout: 30_000,
          // Nothing here changes anything global: files that share a process read the core once and not a hundred times.
          isolate: false,
        },
      },
      {
        test: {
          // Encoders, databases and whole installations are started.
          name: 'programs',
          include: ['{host,cli}/src/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 30_000,
          isolate: false,
        },
      },
      {
        test: {
          name: 'web',
          include: ['web/src/**/*.test.ts'],
          testTimeout: 30_000,
        },
      },
      {
        test: {
          name: 'database',
          include: ['server/src/**/*.test.ts'],
          globalSetup: ['server/src/testing/global-setup.ts'],
          isolate: false,
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
});

import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: [
            'core/*/src/**/*.test.ts',
            '{api,host,web,cli,demo,standins}/src/**/*.test.ts',
            'scripts/**/*.test.ts',
          ],
          testTimeout: 30_000,
        },
      },
      {
        test: {
          name: 'database',
          include: ['server/src/**/*.test.ts'],
          globalSetup: ['server/src/testing/global-setup.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
});

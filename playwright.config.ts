import { defineConfig } from '@playwright/test';
import { CHROMIUM_FLAGS } from './scripts/chromium.js';

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/global-setup.ts',
  // Long enough for a machine whose disk stands still for a while: what is wrong stays wrong.
  timeout: 150_000,
  expect: { timeout: 40_000 },
  // An installation and a browser for each. More of them than cores: a third of a test is waiting.
  workers: 3,
  fullyParallel: false,
  reporter: [['list'], ['json', { outputFile: process.env.OISEAU_E2E_RESULTS ?? 'test-results/e2e.json' }]],
  outputDir: 'test-results/e2e',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.OISEAU_CHROMIUM ?? '/usr/bin/chromium',
      args: CHROMIUM_FLAGS,
    },
  },
});

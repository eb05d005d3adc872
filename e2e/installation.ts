import { test as base } from '@playwright/test';

/** An installation that one test worker has to itself. */
export interface Installation {
  readonly url: string;
  readonly key: string;
  /** File that lists the simulated recipients. */
  readonly standins: string;
}

/** Tag of the tests that need the machine to themselves, because they fail on a break in the sound. */
export const HEARD = '@heard';

/** The variable through which the global setup tells the workers of the installations, as JSON, one for each worker. */
export const INSTALLATIONS = 'OISEAU_E2E_INSTALLATIONS';

/** File with the session of a worker's installation. */
export const sessionOf = (worker: number): string => `test-results/session-${worker}.json`;

/** The installation of the worker that asks. */
export function installation(): Installation {
  const all = JSON.parse(process.env[INSTALLATIONS] ?? '[]') as Installation[];
  const own = all[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];
  if (!own) throw new Error('No installation runs for this worker.');
  return own;
}

/** A test whose pages are signed in to the installation of its worker. */
export const test = base.extend({
  storageState: async ({}, use, { parallelIndex }) => use(sessionOf(parallelIndex)),
});

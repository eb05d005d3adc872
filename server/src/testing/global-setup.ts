import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { OF_TESTS, startMariaDb } from '../../../scripts/mariadb.js';

declare module 'vitest' {
  export interface ProvidedContext {
    database: { socketPath: string; user: string; password: string };
  }
}

/** One real MariaDB for all database tests, on a folder of its own that is removed afterwards. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'oiseau-test-'));
  const server = await startMariaDb(folder, { rights: OF_TESTS, throwaway: true });
  project.provide('database', { socketPath: server.socket, user: 'oiseau', password: server.secret });
  return async () => {
    await server.stop();
    await rm(folder, { recursive: true, force: true });
  };
}

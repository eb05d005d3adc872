import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
// @ts-expect-error the start scripts are plain JavaScript, since they run before anything is installed
import { OF_TESTS, startMariaDb } from '../../../scripts/mariadb.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    database: { socketPath: string; user: string; password: string };
  }
}

interface Running {
  socket: string;
  secret: string;
  stop(): Promise<void>;
}

/** One real MariaDB for all database tests, on a folder of its own that is removed afterwards. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'oiseau-test-'));
  const server = await (startMariaDb as (folder: string, options: object) => Promise<Running>)(folder, {
    rights: OF_TESTS as object,
    throwaway: true,
  });
  project.provide('database', { socketPath: server.socket, user: 'oiseau', password: server.secret });
  return async () => {
    await server.stop();
    await rm(folder, { recursive: true, force: true });
  };
}

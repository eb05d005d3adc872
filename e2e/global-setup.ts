import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { request, type FullConfig } from '@playwright/test';
// @ts-expect-error the start scripts are plain JavaScript, since they run before anything is installed
import * as run from '../scripts/run.mjs';

interface Application {
  url: string;
  key: string;
  stop(): Promise<void>;
}

/** The whole application on a free port and a data folder of its own, removed afterwards. */
export default async function setup({ projects }: FullConfig): Promise<() => Promise<void>> {
  const data = await mkdtemp(join(tmpdir(), 'oiseau-e2e-'));
  const { runApplication } = run as { runApplication(options: object): Promise<Application> };
  // Stand-ins work a hundred times as fast as they would, and tests make them misbehave.
  process.env.OISEAU_STANDIN_PACE_MS = '10';
  process.env.OISEAU_E2E_STANDINS = join(data, 'standins', 'receivers.json');
  const application = await runApplication({ data, port: 0, workers: 1, throwaway: true });
  process.env.OISEAU_URL = application.url;
  process.env.OISEAU_KEY = application.key;
  // Every page begins signed in, as after the address that carries the key.
  const path = String(projects[0]?.use.storageState);
  await mkdir(dirname(path), { recursive: true });
  const context = await request.newContext();
  await context.post(`${application.url}/api/session`, { data: { key: application.key } });
  await context.storageState({ path });
  await context.dispose();
  return async () => {
    await application.stop();
    await rm(data, { recursive: true, force: true });
  };
}

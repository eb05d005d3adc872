import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
// @ts-expect-error the start scripts are plain JavaScript, since they run before anything is installed
import * as run from '../scripts/run.mjs';

interface Application {
  url: string;
  stop(): Promise<void>;
}

/** The whole application on a free port and a data folder of its own, removed afterwards. */
export default async function setup(): Promise<() => Promise<void>> {
  const data = await mkdtemp(join(tmpdir(), 'oiseau-e2e-'));
  const { runApplication } = run as { runApplication(options: object): Promise<Application> };
  const application = await runApplication({ data, port: 0, workers: 1 });
  process.env.OISEAU_URL = application.url;
  return async () => {
    await application.stop();
    await rm(data, { recursive: true, force: true });
  };
}

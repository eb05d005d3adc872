import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { request, type FullConfig } from '@playwright/test';
import { runApplication } from '../scripts/run.js';
import { INSTALLATIONS, sessionOf, type Installation } from './installation.js';

/** An installation that can be stopped. */
type Running = Installation & { stop(): Promise<void> };

/** The whole application for each test worker, on a free port and a data folder of its own, removed afterwards. */
export default async function setup({ workers }: FullConfig): Promise<() => Promise<void>> {
  // Simulated recipients work a hundred times as fast as they would, and tests make them misbehave.
  process.env.OISEAU_STANDIN_PACE_MS = '10';
  const start = async (worker: number): Promise<Running> => {
    const data = await mkdtemp(join(tmpdir(), 'oiseau-e2e-'));
    const { url, key, stop } = await runApplication({ data, port: 0, workers: 1, throwaway: true });
    // Every page begins signed in, as after the address that carries the key.
    const session = sessionOf(worker);
    await mkdir(dirname(session), { recursive: true });
    const context = await request.newContext();
    await context.post(`${url}/api/session`, { data: { key } });
    await context.storageState({ path: session });
    await context.dispose();
    return {
      ...{ url, key, standins: join(data, 'standins', 'receivers.json') },
      stop: async () => {
        await stop();
        await rm(data, { recursive: true, force: true });
      },
    };
  };
  const running = await Promise.all(Array.from({ length: workers }, (_, i) => start(i)));
  process.env[INSTALLATIONS] = JSON.stringify(
    running.map(({ url, key, standins }) => ({ url, key, standins })),
  );
  return async () => {
    await Promise.all(running.map(({ stop }) => stop()));
  };
}

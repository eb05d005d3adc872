// The demo albums, created through the API at the first start of a data folder.
import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { apiOf } from './api.js';
import { ROOT } from './build.mjs';
import type { Started } from './run.js';

/** Starts to create the demo albums where no album was ever created, unless `OISEAU_DEMO=off`. @returns the program; null: not needed */
export async function startDemo(started: Started): Promise<ChildProcess | null> {
  const { call, CONTRACT } = apiOf(started);
  const { untouched } = await call(CONTRACT.status, {});
  if (!untouched || process.env.OISEAU_DEMO === 'off') return null;
  console.log('Creating the demo albums (only once, under a minute) …');
  return spawn(process.execPath, [join(ROOT, 'dist/demo.mjs'), started.url, started.keyFile], {
    stdio: ['ignore', 'inherit', 'inherit'],
    detached: true,
  });
}

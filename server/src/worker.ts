import { setTimeout as sleep } from 'node:timers/promises';
import { pino } from 'pino';
import { readConfig } from './config.js';
import { Database } from './db/database.js';
import { workOnce } from './worker/work.js';
import { DeadWorkers } from './jobs/dead-workers.js';
import { machineName } from './jobs/machine.js';
import { onShutdown } from './lifecycle.js';
import { MediaStore } from './media/media-store.js';

/** How long an idle worker waits before it looks for work again. */
const IDLE_MS = 300;

const config = readConfig(process.env);
const log = pino({ level: config.logLevel });
const db = Database.connect(config.database);
const media = new MediaStore(config.media, config.reserve);
let leaving = false;

async function loop(): Promise<void> {
  const name = `${machineName()}:${process.pid}`;
  const parts = { db, media, log, name, dead: new DeadWorkers(), leaving: () => leaving };
  while (!leaving) {
    try {
      if (await workOnce(parts)) continue;
    } catch (error) {
      // The database may be away for a moment; the jobs table is asked again shortly.
      log.error({ err: error }, 'worker could not work');
    }
    await sleep(IDLE_MS);
  }
}

const ended = loop();
onShutdown(async () => {
  leaving = true;
  await ended;
  await db.close();
});

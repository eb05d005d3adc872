import { setTimeout as sleep } from 'node:timers/promises';
import { readConfig } from './config.js';
import { Database } from './db/database.js';
import { workOnce } from './worker/work.js';
import { DeadWorkers } from './jobs/dead-workers.js';
import { machineName } from './jobs/machine.js';
import { giveSign, signOff } from './keeping/health.js';
import { openLog } from './log.js';
import { onShutdown } from './lifecycle.js';
import { MediaStore } from './media/media-store.js';

/** How long an idle worker waits before it looks for work again. */
const IDLE_MS = 300;
const SIGN_MS = 5000;

const config = readConfig(process.env);
const log = openLog(config.data, 'worker', config.log);
const db = Database.connect(config.database);
const media = new MediaStore(config.media, config.reserve);
let leaving = false;

async function loop(): Promise<void> {
  const name = `${machineName()}:${process.pid}`;
  const parts = { db, media, log, name, dead: new DeadWorkers(), leaving: () => leaving };
  // Whoever looks at the health of all hears every few seconds that this one is there.
  const signs = setInterval(() => void sign(name), SIGN_MS);
  await sign(name);
  while (!leaving) {
    try {
      if (await workOnce(parts)) continue;
    } catch (error) {
      // The database may be away for a moment; the jobs table is asked again shortly.
      log.error({ err: error }, 'worker could not work');
    }
    await sleep(IDLE_MS);
  }
  clearInterval(signs);
  await signOff(db, name).catch(() => undefined);
}

async function sign(name: string): Promise<void> {
  await giveSign(db, name, null).catch((error: unknown) =>
    log.error({ err: error }, 'no sign could be given'),
  );
}

const ended = loop();
onShutdown(async () => {
  leaving = true;
  await ended;
  await db.close();
});

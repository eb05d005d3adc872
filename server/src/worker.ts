import { askForNews } from './handovers/hand-over.js';
import { setTimeout as sleep } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { Threads } from '@oiseau/host';
import pLimit from 'p-limit';
import { readConfig } from './config.js';
import { isAway } from './db/away.js';
import { Database } from './db/database.js';
import { demandSameVersion } from './db/migrate.js';
import { workOnce, type WorkerParts } from './worker/work.js';
import { DeadWorkers } from './jobs/dead-workers.js';
import { workerName } from './jobs/machine.js';
import { giveSign, signOff } from './maintenance/health.js';
import { openLog } from './log.js';
import { onShutdown } from './lifecycle.js';
import { MediaStore } from './media/media-store.js';
import { demandStore } from './media/store-id.js';

/** How long an idle worker waits before it looks for work again. */
const IDLE_MS = 300;
/** And after so long without any work. */
const QUIET_AFTER_MS = 60_000;
const QUIET_MS = 1000;
/** Deliveries whose recipient may have news are looked for this often. */
const NEWS_MS = 1000;
const SIGN_MS = 5000;
/** A courier mostly waits for others: it carries so many things at once. */
const ERRANDS = 6;

const config = readConfig(process.env);
const log = openLog(config.data, 'worker', config.log);
const db = Database.connect(config.database);
const media = new MediaStore(config.media, config.reserve);
/** Beside the program of a worker lies that of its threads; a courier computes nothing. */
const threads =
  config.role === 'courier'
    ? null
    : new Threads(fileURLToPath(new URL('render-thread.mjs', import.meta.url)));
let leaving = false;
/** Why no job is taken at the moment. */
let trouble: string | null = 'It hasn’t checked its surroundings yet.';

async function loop(): Promise<void> {
  const name = workerName();
  const { role } = config;
  const own = role === undefined ? {} : { role };
  const parts = {
    ...{ db, media, log, name, dead: new DeadWorkers(), leaving: () => leaving, ...own },
    ...(threads && { threads }),
  };
  // The health check expects a sign of life every few seconds.
  const signs = setInterval(() => void sign(name), SIGN_MS);
  await sign(name);
  const news = role === 'worker' ? undefined : setInterval(() => void followDeliveries(), NEWS_MS);
  await Promise.all(Array.from({ length: role === 'courier' ? ERRANDS : 1 }, () => takeJobs(parts)));
  clearInterval(signs);
  clearInterval(news);
  await signOff(db, name).catch(() => undefined);
}

/** One of the errands asks for a job, the others wait until it has one: an idle courier asks once, not six times. */
const asking = pLimit(1);
let lastJobAt = performance.now();

/** Does one job after the other until it is to leave. */
async function takeJobs(parts: WorkerParts): Promise<void> {
  while (!leaving) {
    let next: () => void = () => undefined;
    let worked: Promise<boolean> = Promise.resolve(false);
    await asking(async () => {
      if (leaving || trouble !== null) return void (await sleep(IDLE_MS));
      const claimed = new Promise<void>((resolve) => (next = resolve));
      worked = workOnce(parts, next).catch((error: unknown) => {
        // The database may be away for a moment; the jobs table is asked again shortly.
        log.error({ err: error }, 'worker could not work');
        return false;
      });
      // The next one asks when this one has a job; with none it waits before anybody asks again.
      const found = await Promise.race([claimed.then(() => true), worked]);
      if (found) lastJobAt = performance.now();
      else await sleep(performance.now() - lastJobAt > QUIET_AFTER_MS ? QUIET_MS : IDLE_MS);
    });
    await worked;
  }
}

/** Recipients that may have news are asked, whether anybody looks or not. */
async function followDeliveries(): Promise<void> {
  if (trouble !== null) return;
  await askForNews(db).catch((error: unknown) => log.error({ err: error }, 'recipients could not be asked'));
}

/** Looks whether it can work here at all, and says so. */
async function sign(name: string): Promise<void> {
  try {
    const found = await troubleHere();
    if (found !== null && found !== trouble) log.error(found);
    trouble = found;
    await giveSign(db, name, trouble, config.role);
  } catch (error) {
    log.error({ err: error }, 'no sign could be given');
  }
}

/** Why no job can be done here; null: it can. @throws the database's own errors, which pass */
async function troubleHere(): Promise<string | null> {
  try {
    await demandSameVersion(db);
    await demandStore(db, media);
    return null;
  } catch (error) {
    if (isAway(error) || !(error instanceof Error)) throw error;
    return error.message;
  }
}

const ended = loop();
onShutdown(async () => {
  leaving = true;
  await ended;
  await threads?.close();
  await db.close();
});

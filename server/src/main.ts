import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { firstKeyOf } from './access/access-key.js';
import { keepFirstKey } from './access/key-repository.js';
import { ShelfIndex } from './albums/shelf-index.js';
import { createApp } from './app.js';
import { readConfig } from './config.js';
import { Database } from './db/database.js';
import { migrate } from './db/migrate.js';
import { noteStandIns, troubleOfStandIns } from './handovers/stand-ins.js';
import { requeueInterrupted } from './jobs/job-repository.js';
import { isWorkerAlive, machineName } from './jobs/machine.js';
import { backUpDatabase, keepNewest, stampOf } from './maintenance/backup.js';
import { keepHouse } from './maintenance/housekeeping.js';
import { trustedNow } from './maintenance/trusted-clock.js';
import { clearOldLogs, openLog } from './log.js';
import { onShutdown } from './lifecycle.js';
import { MediaStore } from './media/media-store.js';
import { recogniseStore } from './media/store-id.js';
import { Uploads } from './media/uploads.js';
import { threadPool } from './compute/pools.js';

/** How often what was left behind is swept away. */
const SWEEP_MS = 3600_000;

const config = readConfig(process.env);
const log = openLog(config.data, 'server', config.log);
const db = Database.connect(config.database);
await migrate(db, async ([first = '']) => {
  const number = first.slice(0, 3);
  await keepNewest(join(config.data, 'backups'), 4);
  await backUpDatabase(db, join(config.data, 'backups', `${stampOf(new Date())} before ${number}`));
});
const media = new MediaStore(config.media, config.reserve);
const storeTrouble = await recogniseStore(db, media);
if (storeTrouble !== null) log.error(storeTrouble);
await requeueInterrupted(db, machineName(), isWorkerAlive);
const uploads = new Uploads(media);
if (storeTrouble === null) await uploads.prepare();
const compute = threadPool(fileURLToPath(new URL('compute-thread.mjs', import.meta.url)));
await keepFirstKey(db, await firstKeyOf(config.data));
let standinsTrouble = config.standinsTrouble ?? null;
if (config.standins !== undefined)
  await noteStandIns(db, config.standins).catch((error: unknown) => {
    // A simulation stops no start.
    log.error({ err: error }, 'the list of simulated recipients can’t be read');
    standinsTrouble = 'The list of simulated recipients can’t be read. Restart Oiseau.';
  });
// After an upgrade every album is indexed anew; the Shelf is usable meanwhile.
const shelf = new ShelfIndex(db, compute.pool, log);
void shelf.refreshUnasked();
const sweeping = setInterval(() => void sweep(), SWEEP_MS);
void sweep();

async function sweep(): Promise<void> {
  try {
    const now = await trustedNow(db);
    await clearOldLogs(config.data, now);
    await media.demandReady();
    await keepHouse({ db, media, uploads }, now);
  } catch (error) {
    log.error({ err: error }, 'housekeeping failed');
  }
}

const server = createApp({
  db,
  media,
  uploads,
  pool: compute.pool,
  log,
  shelf,
  ...(config.standins !== undefined && {
    standinsTrouble: async () => standinsTrouble ?? (await troubleOfStandIns(db)),
  }),
  ...(standinsTrouble !== null && { standinsTrouble: async () => Promise.resolve(standinsTrouble) }),
  web: config.web,
  names: config.names,
  trustProxy: config.trustProxy,
  albumQuota: config.albumQuota,
}).listen(config.port, config.host);
// A 4 GB master over a slow line takes longer than Node's five minutes for one request.
server.requestTimeout = 0;
// A client that computes between two requests (the demo, a script) must not find its connection closed meanwhile.
server.keepAliveTimeout = 120_000;
await once(server, 'listening');
process.send?.({ port: (server.address() as AddressInfo).port });

onShutdown(async () => {
  clearInterval(sweeping);
  server.close();
  server.closeAllConnections();
  await compute.close();
  await db.close();
});

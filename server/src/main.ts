import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { createApp } from './app.js';
import { readConfig } from './config.js';
import { Database } from './db/database.js';
import { migrate } from './db/migrate.js';
import { onShutdown } from './lifecycle.js';
import { MediaStore } from './media/media-store.js';

const config = readConfig(process.env);
const log = pino({ level: config.logLevel });
const db = Database.connect(config.database);
await migrate(db);
const media = new MediaStore(config.media);
await media.prepare();

const server = createApp({ db, media, log, web: config.web }).listen(config.port, '127.0.0.1');
// A 4 GB master over a slow line takes longer than Node's five minutes for one request.
server.requestTimeout = 0;
// A client that computes between two requests (the demo, a script) must not find its connection closed meanwhile.
server.keepAliveTimeout = 120_000;
await once(server, 'listening');
process.send?.({ port: (server.address() as AddressInfo).port });

onShutdown(async () => {
  server.close();
  server.closeAllConnections();
  await db.close();
});

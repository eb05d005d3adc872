import { join } from 'node:path';
import { openApi } from '@oiseau/api/openapi';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { albumEditRoutes } from './albums/album-edit-routes.js';
import { albumFileRoutes } from './albums/album-file-routes.js';
import { albumMasterRoutes } from './albums/album-master-routes.js';
import { masterIntakeRoutes } from './albums/master-intake-routes.js';
import { albumRoutes } from './albums/album-routes.js';
import { ShelfIndex } from './albums/shelf-index.js';
import { accessRoutes } from './access/access-routes.js';
import { access } from './access/access.js';
import { changeRoutes } from './changes/change-routes.js';
import type { Database } from './db/database.js';
import { answerRoutes } from './deliveries/answer-routes.js';
import { deliveryFileRoutes } from './deliveries/delivery-file-routes.js';
import { deliveryRoutes } from './deliveries/delivery-routes.js';
import { invitationRoutes } from './deliveries/invitation-routes.js';
import { listenRoutes } from './deliveries/listen-routes.js';
import { listenerFeedbackRoutes } from './deliveries/listener-feedback-routes.js';
import { listenerRoutes } from './deliveries/listener-routes.js';
import { noteRoutes } from './deliveries/note-routes.js';
import { handoverRoutes } from './handovers/handover-routes.js';
import { presetRoutes } from './presets/preset-routes.js';
import { sheetRoutes } from './sheets/sheet-routes.js';
import { notFound } from './http/api-error.js';
import { errorHandler } from './http/error-handler.js';
import { nameRequests } from './http/request-id.js';
import { IMMUTABLE } from './http/send-file.js';
import type { ComputePool } from './http/compute-pool.js';
import { guard, type OwnNames } from './http/guard.js';
import { keepingRoutes } from './maintenance/keeping-routes.js';
import { imageRoutes } from './images/image-routes.js';
import { masterRoutes } from './masters/master-routes.js';
import { soundRoutes } from './sounds/sound-routes.js';
import { Intake } from './masters/intake.js';
import type { MediaStore } from './media/media-store.js';
import { troubleOfStore } from './media/store-id.js';
import { uploadRoutes } from './media/upload-routes.js';
import type { Uploads } from './media/uploads.js';
import { pictureRoutes } from './media/picture-routes.js';

/** Security headers. Everything the browser may load comes from this server; the core’s kernels are WebAssembly. */
const headers = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      imgSrc: ["'self'", 'blob:', 'data:'],
      styleSrc: ["'self'", "'unsafe-inline'"],
      fontSrc: ["'self'", 'data:'],
      frameAncestors: ["'none'"],
      baseUri: ["'none'"],
      formAction: ["'self'"],
      objectSrc: ["'none'"],
    },
  },
  xFrameOptions: { action: 'deny' },
  referrerPolicy: { policy: 'same-origin' },
  // Sent by `guard`, and only where the connection is encrypted.
  strictTransportSecurity: false,
});

export interface AppParts {
  readonly db: Database;
  readonly media: MediaStore;
  readonly uploads: Uploads;
  readonly pool: ComputePool;
  readonly log: Logger;
  /** Why simulated recipients don't run; left out: there are none. */
  readonly standinsTrouble?: () => Promise<string | null>;
  /** Left out: one of its own. */
  readonly shelf?: ShelfIndex;
  /** Folder of the built interface. */
  readonly web: string;
  /** The data folder; left out, the media store lies in it. */
  readonly data?: string;
  /** The most bytes of masters in one album. */
  readonly albumQuota?: number;
  /** What the server is called beyond the loopback names. */
  readonly names?: OwnNames;
  /** Addresses of trusted proxies; false: none. */
  readonly trustProxy?: readonly string[] | false;
}

const NO_OTHER_NAMES: OwnNames = { hosts: new Set(), origins: new Set() };

export function createApp({
  db,
  media,
  uploads,
  pool,
  log,
  web,
  shelf = new ShelfIndex(db, pool, log),
  standinsTrouble = () => Promise.resolve(null),
  names = NO_OTHER_NAMES,
  trustProxy = false,
  albumQuota = Infinity,
  data = join(media.root, '..'),
}: AppParts): Express {
  const app = express();
  app.set('trust proxy', trustProxy);
  app.use(nameRequests);
  app.use(headers);
  app.use(guard(names));
  const intake = new Intake(db, media, uploads);
  app.use('/api', (_request, response, next) => {
    // Every answer belongs to who asked for it: no cache between may keep it.
    response.set('Cache-Control', 'private, no-cache');
    next();
  });
  app.use(
    '/api',
    access(db, pool),
    accessRoutes(db, uploads),
    albumRoutes(db, pool, shelf),
    albumEditRoutes(db, pool),
    albumFileRoutes(db, media, pool),
    albumMasterRoutes(db),
    masterIntakeRoutes(db, intake, albumQuota),
    uploadRoutes(uploads),
    masterRoutes(db, media, intake),
    soundRoutes(db),
    pictureRoutes(db, media),
    deliveryRoutes(db, media, pool, shelf),
    deliveryFileRoutes(db, media),
    noteRoutes(db),
    answerRoutes(db),
    listenRoutes(db, media, pool),
    invitationRoutes(db, media),
    listenerRoutes(db, media, pool),
    listenerFeedbackRoutes(db, media),
    presetRoutes(db),
    imageRoutes(db, media, uploads, intake, pool),
    sheetRoutes(db, pool),
    handoverRoutes(db, media),
    keepingRoutes({ db, media, uploads }, data, standinsTrouble),
    changeRoutes(db, log),
  );
  app.get('/api/openapi.json', (_request, response) => {
    response.json(openApi());
  });
  app.use('/api', () => {
    throw notFound('address');
  });
  app.use(
    express.static(web, {
      index: false,
      setHeaders: (response, path) =>
        void (path.includes('/assets/') && response.set('Cache-Control', IMMUTABLE)),
    }),
  );
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'), { dotfiles: 'allow' });
  });
  app.use(errorHandler(log, () => troubleOfStore(media)));
  return app;
}

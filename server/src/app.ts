import { join } from 'node:path';
import { openApi } from '@oiseau/api/openapi';
import express, { type Express } from 'express';
import type { Logger } from 'pino';
import { albumFileRoutes } from './albums/album-file-routes.js';
import { albumMasterRoutes } from './albums/album-master-routes.js';
import { albumRoutes } from './albums/album-routes.js';
import type { Database } from './db/database.js';
import { deliveryRoutes } from './deliveries/delivery-routes.js';
import { listenRoutes } from './deliveries/listen-routes.js';
import { noteRoutes } from './deliveries/note-routes.js';
import { presetRoutes } from './presets/preset-routes.js';
import { sheetRoutes } from './sheets/sheet-routes.js';
import { notFound } from './http/api-error.js';
import { errorHandler } from './http/error-handler.js';
import { imageRoutes } from './images/image-routes.js';
import { masterRoutes } from './masters/master-routes.js';
import { uploadRoutes } from './masters/upload-routes.js';
import type { MediaStore } from './media/media-store.js';
import { pictureRoutes } from './media/picture-routes.js';

/** Everything the browser may load comes from this server; the core’s kernels are WebAssembly. */
const POLICY =
  "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; font-src 'self' data:; frame-ancestors 'none'";

export interface AppParts {
  readonly db: Database;
  readonly media: MediaStore;
  readonly log: Logger;
  /** Folder of the built interface. */
  readonly web: string;
}

export function createApp({ db, media, log, web }: AppParts): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.set({
      'Content-Security-Policy': POLICY,
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'same-origin',
    });
    next();
  });
  app.use('/api', express.json({ limit: '20mb' }));
  app.use(
    '/api',
    albumRoutes(db),
    albumFileRoutes(db, media),
    albumMasterRoutes(db, media),
    uploadRoutes(media),
    masterRoutes(db, media),
    pictureRoutes(db, media),
    deliveryRoutes(db, media),
    noteRoutes(db),
    listenRoutes(db, media),
    presetRoutes(db),
    imageRoutes(db, media),
    sheetRoutes(db),
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
        void (
          path.includes('/assets/') && response.set('Cache-Control', 'public, max-age=31536000, immutable')
        ),
    }),
  );
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'), { dotfiles: 'allow' });
  });
  app.use(errorHandler(log));
  return app;
}

import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import { recordEvent } from '../access/events.js';
import { visitorOf } from '../access/entrance.js';
import type { Database } from '../db/database.js';
import { serve } from '../access/serve.js';
import { demandWhole, onlyAsks, sendZip } from '../http/downloads.js';
import type { MediaStore } from '../media/media-store.js';
import { exportAlbum } from './album-export.js';
import { importAlbum, neededMasters } from './album-import.js';

/** An album leaving and entering as one open file (docs/album-file.md 2). */
export function albumFileRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  serve(router, CONTRACT.albumFile, async ({ params }, request, response) => {
    const { title, file } = await exportAlbum(db, params.id);
    await recordEvent(db, visitorOf(request), { what: 'downloaded', album: params.id, detail: 'album file' });
    response
      .attachment(`${title}.json`)
      .type('json')
      .send(`${JSON.stringify(file, null, 2)}\n`);
  });

  serve(router, CONTRACT.bundle, async ({ params }, request, response) => {
    const { title, file, beside } = await exportAlbum(db, params.id);
    const files = beside.map(({ name, sha256, bytes }) => ({ name, path: media.file(sha256), bytes }));
    await demandWhole(files);
    if (onlyAsks(request)) return void response.end();
    await recordEvent(db, visitorOf(request), {
      what: 'downloaded',
      album: params.id,
      detail: 'album file with its masters',
    });
    await sendZip(response, `${title}.zip`, files, { 'album.json': `${JSON.stringify(file, null, 2)}\n` });
  });

  serve(router, CONTRACT.importAlbum, async ({ body }, request) => ({
    id: await importAlbum(db, visitorOf(request), body.file, body.masters),
  }));

  serve(router, CONTRACT.neededMasters, ({ body }, request) =>
    neededMasters(db, visitorOf(request), body.file),
  );

  return router;
}

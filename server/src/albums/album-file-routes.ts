import { CONTRACT } from '@oiseau/api';
import { uniqueNames } from '@oiseau/album/model';
import { Router } from 'express';
import { recordEvent } from '../access/events.js';
import { opensAlbum } from '../access/authorization.js';
import { visitorOf } from '../access/authentication.js';
import type { Database } from '../db/database.js';
import { serve, servePrepared } from '../access/serve.js';
import type { ComputePool, PreparedFile } from '../http/compute-pool.js';
import { notFound } from '../http/api-error.js';
import { demandWhole, onlyAsks, sendZip } from '../http/downloads.js';
import type { MediaStore } from '../media/media-store.js';
import { exportAlbum } from './album-export.js';
import { importAlbum, neededMasters } from './album-import.js';

const bundleEvent = (album: string) =>
  ({ what: 'downloaded', album, detail: 'album file with its masters' }) as const;

/** An album leaving and entering as one open file (docs/album-file.md 2). */
export function albumFileRoutes(db: Database, media: MediaStore, pool: ComputePool): Router {
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
    const { title, files, text } = await bundleOf(params.id);
    await demandWhole(files);
    if (onlyAsks(request)) return void response.end();
    await recordEvent(db, visitorOf(request), bundleEvent(params.id));
    await sendZip(response, `${title}.zip`, files, { 'album.json': text });
  });

  serve(router, CONTRACT.bundles, async ({ query: { albums } }, request, response) => {
    const visitor = visitorOf(request);
    for (const id of albums) if (!(await opensAlbum(db, visitor, id))) throw notFound('album');
    const bundles: Awaited<ReturnType<typeof bundleOf>>[] = [];
    for (const id of albums) bundles.push(await bundleOf(id));
    const folders = uniqueNames(bundles.map(({ title }) => title));
    const inFolder = bundles.flatMap(({ files }, i) =>
      files.map((file) => ({ ...file, name: `${folders[i] ?? ''}/${file.name}` })),
    );
    await demandWhole(inFolder);
    if (onlyAsks(request)) return void response.end();
    for (const id of albums) await recordEvent(db, visitor, bundleEvent(id));
    const texts = bundles.map(({ text }, i) => [`${folders[i] ?? ''}/album.json`, text]);
    await sendZip(response, `${bundles.length} albums.zip`, inFolder, Object.fromEntries(texts));
  });

  /** An album file and what lies beside it. */
  async function bundleOf(id: string) {
    const { title, file, beside } = await exportAlbum(db, id);
    return {
      ...{ title, text: `${JSON.stringify(file, null, 2)}\n` },
      files: beside.map(({ name, sha256, bytes }) => ({ name, path: media.file(sha256), bytes })),
    };
  }

  servePrepared(router, CONTRACT.importAlbum, async ({ body }: { body: PreparedFile }, request) => ({
    id: await importAlbum(db, pool, visitorOf(request), body),
  }));

  servePrepared(router, CONTRACT.neededMasters, ({ body }: { body: PreparedFile }, request) =>
    neededMasters(db, visitorOf(request), body),
  );

  return router;
}

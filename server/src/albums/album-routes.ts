import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { newAlbum, parseIsrc } from '@oiseau/core';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { serve } from '../http/serve.js';
import { copyLinks, listMasters } from '../masters/master-repository.js';
import {
  deleteAlbum,
  findAlbum,
  insertAlbum,
  isUntouched,
  listAlbums,
  restoreAlbum,
  saveAlbum,
} from './album-repository.js';
import { bringBackMasters } from './bring-back.js';
import { shelfEntry } from './shelf.js';

export function albumRoutes(db: Database): Router {
  const router = Router();

  serve(router, CONTRACT.status, async () => ({ untouched: await isUntouched(db) }));

  serve(router, CONTRACT.shelf, async () => {
    const [albums, masters] = await Promise.all([listAlbums(db), listMasters(db)]);
    return albums.map((record) => shelfEntry(record, masters));
  });

  serve(router, CONTRACT.createAlbum, async ({ body }) => {
    const id = randomUUID();
    await insertAlbum(db, id, newAlbum(body.title));
    return { id };
  });

  serve(router, CONTRACT.isrcsElsewhere, async ({ params }) => {
    const others = (await listAlbums(db)).filter(({ id }) => id !== params.id);
    return others.flatMap(({ album }) =>
      album.songs.flatMap(({ isrc }) => {
        const code = parseIsrc(isrc);
        return code ? [{ isrc: code, album: album.title }] : [];
      }),
    );
  });

  serve(router, CONTRACT.album, async ({ params }) => {
    const record = await findAlbum(db, params.id);
    if (!record) throw notFound('album');
    return record;
  });

  serve(router, CONTRACT.saveAlbum, async ({ params: { id }, body: { version, album } }) => {
    await bringBackMasters(db, id, album);
    if (!(await saveAlbum(db, id, version, album))) {
      const current = await findAlbum(db, id);
      if (!current) throw notFound('album');
      throw new ApiError(409, 'The album was changed in another window since.', { version: current.version });
    }
    return { version: version + 1 };
  });

  serve(router, CONTRACT.deleteAlbum, async ({ params }) => {
    if (!(await deleteAlbum(db, params.id))) throw notFound('album');
  });

  serve(router, CONTRACT.restoreAlbum, async ({ params }) => {
    if (!(await restoreAlbum(db, params.id))) throw notFound('deleted album');
  });

  serve(router, CONTRACT.duplicateAlbum, async ({ params }) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      const original = await findAlbum(transaction, params.id);
      if (!original) throw notFound('album');
      await insertAlbum(transaction, id, { ...original.album, title: `${original.album.title} (copy)` });
      await copyLinks(transaction, original.id, id);
    });
    return { id };
  });

  return router;
}

import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { newAlbum, parseIsrc } from '@oiseau/core';
import { Router } from 'express';
import { demandPicture, openedAmong, openTo } from '../access/doors.js';
import { recordEvent } from '../access/events.js';
import { visitorOf, type Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { serve } from '../access/serve.js';
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

  /** An album shows no picture that its editor can't see. @throws ApiError 404 */
  const demandCover = async (id: string, visitor: Visitor, artwork: string | null): Promise<void> => {
    if (artwork === null || artwork === (await findAlbum(db, id))?.album.artwork) return;
    await demandPicture(db, visitor, artwork);
  };

  serve(router, CONTRACT.status, async () => ({ untouched: await isUntouched(db) }));

  serve(router, CONTRACT.shelf, async (_given, request) => {
    const [albums, masters] = await Promise.all([listAlbums(db), listMasters(db)]);
    return (await openedAmong(db, visitorOf(request), albums)).map((record) => shelfEntry(record, masters));
  });

  serve(router, CONTRACT.createAlbum, async ({ body }, request) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      await insertAlbum(transaction, id, newAlbum(body.title));
      await openTo(transaction, visitorOf(request), id);
    });
    return { id };
  });

  serve(router, CONTRACT.isrcsElsewhere, async ({ params }, request) => {
    const opened = await openedAmong(db, visitorOf(request), await listAlbums(db));
    const others = opened.filter(({ id }) => id !== params.id);
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

  serve(router, CONTRACT.saveAlbum, async ({ params: { id }, body: { version, album } }, request) => {
    await demandCover(id, visitorOf(request), album.artwork);
    await bringBackMasters(db, id, album);
    if (!(await saveAlbum(db, id, version, album))) {
      const current = await findAlbum(db, id);
      if (!current) throw notFound('album');
      throw new ApiError(409, 'The album was changed in another window since.', { version: current.version });
    }
    return { version: version + 1 };
  });

  serve(router, CONTRACT.deleteAlbum, async ({ params }, request) => {
    if (!(await deleteAlbum(db, params.id))) throw notFound('album');
    await recordEvent(db, visitorOf(request), { what: 'deleted', album: params.id });
  });

  serve(router, CONTRACT.restoreAlbum, async ({ params }, request) => {
    if (!(await restoreAlbum(db, params.id))) throw notFound('deleted album');
    await recordEvent(db, visitorOf(request), { what: 'restored', album: params.id });
  });

  serve(router, CONTRACT.duplicateAlbum, async ({ params }, request) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      const original = await findAlbum(transaction, params.id);
      if (!original) throw notFound('album');
      await insertAlbum(transaction, id, { ...original.album, title: `${original.album.title} (copy)` });
      await copyLinks(transaction, original.id, id);
      await openTo(transaction, visitorOf(request), id);
    });
    return { id };
  });

  return router;
}

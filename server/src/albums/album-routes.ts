import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { mastersPlayed, MOST_TEXT, newAlbum } from '@oiseau/album/model';
import { Router } from 'express';
import { openTo } from '../access/authorization.js';
import { recordEvent } from '../access/events.js';
import { visitorOf } from '../access/authentication.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { ComputePool } from '../http/compute-pool.js';
import { JsonText, serve } from '../access/serve.js';
import { copyLinks } from '../masters/master-repository.js';
import {
  DamagedAlbum,
  deleteAlbum,
  findAlbum,
  findRawAlbum,
  insertAlbum,
  isUntouched,
  lockAlbum,
  overwriteAlbum,
  parseDocument,
  readableDocument,
  restoreAlbum,
} from './album-repository.js';
import { bringBackMasters } from './bring-back.js';
import { albumFor, seesDrafts } from './drafts.js';
import { findRevision } from './revision-repository.js';
import { isrcRegister, isrcsElsewhere, listShelf } from './shelf.js';
import type { ShelfIndex } from './shelf-index.js';

/** The title of a copy, as long as a title may be. */
const copyOf = (title: string): string => `${title.slice(0, MOST_TEXT - ' (copy)'.length)} (copy)`;

/** A longer document is read in a thread. */
const LARGE_DOCUMENT = 256_000;

/** How long a list of codes waits for the index, ms: without an album that was just saved, a code would be assigned twice. */
const CODES_PATIENCE_MS = 10_000;

export function albumRoutes(db: Database, pool: ComputePool, shelf: ShelfIndex): Router {
  const router = Router();

  serve(router, CONTRACT.status, async () => ({ untouched: await isUntouched(db) }));

  serve(router, CONTRACT.shelf, async ({ query }, request) => {
    await shelf.refresh();
    return { ...(await listShelf(db, visitorOf(request), query)), indexing: await shelf.remaining() };
  });

  serve(router, CONTRACT.createAlbum, async ({ body }, request) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      await insertAlbum(transaction, id, newAlbum(body.title));
      await openTo(transaction, visitorOf(request), id);
    });
    return { id };
  });

  serve(router, CONTRACT.isrcRegister, async (_given, request) => {
    await shelf.refresh(CODES_PATIENCE_MS);
    return isrcRegister(db, visitorOf(request));
  });
  serve(router, CONTRACT.isrcsElsewhere, async ({ params }, request) => {
    await shelf.refresh(CODES_PATIENCE_MS);
    return isrcsElsewhere(db, visitorOf(request), params.id);
  });

  serve(router, CONTRACT.album, async ({ params }, request) => {
    const raw = await findRawAlbum(db, params.id);
    if (!raw) throw notFound('album');
    const { id, version, updatedAt } = raw;
    const visitor = visitorOf(request);
    if (raw.text.length < LARGE_DOCUMENT)
      return { id, version, album: albumFor(visitor, parseDocument(raw.text)), updatedAt };
    const read = await pool.albumJson(raw.text, seesDrafts(visitor));
    if ('damaged' in read) throw new DamagedAlbum(read.damaged);
    const head = JSON.stringify({ id, version, updatedAt });
    return new JsonText(`${head.slice(0, -1)},"album":${read.json}}`);
  });

  serve(router, CONTRACT.rawAlbum, async ({ params }, _request, response) => {
    const raw = await findRawAlbum(db, params.id);
    if (!raw) throw notFound('album');
    response.attachment(`album ${params.id}.json`).type('json').send(raw.text);
  });

  serve(router, CONTRACT.bringBackRevision, ({ params: { id, number } }) =>
    db.transaction(async (transaction) => {
      await lockAlbum(transaction, id);
      const raw = await findRawAlbum(transaction, id);
      if (!raw) throw notFound('album');
      if (readableDocument(raw.text))
        throw new ApiError(409, msg('This album isn’t damaged. Restore a revision in Proof instead.'));
      const revision = await findRevision(transaction, id, Number(number));
      if (!revision) throw notFound('revision');
      await bringBackMasters(transaction, id, mastersPlayed(revision), () => revision);
      await overwriteAlbum(transaction, id, revision);
    }),
  );

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
      await insertAlbum(transaction, id, { ...original.album, title: copyOf(original.album.title) });
      await copyLinks(transaction, original.id, id);
      await openTo(transaction, visitorOf(request), id);
    });
    return { id };
  });

  return router;
}

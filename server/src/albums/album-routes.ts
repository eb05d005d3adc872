import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { albumSchema, newAlbum, parseIsrc, type Album } from '@oiseau/core';
import type { Database, Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import {
  copyLinks,
  linkMaster,
  listMasters,
  mastersByKey,
  mastersOfAlbum,
} from '../masters/master-repository.js';
import {
  deleteAlbum,
  findAlbum,
  insertAlbum,
  isUntouched,
  listAlbums,
  restoreAlbum,
  saveAlbum,
} from './album-repository.js';
import { playedMasters, shelfEntry } from './shelf.js';
import { revisionWith } from '../deliveries/delivery-repository.js';

const creation = z.strictObject({ title: z.string().max(4000).default('') });
const saving = z.strictObject({ version: z.int().min(1), album: albumSchema });

export function albumRoutes(db: Database): Router {
  const router = Router();

  router.get('/status', async (_request, response) => {
    response.json({ untouched: await isUntouched(db) });
  });

  router.get('/albums', async (_request, response) => {
    const [albums, masters] = await Promise.all([listAlbums(db), listMasters(db)]);
    response.json(albums.map((record) => shelfEntry(record, masters)));
  });

  router.post('/albums', async (request, response) => {
    const { title } = creation.parse(request.body ?? {});
    const id = randomUUID();
    await insertAlbum(db, id, newAlbum(title));
    response.status(201).json({ id });
  });

  /** The ISRCs that stand in other albums: a code is for one recording. */
  router.get('/albums/:id/isrcs-elsewhere', async (request, response) => {
    const others = (await listAlbums(db)).filter(({ id }) => id !== request.params.id);
    response.json(
      others.flatMap(({ album }) =>
        album.songs.flatMap(({ isrc }) => {
          const code = parseIsrc(isrc);
          return code ? [{ isrc: code, album: album.title }] : [];
        }),
      ),
    );
  });

  router.get('/albums/:id', async (request, response) => {
    const record = await findAlbum(db, request.params.id);
    if (!record) throw notFound('album');
    response.json(record);
  });

  router.put('/albums/:id', async (request, response) => {
    const { version, album } = saving.parse(request.body);
    const { id } = request.params;
    await bringBackMasters(db, id, album);
    if (!(await saveAlbum(db, id, version, album))) {
      const current = await findAlbum(db, id);
      if (!current) throw notFound('album');
      throw new ApiError(409, 'The album was changed in another window since.', { version: current.version });
    }
    response.json({ version: version + 1 });
  });

  router.delete('/albums/:id', async (request, response) => {
    if (!(await deleteAlbum(db, request.params.id))) throw notFound('album');
    response.status(204).end();
  });

  router.post('/albums/:id/restore', async (request, response) => {
    if (!(await restoreAlbum(db, request.params.id))) throw notFound('deleted album');
    response.status(204).end();
  });

  router.post('/albums/:id/duplicate', async (request, response) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      const original = await findAlbum(transaction, request.params.id);
      if (!original) throw notFound('album');
      await insertAlbum(transaction, id, { ...original.album, title: `${original.album.title} (copy)` });
      await copyLinks(transaction, original.id, id);
    });
    response.status(201).json({ id });
  });

  return router;
}

/**
 * A song plays masters of its album only. One that has left it, but that a revision still plays, comes back with that revision.
 * @throws ApiError when the album can't have a master that it plays
 */
async function bringBackMasters(db: Db, id: string, album: Album): Promise<void> {
  const here = new Set((await mastersOfAlbum(db, id)).map(({ sha256 }) => sha256));
  const gone = playedMasters(album).filter((sha256) => !here.has(sha256));
  if (gone.length === 0) return;
  const known = await mastersByKey(db, id, gone);
  const revisions = await Promise.all(gone.map((sha256) => revisionWith(db, id, sha256)));
  if (known.length < gone.length || revisions.includes(undefined))
    throw new ApiError(422, 'A track plays a master that this album does not have.');
  for (const sha256 of gone) {
    const { title } = album.songs.find(({ region }) => region.master === sha256) ?? {};
    await linkMaster(db, id, sha256, `${title || sha256}.wav`);
  }
}

import { randomUUID } from 'node:crypto';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import { z } from 'zod';
import { checkAlbum, layOutAlbum, safeFileName, wordFinding } from '@oiseau/core';
import { findAlbum } from '../albums/album-repository.js';
import { startZip } from '../albums/album-file-routes.js';
import { factsOf, playedMasters } from '../albums/shelf.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueue, putFirst, requestStop } from '../jobs/job-repository.js';
import { mastersByKey } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import {
  askAgain,
  deliveriesOfAlbum,
  findRevision,
  insertDelivery,
  markCleared,
  numberRevision,
  revisionsOfAlbum,
} from './delivery-repository.js';
import { demandDelivery, demandFile, demandRendered } from './rendered.js';

const ordering = z.strictObject({
  /** Names of deliverables; left out: all of the album's. */
  deliverables: z.array(z.string()).min(1).optional(),
  /** Who asks; may be empty. */
  by: z.string().trim().max(200).default(''),
  /** An older revision to render from; left out: the album as it stands. */
  revision: z.int().min(1).optional(),
});

export function deliveryRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  router.get('/albums/:id/deliveries', async (request, response) => {
    response.json(await deliveriesOfAlbum(db, request.params.id));
  });

  /** Makes a revision of the album as it stands and queues a render of each deliverable from it. */
  router.post('/albums/:id/deliveries', async (request, response) => {
    const { deliverables: names, by, revision: older } = ordering.parse(request.body ?? {});
    const { id } = request.params;
    await db.transaction(async (transaction) => {
      // Two orders for one album would number the same revision twice: the album's row makes them wait for each other.
      await transaction.maybeOne((row) => row.id, 'SELECT id FROM albums WHERE id = ? FOR UPDATE', [id]);
      const record = await findAlbum(transaction, id);
      if (!record) throw notFound('album');
      const album = older === undefined ? record.album : await findRevision(transaction, id, older);
      if (!album) throw notFound('revision');
      const masters = factsOf(await mastersByKey(transaction, id, playedMasters(album)));
      const errors = checkAlbum({ album, masters, parts: layOutAlbum(album, masters) }).filter(
        ({ severity }) => severity === 'error',
      );
      if (errors[0])
        throw new ApiError(422, `The album has errors: ${wordFinding(errors[0])}`, { findings: errors });
      const chosen = names
        ? album.deliverables.filter(({ name }) => names.includes(name))
        : album.deliverables;
      if (chosen.length === 0 || (names && chosen.length < new Set(names).size))
        throw notFound('deliverable');
      const revision = older ?? (await numberRevision(transaction, id, album));
      for (const deliverable of chosen) {
        const delivery = { id: randomUUID(), albumId: id, revision, deliverable, askedBy: by };
        await insertDelivery(transaction, {
          ...delivery,
          jobId: await enqueue(transaction, 'render', delivery.id),
        });
      }
    });
    response.status(202).json(await deliveriesOfAlbum(db, id));
  });

  router.post('/deliveries/:id/stop', async (request, response) => {
    const delivery = await demandDelivery(db, request.params.id);
    if (!(await requestStop(db, delivery.jobId))) throw new ApiError(409, 'This render has ended already.');
    response.status(202).end();
  });

  router.post('/deliveries/:id/retry', async (request, response) => {
    const delivery = await demandDelivery(db, request.params.id);
    if (delivery.state === 'queued' || delivery.state === 'running')
      throw new ApiError(409, 'This render is under way.');
    await db.transaction(async (transaction) =>
      askAgain(transaction, delivery.id, await enqueue(transaction, 'render', delivery.id)),
    );
    response.status(202).end();
  });

  router.post('/deliveries/:id/first', async (request, response) => {
    const { jobId } = await demandDelivery(db, request.params.id);
    if (!(await putFirst(db, jobId))) throw new ApiError(409, 'This render does not wait any more.');
    response.status(202).end();
  });

  /** Deletes the files of a delivery; album, settings and proof stay on record. */
  router.post('/deliveries/:id/clear', async (request, response) => {
    const delivery = await demandDelivery(db, request.params.id);
    if (delivery.state === 'queued' || delivery.state === 'running')
      throw new ApiError(409, 'This render is under way; stop it first.');
    await rm(media.delivery(delivery.id), { recursive: true, force: true });
    await markCleared(db, delivery.id);
    response.status(204).end();
  });

  router.get('/albums/:id/revisions', async (request, response) => {
    response.json(await revisionsOfAlbum(db, request.params.id));
  });

  router.get('/albums/:id/revisions/:number', async (request, response) => {
    const album = await findRevision(db, request.params.id, Number(request.params.number));
    if (!album) throw notFound('revision');
    response.json(album);
  });

  router.get('/deliveries/:id/files', async (request, response) => {
    const { folder, files } = await demandRendered(db, media, request.params.id);
    response.json(
      await Promise.all(files.map(async (path) => ({ path, bytes: (await stat(join(folder, path))).size }))),
    );
  });

  router.get('/deliveries/:id/files/:path', async (request, response) => {
    const rendered = await demandRendered(db, media, request.params.id);
    const path = demandFile(rendered, request.params.path);
    response.attachment(path);
    response.sendFile(path, { root: rendered.folder, dotfiles: 'allow' });
  });

  router.get('/deliveries/:id/zip', async (request, response) => {
    const { delivery, folder, files } = await demandRendered(db, media, request.params.id);
    const album = await findRevision(db, delivery.albumId, delivery.revision);
    const name = safeFileName(`${album?.title ?? ''} r${delivery.revision} ${delivery.deliverable.name}`);
    const archive = startZip(response, `${name}.zip`);
    for (const path of files)
      archive.file(join(folder, path), { name: `${delivery.deliverable.name}/${path}` });
    await archive.finalize();
  });

  return router;
}

import { randomUUID } from 'node:crypto';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import { z } from 'zod';
import { checkAlbum, layOutAlbum, safeFileName, wordFinding } from '@oiseau/core';
import { findAlbum } from '../albums/album-repository.js';
import { startZip } from '../albums/album-file-routes.js';
import { factsOf } from '../albums/shelf.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueue, requestStop } from '../jobs/job-repository.js';
import { mastersOfAlbum } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import {
  deliveriesOfAlbum,
  findDelivery,
  findRevision,
  insertDelivery,
  numberRevision,
  setJob,
  type Delivery,
} from './delivery-repository.js';

const ordering = z.strictObject({
  /** Names of deliverables; left out: all of the album's. */
  deliverables: z.array(z.string()).min(1).optional(),
});

export function deliveryRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  router.get('/albums/:id/deliveries', async (request, response) => {
    response.json(await deliveriesOfAlbum(db, request.params.id));
  });

  /** Makes a revision of the album as it stands and queues a render of each deliverable from it. */
  router.post('/albums/:id/deliveries', async (request, response) => {
    const { deliverables: names } = ordering.parse(request.body ?? {});
    const { id } = request.params;
    await db.transaction(async (transaction) => {
      // Two orders for one album would number the same revision twice: the album's row makes them wait for each other.
      await transaction.maybeOne((row) => row.id, 'SELECT id FROM albums WHERE id = ? FOR UPDATE', [id]);
      const record = await findAlbum(transaction, id);
      if (!record) throw notFound('album');
      const { album } = record;
      const masters = factsOf(await mastersOfAlbum(transaction, id));
      const errors = checkAlbum({ album, masters, ...layOutAlbum(album, masters) }).filter(
        ({ severity }) => severity === 'error',
      );
      if (errors[0])
        throw new ApiError(422, `The album has errors: ${wordFinding(errors[0])}`, { findings: errors });
      const chosen = names
        ? album.deliverables.filter(({ name }) => names.includes(name))
        : album.deliverables;
      if (chosen.length === 0 || (names && chosen.length < new Set(names).size))
        throw notFound('deliverable');
      const revision = await numberRevision(transaction, id, album);
      for (const deliverable of chosen) {
        const delivery = { id: randomUUID(), albumId: id, revision, deliverable };
        await insertDelivery(transaction, {
          ...delivery,
          jobId: await enqueue(transaction, 'render', delivery.id),
        });
      }
    });
    response.status(202).json(await deliveriesOfAlbum(db, id));
  });

  router.post('/deliveries/:id/stop', async (request, response) => {
    const delivery = await found(request.params.id);
    if (!(await requestStop(db, delivery.jobId))) throw new ApiError(409, 'This render has ended already.');
    response.status(202).end();
  });

  router.post('/deliveries/:id/retry', async (request, response) => {
    const delivery = await found(request.params.id);
    if (delivery.state !== 'failed' && delivery.state !== 'stopped')
      throw new ApiError(409, 'This render has not failed.');
    await db.transaction(async (transaction) =>
      setJob(transaction, delivery.id, await enqueue(transaction, 'render', delivery.id)),
    );
    response.status(202).end();
  });

  router.get('/deliveries/:id/files', async (request, response) => {
    const { folder, files } = await rendered(request.params.id);
    response.json(
      await Promise.all(files.map(async (path) => ({ path, bytes: (await stat(join(folder, path))).size }))),
    );
  });

  router.get('/deliveries/:id/files/:path', async (request, response) => {
    const { folder, files } = await rendered(request.params.id);
    // Only names that the proof lists are served: a path from outside can lead nowhere else.
    const path = files.find((file) => file === request.params.path);
    if (!path) throw notFound('file');
    response.attachment(path);
    response.sendFile(path, { root: folder, dotfiles: 'allow' });
  });

  router.get('/deliveries/:id/zip', async (request, response) => {
    const { delivery, folder, files } = await rendered(request.params.id);
    const album = await findRevision(db, delivery.albumId, delivery.revision);
    const name = safeFileName(`${album?.title ?? ''} r${delivery.revision} ${delivery.deliverable.name}`);
    const archive = startZip(response, `${name}.zip`);
    for (const path of files)
      archive.file(join(folder, path), { name: `${delivery.deliverable.name}/${path}` });
    await archive.finalize();
  });

  async function found(id: string): Promise<Delivery> {
    const delivery = await findDelivery(db, id);
    if (!delivery) throw notFound('delivery');
    return delivery;
  }

  async function rendered(id: string): Promise<{ delivery: Delivery; folder: string; files: string[] }> {
    const delivery = await found(id);
    if (!delivery.proof) throw new ApiError(409, 'This delivery is not rendered.');
    const folder = join(media.delivery(delivery.id), delivery.deliverable.name);
    return { delivery, folder, files: [...delivery.proof.files.map(({ path }) => path), 'proof.json'] };
  }

  return router;
}

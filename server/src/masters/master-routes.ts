import { Router, type Request } from 'express';
import { z } from 'zod';
import { Silhouette } from '@oiseau/core';
import { findAlbum } from '../albums/album-repository.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { revisionWith } from '../deliveries/delivery-repository.js';
import { enqueueOnce, newestJob, requestStop } from '../jobs/job-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { Intake, type IntakeOrder } from './intake.js';
import {
  findMaster,
  findPowers,
  findSilhouette,
  linkMaster,
  mastersOfAlbum,
  unlinkMaster,
  type AlbumMaster,
} from './master-repository.js';

const IMMUTABLE = 'public, max-age=31536000, immutable';

const name = z.string().min(1).max(500);
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const agreed = z.enum(['true', 'false']).default('false');
/** Beside a raw body. */
const query = z.object({ name, mono: agreed.transform((text) => text === 'true') });
/** Of what was uploaded by pieces. */
const ofUpload = z.strictObject({
  upload: z.string().regex(/^[0-9a-f]{32}$/),
  name,
  mono: z.boolean().default(false),
  /** The master of which this is a newer version. */
  replaces: sha256.nullable().default(null),
});
const outline = z.object({ step: z.coerce.number().int().min(1).max(512).default(1) });

export function masterRoutes(db: Database, media: MediaStore): Router {
  const router = Router();
  const intake = new Intake(db, media);

  /** A master's record with how far its measuring is, while it is not measured. */
  const withJob = async (master: AlbumMaster): Promise<object> => {
    if (master.measurement) return master;
    const job = await newestJob(db, 'measure', master.sha256);
    return {
      ...master,
      job: job && { state: job.state, share: job.progress?.share ?? 0, message: job.message },
    };
  };

  router.get('/albums/:id/masters', async (request, response) => {
    response.json(await Promise.all((await mastersOfAlbum(db, request.params.id)).map(withJob)));
  });

  /** One file: as the raw body with its name beside it, or one that was uploaded by pieces. */
  router.post('/albums/:id/masters', async (request, response) => {
    const album = await findAlbum(db, request.params.id);
    if (!album) throw notFound('album');
    const { order, take, replaces } = orderOf(request);
    const content = await take();
    if (content === replaces)
      throw new ApiError(409, `“${order.name}” is the very same file: every byte is as before.`, {
        same: true,
      });
    await linkMaster(db, album.id, content, order.name, replaces);
    response.status(201).json({ sha256: content });
  });

  /** The same for a master that has no album yet: it comes ahead of an album file. */
  router.post('/masters', async (request, response) => {
    response.status(201).json({ sha256: await orderOf(request).take() });
  });

  function orderOf(request: Request): {
    order: IntakeOrder;
    take: () => Promise<string>;
    replaces: string | null;
  } {
    if (!request.is('json')) {
      const order = query.parse(request.query);
      return { order, take: () => intake.receive(order, request), replaces: null };
    }
    const { upload, replaces, ...order } = ofUpload.parse(request.body);
    return { order, take: () => intake.takeUpload(order, upload), replaces };
  }

  /** Takes a master out of the album; one that a track plays stays. */
  router.delete('/albums/:id/masters/:sha256', async (request, response) => {
    await db.transaction(async (transaction) => {
      const record = await findAlbum(transaction, request.params.id);
      if (!record) throw notFound('album');
      const player = record.album.songs.find(({ region }) => region.master === request.params.sha256);
      if (player) throw new ApiError(409, `“${player.title || 'A track'}” plays this master.`);
      const revision = await revisionWith(transaction, record.id, request.params.sha256);
      if (revision !== undefined)
        throw new ApiError(
          409,
          `Revision ${revision} plays this master; it stays, so that the revision can be rendered again.`,
        );
      if (!(await unlinkMaster(transaction, record.id, request.params.sha256))) throw notFound('master');
    });
    response.status(204).end();
  });

  router.post('/masters/:sha256/measuring', async (request, response) => {
    const master = await findMaster(db, request.params.sha256);
    if (!master) throw notFound('master');
    if (!master.measurement) await enqueueOnce(db, 'measure', master.sha256);
    response.status(202).end();
  });

  router.post('/masters/:sha256/measuring/stop', async (request, response) => {
    const job = await newestJob(db, 'measure', request.params.sha256);
    if (!job || !(await requestStop(db, job.id))) throw new ApiError(409, 'Nothing is being measured.');
    response.status(202).end();
  });

  /** The words themselves, in ranges: what the player reads. */
  router.get('/masters/:sha256/audio', async (request, response) => {
    const master = await findMaster(db, request.params.sha256);
    if (!master) throw notFound('master');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
    response.sendFile(media.audio(master));
  });

  /** The outline in pairs of peak and RMS, 16 bit little-endian, `step` times 1/75 s each. */
  router.get('/masters/:sha256/silhouette', async (request, response) => {
    const { step } = outline.parse(request.query);
    const stored = await findSilhouette(db, request.params.sha256);
    if (!stored) throw notFound('silhouette yet');
    const { values } = Silhouette.fromBytes(stored).coarser(step);
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
    response.send(Buffer.from(values.buffer, values.byteOffset, values.byteLength));
  });

  /** Mean power of each 100 ms, 32-bit floats, little-endian. */
  router.get('/masters/:sha256/powers', async (request, response) => {
    const powers = await findPowers(db, request.params.sha256);
    if (!powers) throw notFound('measurement yet');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(powers);
  });

  return router;
}

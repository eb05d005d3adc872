import { Router, type Request } from 'express';
import { z } from 'zod';
import { AudioRefused, demandMasterName, examineMaster, type PcmInfo } from '@oiseau/core';
import { FileByteSource } from '@oiseau/host';
import { findAlbum } from '../albums/album-repository.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueueOnce, newestJob } from '../jobs/job-repository.js';
import type { Arrival, MediaStore } from '../media/media-store.js';
import {
  findMaster,
  findSilhouette,
  insertMaster,
  linkMaster,
  mastersOfAlbum,
  type AlbumMaster,
} from './master-repository.js';

const IMMUTABLE = 'public, max-age=31536000, immutable';

export function masterRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

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

  /** One file, as the raw body; its name comes beside it. */
  router.post('/albums/:id/masters', async (request, response) => {
    const album = await findAlbum(db, request.params.id);
    if (!album) throw notFound('album');
    const { name, sha256 } = await takeIn(request);
    await linkMaster(db, album.id, sha256, name);
    response.status(201).json({ sha256 });
  });

  /** The same for a master that has no album yet: it comes ahead of an album file. */
  router.post('/masters', async (request, response) => {
    response.status(201).json({ sha256: (await takeIn(request)).sha256 });
  });

  /** Streams a file in, judges it, stores it by its content and has it measured; keeps nothing of one that is refused. */
  async function takeIn(request: Request): Promise<{ name: string; sha256: string }> {
    const { name } = z.object({ name: z.string().min(1).max(500) }).parse(request.query);
    try {
      demandMasterName(name);
      const arrival = await media.receive(request);
      await keep(arrival);
      return { name, sha256: arrival.sha256 };
    } catch (error) {
      if (!(error instanceof AudioRefused)) throw error;
      throw new ApiError(415, error.message, { reason: error.reason }, { cause: error });
    }
  }

  async function keep(arrival: Arrival): Promise<void> {
    try {
      const info = await examine(arrival.path);
      await media.keep(arrival);
      await insertMaster(db, arrival.sha256, arrival.bytes, info);
    } catch (error) {
      await media.discard(arrival);
      throw error;
    }
    const master = await findMaster(db, arrival.sha256);
    if (!master?.measurement) await enqueueOnce(db, 'measure', arrival.sha256);
  }

  /** The file itself, in ranges: what the player reads. */
  router.get('/masters/:sha256/audio', async (request, response) => {
    const master = await findMaster(db, request.params.sha256);
    if (!master) throw notFound('master');
    response.set('Cache-Control', IMMUTABLE).type('audio/wav');
    response.sendFile(media.file(master.sha256));
  });

  router.get('/masters/:sha256/silhouette', async (request, response) => {
    const silhouette = await findSilhouette(db, request.params.sha256);
    if (!silhouette) throw notFound('silhouette yet');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(silhouette);
  });

  return router;
}

async function examine(path: string): Promise<PcmInfo> {
  const bytes = await FileByteSource.open(path);
  try {
    return await examineMaster(bytes);
  } finally {
    await bytes.close();
  }
}

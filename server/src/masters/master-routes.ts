import { CONTRACT } from '@oiseau/api';
import { Silhouette } from '@oiseau/core';
import { Router } from 'express';
import { findAlbum } from '../albums/album-repository.js';
import type { Database, Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueueOnce, newestJob, requestStop } from '../jobs/job-repository.js';
import { serve } from '../http/serve.js';
import type { MediaStore } from '../media/media-store.js';
import { removeMaster } from './remove-master.js';
import { Intake } from './intake.js';
import {
  findMaster,
  findPowers,
  findSilhouette,
  linkMaster,
  mastersOfAlbum,
  type AlbumMaster,
} from './master-repository.js';

const IMMUTABLE = 'public, max-age=31536000, immutable';

export function masterRoutes(db: Database, media: MediaStore): Router {
  const router = Router();
  const intake = new Intake(db, media);

  /** A master's record with how far its measuring is, while it is not measured. */
  const withJob = async (master: AlbumMaster) => {
    if (master.measurement) return master;
    const job = await newestJob(db, 'measure', master.sha256);
    if (!job) return master;
    return { ...master, job: { state: job.state, share: job.progress?.share ?? 0, message: job.message } };
  };

  serve(router, CONTRACT.masters, async ({ params }) =>
    Promise.all((await mastersOfAlbum(db, params.id)).map(withJob)),
  );

  serve(router, CONTRACT.sendMaster, async ({ params, query }, request) => {
    await demandAlbum(db, params.id);
    const sha256 = await intake.receive({ name: query.name, mono: query.mono === 'true' }, request);
    await linkMaster(db, params.id, sha256, query.name);
    return { sha256 };
  });

  serve(router, CONTRACT.addMaster, async ({ params, body: { upload, replaces, ...order } }) => {
    await demandAlbum(db, params.id);
    const sha256 = await intake.takeUpload(order, upload);
    if (sha256 === replaces)
      throw new ApiError(409, `“${order.name}” is the very same file: every byte is as before.`, {
        same: true,
      });
    await linkMaster(db, params.id, sha256, order.name, replaces);
    return { sha256 };
  });

  serve(router, CONTRACT.sendLooseMaster, async ({ query }, request) => ({
    sha256: await intake.receive({ name: query.name, mono: query.mono === 'true' }, request),
  }));

  serve(router, CONTRACT.storeMaster, async ({ body: { upload, ...order } }) => ({
    sha256: await intake.takeUpload(order, upload),
  }));

  serve(router, CONTRACT.removeMaster, ({ params }) => removeMaster(db, params.id, params.sha256));

  serve(router, CONTRACT.measureMaster, async ({ params }) => {
    const master = await findMaster(db, params.sha256);
    if (!master) throw notFound('master');
    if (!master.measurement) await enqueueOnce(db, 'measure', master.sha256);
  });

  serve(router, CONTRACT.stopMeasuring, async ({ params }) => {
    const job = await newestJob(db, 'measure', params.sha256);
    if (!job || !(await requestStop(db, job.id))) throw new ApiError(409, 'Nothing is being measured.');
  });

  serve(router, CONTRACT.masterAudio, async ({ params }, _request, response) => {
    const master = await findMaster(db, params.sha256);
    if (!master) throw notFound('master');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
    response.sendFile(media.audio(master));
  });

  serve(router, CONTRACT.silhouette, async ({ params, query }, _request, response) => {
    const stored = await findSilhouette(db, params.sha256);
    if (!stored) throw notFound('silhouette yet');
    const { values } = Silhouette.fromBytes(stored).coarser(query.step);
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
    response.send(Buffer.from(values.buffer, values.byteOffset, values.byteLength));
  });

  serve(router, CONTRACT.powers, async ({ params }, _request, response) => {
    const powers = await findPowers(db, params.sha256);
    if (!powers) throw notFound('measurement yet');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(powers);
  });

  return router;
}

async function demandAlbum(db: Db, id: string): Promise<void> {
  if (!(await findAlbum(db, id))) throw notFound('album');
}

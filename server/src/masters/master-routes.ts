import { CONTRACT } from '@oiseau/api';
import { Silhouette } from '@oiseau/core';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueueOnce, newestJob, requestStop } from '../jobs/job-repository.js';
import { serve } from '../http/serve.js';
import type { MediaStore } from '../media/media-store.js';
import { Intake } from './intake.js';
import { findMaster, findPowers, findSilhouette } from './master-repository.js';

const IMMUTABLE = 'public, max-age=31536000, immutable';

export function masterRoutes(db: Database, media: MediaStore): Router {
  const router = Router();
  const intake = new Intake(db, media);

  serve(router, CONTRACT.sendLooseMaster, async ({ query }, request) => ({
    sha256: await intake.receive({ name: query.name, mono: query.mono === 'true' }, request),
  }));

  serve(router, CONTRACT.storeMaster, async ({ body: { upload, ...order } }) => ({
    sha256: await intake.takeUpload(order, upload),
  }));

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

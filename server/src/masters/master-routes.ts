import { msg } from '@oiseau/messages';
import { CONTRACT } from '@oiseau/api';
import { Silhouette } from '@oiseau/audio/measure';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueueOnce, newestJob, requestStop } from '../jobs/job-repository.js';
import { IMMUTABLE, sendFile } from '../http/send-file.js';
import { serve } from '../access/serve.js';
import { visitorOf } from '../access/authentication.js';
import type { MediaStore } from '../media/media-store.js';
import type { Intake } from './intake.js';
import { findMaster, findPowers, findSilhouette } from './master-repository.js';

export function masterRoutes(db: Database, media: MediaStore, intake: Intake): Router {
  const router = Router();

  serve(router, CONTRACT.sendLooseMaster, ({ query }, request) =>
    intake.receive(
      visitorOf(request),
      { name: query.name, mono: query.mono === 'true' },
      request,
      Number(request.headers['content-length'] ?? 0),
    ),
  );

  serve(router, CONTRACT.storeMaster, ({ body: { upload, ...order } }, request) =>
    intake.takeUpload(visitorOf(request), order, upload),
  );

  serve(router, CONTRACT.measureMaster, async ({ params }) => {
    const master = await findMaster(db, params.sha256);
    if (!master) throw notFound('master');
    // One from before the upper end was looked at is measured again on request.
    if (!master.measurement?.upperEnd) await enqueueOnce(db, 'measure', master.sha256);
  });

  serve(router, CONTRACT.stopMeasuring, async ({ params }) => {
    const job = await newestJob(db, 'measure', params.sha256);
    if (!job || !(await requestStop(db, job.id))) throw new ApiError(409, msg('Nothing is being measured.'));
  });

  serve(router, CONTRACT.masterAudio, async ({ params }, _request, response) => {
    const master = await findMaster(db, params.sha256);
    if (!master) throw notFound('master');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
    sendFile(response, media.audio(master));
  });

  serve(router, CONTRACT.silhouette, async ({ params, query }, _request, response) => {
    const stored = await findSilhouette(db, params.sha256);
    if (!stored) throw notFound('waveform');
    const { values } = Silhouette.fromBytes(stored).coarser(query.step);
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
    response.send(Buffer.from(values.buffer, values.byteOffset, values.byteLength));
  });

  serve(router, CONTRACT.upperBands, async ({ params }) => {
    const upperEnd = (await findMaster(db, params.sha256))?.measurement?.upperEnd;
    if (!upperEnd) throw notFound('measurement');
    return upperEnd.bandsDb;
  });

  serve(router, CONTRACT.powers, async ({ params }, _request, response) => {
    const powers = await findPowers(db, params.sha256);
    if (!powers) throw notFound('measurement');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(powers);
  });

  return router;
}

import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import type { Database, Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { demandMaster, noteBrought } from '../access/authorization.js';
import { recordEvent } from '../access/events.js';
import { serve } from '../access/serve.js';
import { visitorOf } from '../access/entrance.js';
import { newestJob, requestStop } from '../jobs/job-repository.js';
import { handedOver } from '../media/uploads.js';
import type { Intake } from '../masters/intake.js';
import { findIntake } from '../masters/intake-repository.js';
import { linkMaster, mastersOfAlbum, settleMaster, type AlbumMaster } from '../masters/master-repository.js';
import { demandQuota } from './album-quota.js';
import { findAlbum } from './album-repository.js';
import { removeMaster } from './remove-master.js';

/** The masters of an album: brought in, listed, taken out. */
/** A long album is listed often, and of its curves one is looked at now and then: they are three quarters of the list. */
const withoutBands = (master: AlbumMaster): AlbumMaster =>
  master.measurement?.upperEnd
    ? {
        ...master,
        measurement: {
          ...master.measurement,
          upperEnd: { ...master.measurement.upperEnd, bandsDb: [] },
        },
      }
    : master;

export function albumMasterRoutes(db: Database, intake: Intake, quota: number): Router {
  const router = Router();
  const demandPlace = (id: string, bytes: number): Promise<void> =>
    demandQuota(db, intake.media, id, bytes, quota);

  /** A master's record with how far its measuring is, while it is not measured. */
  const withJob = async (master: AlbumMaster) => {
    if (master.measurement) return master;
    const job = await newestJob(db, 'measure', master.sha256);
    if (!job) return master;
    return { ...master, job: { state: job.state, share: job.progress?.share ?? 0, message: job.message } };
  };

  serve(router, CONTRACT.masters, async ({ params, query }) => {
    const masters = await mastersOfAlbum(db, params.id);
    return Promise.all((query.curves === 'true' ? masters : masters.map(withoutBands)).map(withJob));
  });

  serve(router, CONTRACT.sendMaster, async ({ params, query }, request) => {
    await demandOnShelf(db, params.id);
    const visitor = visitorOf(request);
    const announced = Number(request.headers['content-length'] ?? 0);
    await demandPlace(params.id, announced);
    const { sha256, bytes } = await intake.receive(
      visitor,
      { name: query.name, mono: query.mono === 'true' },
      request,
      announced,
    );
    const known = await linkMaster(db, params.id, sha256, query.name);
    await recordEvent(db, visitor, { what: 'uploaded', album: params.id, detail: query.name, bytes });
    return { sha256, bytes, known };
  });

  serve(
    router,
    CONTRACT.addMaster,
    async ({ params, body: { upload, replaces, awaits, later, ...order } }, request) => {
      await demandOnShelf(db, params.id);
      const visitor = visitorOf(request);
      const size = await intake.uploads.sizeOf(visitor, upload);
      await demandPlace(params.id, size);
      if (later) {
        const id = await intake.takeLater(visitor, params.id, { ...order, replaces, awaits }, upload);
        if (id !== null) {
          const event = { what: 'uploaded', album: params.id, detail: order.name, bytes: size } as const;
          await recordEvent(db, visitor, event);
          return { intake: id };
        }
      }
      const { sha256, bytes } = await intake.takeUpload(visitor, order, upload);
      if (sha256 === replaces)
        throw new ApiError(409, `“${order.name}” is the very same file: every byte is as before.`, {
          same: true,
        });
      const known = await linkMaster(db, params.id, sha256, order.name, { replaces, awaits });
      await recordEvent(db, visitor, { what: 'uploaded', album: params.id, detail: order.name, bytes });
      return { sha256, bytes, known };
    },
  );

  serve(router, CONTRACT.intake, async ({ params }) => {
    const found = await findIntake(db, params.id);
    if (!found) throw notFound('file');
    const { id, state, share, message, taken, refusal } = found;
    return { id, state, share, message, taken, refusal };
  });

  serve(router, CONTRACT.stopIntake, async ({ params }) => {
    const found = await findIntake(db, params.id);
    if (!found || !(await requestStop(db, found.jobId))) throw new ApiError(409, 'It has ended already.');
    // One that had not begun leaves nobody to clear up after it.
    if (found.state === 'queued' && (await findIntake(db, params.id))?.state === 'stopped')
      await handedOver(intake.media, found.upload).forget();
  });

  serve(router, CONTRACT.settleMasters, ({ params, body }) =>
    db.transaction(async (transaction) => {
      for (const { sha256, replaces } of body.masters) {
        if (sha256 === replaces) throw new ApiError(422, 'No master is a newer version of itself.');
        await settleMaster(transaction, params.id, sha256, replaces);
      }
    }),
  );

  serve(router, CONTRACT.removeMaster, async ({ params }, request) => {
    await removeMaster(db, params.id, params.sha256);
    // Whoever takes it out can put it back, whatever albums their key opens.
    await noteBrought(db, visitorOf(request), params.sha256);
  });

  serve(router, CONTRACT.putMasterBack, async ({ params, body: { name, replaces } }, request) => {
    await demandOnShelf(db, params.id);
    await demandMaster(db, visitorOf(request), params.sha256);
    await linkMaster(db, params.id, params.sha256, name, { replaces });
  });

  return router;
}

/** Nothing comes into an album that was deleted. */
async function demandOnShelf(db: Db, id: string): Promise<void> {
  if (!(await findAlbum(db, id))) throw notFound('album');
}

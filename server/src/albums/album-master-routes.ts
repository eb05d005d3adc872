import { msg } from '@oiseau/messages';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { demandMaster, noteBrought } from '../access/authorization.js';
import { serve } from '../access/serve.js';
import { visitorOf } from '../access/authentication.js';
import { newestJob } from '../jobs/job-repository.js';
import { linkMaster, mastersOfAlbum, settleMaster, type AlbumMaster } from '../masters/master-repository.js';
import { demandOnShelf } from './demand-on-shelf.js';
import { removeMaster } from './remove-master.js';

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

/** The masters of an album: listed, removed, put back. */
export function albumMasterRoutes(db: Database): Router {
  const router = Router();

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

  serve(router, CONTRACT.settleMasters, ({ params, body }) =>
    db.transaction(async (transaction) => {
      for (const { sha256, replaces } of body.masters) {
        if (sha256 === replaces) throw new ApiError(422, msg('A master can’t replace itself.'));
        await settleMaster(transaction, params.id, sha256, replaces);
      }
    }),
  );

  serve(router, CONTRACT.removeMaster, async ({ params }, request) => {
    await removeMaster(db, params.id, params.sha256);
    // A user who removes it can put it back, whatever albums their key opens.
    await noteBrought(db, visitorOf(request), params.sha256);
  });

  serve(router, CONTRACT.putMasterBack, async ({ params, body: { name, replaces } }, request) => {
    await demandOnShelf(db, params.id);
    await demandMaster(db, visitorOf(request), params.sha256);
    await linkMaster(db, params.id, params.sha256, name, { replaces });
  });

  return router;
}

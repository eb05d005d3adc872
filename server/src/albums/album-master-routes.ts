import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import type { Database, Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { serve } from '../http/serve.js';
import { newestJob } from '../jobs/job-repository.js';
import { Intake } from '../masters/intake.js';
import { linkMaster, mastersOfAlbum, type AlbumMaster } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { findAlbum } from './album-repository.js';
import { removeMaster } from './remove-master.js';

/** The masters of an album: brought in, listed, taken out. */
export function albumMasterRoutes(db: Database, media: MediaStore): Router {
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

  serve(router, CONTRACT.removeMaster, ({ params }) => removeMaster(db, params.id, params.sha256));

  return router;
}

async function demandAlbum(db: Db, id: string): Promise<void> {
  if (!(await findAlbum(db, id))) throw notFound('album');
}

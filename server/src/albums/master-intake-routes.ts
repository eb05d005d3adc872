import { msg } from '@oiseau/messages';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import { recordEvent } from '../access/events.js';
import { serve } from '../access/serve.js';
import { visitorOf } from '../access/authentication.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { requestStop } from '../jobs/job-repository.js';
import type { Intake } from '../masters/intake.js';
import { findIntake } from '../masters/intake-repository.js';
import { linkMaster } from '../masters/master-repository.js';
import { handedOver } from '../media/uploads.js';
import { demandQuota } from './album-quota.js';
import { demandOnShelf } from './demand-on-shelf.js';

/** Masters added to an album: at once, from an upload, or by a job that can be followed and stopped. */
export function masterIntakeRoutes(db: Database, intake: Intake, quota: number): Router {
  const router = Router();
  const demandPlace = (id: string, bytes: number): Promise<void> =>
    demandQuota(db, intake.media, id, bytes, quota);

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
        throw new ApiError(409, msg('“{name}” is identical to the current file.', { name: order.name }), {
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
    if (!found || !(await requestStop(db, found.jobId)))
      throw new ApiError(409, msg('It has already ended.'));
    // A job that never began can't clean up after itself.
    if (found.state === 'queued' && (await findIntake(db, params.id))?.state === 'stopped')
      await handedOver(intake.media, found.upload).forget();
  });

  return router;
}

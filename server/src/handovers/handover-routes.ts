import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT, isHandoverActive } from '@oiseau/api';
import { Failure } from '@oiseau/audio/errors';
import { Router } from 'express';
import { visitorOf } from '../access/authentication.js';
import { recordEvent } from '../access/events.js';
import { serve } from '../access/serve.js';
import type { Database } from '../db/database.js';
import { deliveryThere } from '../deliveries/rendered.js';
import { ApiError, notFound } from '../http/api-error.js';
import { requestStop } from '../jobs/job-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { handOver, handoverThere, resume } from './hand-over.js';
import { clientOf } from './handover-job.js';
import { handoversOfAlbum, notePaused } from './handover-repository.js';
import {
  allReceivers,
  findReceiver,
  insertReceiver,
  removeReceiver,
  writeReceiver,
} from './receiver-repository.js';

/** Handing over, and to whom. */
export function handoverRoutes(db: Database, media: MediaStore): Router {
  const router = Router();
  serve(router, CONTRACT.receivers, () => allReceivers(db));
  serve(router, CONTRACT.addReceiver, async ({ body: { token, ...given } }) => {
    const receiver = { id: randomUUID(), standIn: false, ...given };
    await insertReceiver(db, receiver, token);
    return receiver;
  });
  serve(router, CONTRACT.changeReceiver, ({ params, body }) => writeReceiver(db, params.id, body));
  serve(router, CONTRACT.removeReceiver, ({ params }) => removeReceiver(db, params.id));
  serve(router, CONTRACT.askReceiver, async ({ params }) => {
    try {
      const client = await clientOf(db, params.id);
      const about = await client.about();
      const medium = about.kind === 'drive' ? await client.medium() : undefined;
      return { about: { ...about, ...(medium ? { medium } : {}) }, trouble: null };
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      return { about: null, trouble: error.message };
    }
  });
  serve(router, CONTRACT.putMedium, async ({ params, body }) => {
    if ((await findReceiver(db, params.id))?.kind !== 'drive') throw notFound('drive');
    try {
      await (await clientOf(db, params.id)).putMedium(body.kind);
    } catch (error) {
      if (error instanceof Failure) throw new ApiError(409, error.message);
      throw error;
    }
  });
  serve(router, CONTRACT.handovers, ({ params }) => handoversOfAlbum(db, params.id));
  serve(router, CONTRACT.handOver, async ({ params, body }, request) => {
    const visitor = visitorOf(request);
    const id = await handOver(db, media, visitor, params.id, body);
    const { albumId, revision, deliverable } = await deliveryThere(db, params.id);
    const receiver = await findReceiver(db, body.receiver);
    const detail = `revision ${revision}, ${deliverable.name}, to ${receiver?.name ?? ''}`;
    await recordEvent(db, visitor, { what: 'handed-over', album: albumId, detail });
    return { id };
  });
  serve(router, CONTRACT.pauseHandover, async ({ params }) => {
    const handover = await handoverThere(db, params.id);
    if (!isHandoverActive(handover.status)) throw new ApiError(409, msg('This delivery isn’t in progress.'));
    if (handover.sentAt) throw new ApiError(409, msg('Everything has been sent; there is nothing to pause.'));
    await notePaused(db, handover.id);
    await requestStop(db, handover.jobId);
  });
  serve(router, CONTRACT.stopHandover, async ({ params }) => {
    const handover = await handoverThere(db, params.id);
    if (!(await requestStop(db, handover.jobId)))
      throw new ApiError(409, msg('This delivery has already ended.'));
  });
  serve(router, CONTRACT.resumeHandover, async ({ params }) =>
    resume(db, await handoverThere(db, params.id)),
  );
  return router;
}

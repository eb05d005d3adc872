import { msg } from '@oiseau/messages';
import { rm } from 'node:fs/promises';
import { CONTRACT } from '@oiseau/api';
import { mastersPlayed } from '@oiseau/album/model';
import { Router } from 'express';
import { albumFor } from '../albums/drafts.js';
import { factsOf } from '../albums/shelf.js';
import { recordEvent } from '../access/events.js';
import { visitorOf } from '../access/authentication.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { serve } from '../access/serve.js';
import type { ShelfIndex } from '../albums/shelf-index.js';
import type { ComputePool } from '../http/compute-pool.js';
import { enqueue, putFirst, requestStop } from '../jobs/job-repository.js';
import { mastersByKey } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { deliveryEvent } from './delivery-event.js';
import { askAgain, deliveriesOfAlbum, markCleared, renderQueue } from './delivery-repository.js';
import { dayOfRevision, findRevision, revisionsOfAlbum } from '../albums/revision-repository.js';
import { orderRenders } from './order-renders.js';
import { deliveryThere, isUnderWay } from './rendered.js';

/** Renders of an album, their queue, and the revisions that they were made of. */
export function deliveryRoutes(
  db: Database,
  media: MediaStore,
  pool: ComputePool,
  shelf: ShelfIndex,
): Router {
  const router = Router();

  serve(router, CONTRACT.deliveries, ({ params, query }) => deliveriesOfAlbum(db, params.id, query.known));
  serve(router, CONTRACT.renderQueue, async (_, request) => {
    await shelf.refresh();
    return renderQueue(db, visitorOf(request));
  });

  serve(router, CONTRACT.orderRenders, async ({ params, body }, request) => {
    const visitor = visitorOf(request);
    await media.demandRoom(0);
    // Who holds a key with a name can ask in no other.
    const ordered = await orderRenders(db, pool, params.id, {
      ...body,
      by: visitor.name || body.by,
      keyId: visitor.keyId,
    });
    for (const { name } of ordered)
      await recordEvent(db, visitor, { what: 'rendered', album: params.id, detail: name });
    return deliveriesOfAlbum(db, params.id);
  });

  serve(router, CONTRACT.stopRender, async ({ params }) => {
    const delivery = await deliveryThere(db, params.id);
    if (!(await requestStop(db, delivery.jobId)))
      throw new ApiError(409, msg('This render has already ended.'));
  });

  serve(router, CONTRACT.retryRender, async ({ params }) => {
    const delivery = await deliveryThere(db, params.id);
    if (isUnderWay(delivery)) throw new ApiError(409, msg('This render is in progress.'));
    await db.transaction(async (transaction) =>
      askAgain(transaction, delivery.id, await enqueue(transaction, 'render', delivery.id)),
    );
  });

  serve(router, CONTRACT.renderFirst, async ({ params }) => {
    const { jobId } = await deliveryThere(db, params.id);
    if (!(await putFirst(db, jobId))) throw new ApiError(409, msg('This render is no longer queued.'));
  });

  serve(router, CONTRACT.clearDelivery, async ({ params }, request) => {
    const delivery = await deliveryThere(db, params.id);
    if (isUnderWay(delivery)) throw new ApiError(409, msg('This render is in progress. Stop it first.'));
    await rm(media.delivery(delivery.id), { recursive: true, force: true });
    await markCleared(db, delivery.id);
    await recordEvent(db, visitorOf(request), { what: 'cleared', ...deliveryEvent(delivery) });
  });

  serve(router, CONTRACT.revisions, ({ params }) => revisionsOfAlbum(db, params.id));

  serve(router, CONTRACT.revision, async ({ params }, request) => {
    const album = await findRevision(db, params.id, Number(params.number));
    if (!album) throw notFound('revision');
    const masters = await mastersByKey(db, params.id, mastersPlayed(album));
    const day = await dayOfRevision(db, params.id, Number(params.number));
    return {
      ...{ album: albumFor(visitorOf(request), album), day },
      masters: Object.fromEntries(factsOf(masters)),
    };
  });

  return router;
}

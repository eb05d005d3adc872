import { rm, stat } from 'node:fs/promises';
import { CONTRACT } from '@oiseau/api';
import { mastersPlayed, safeFileName } from '@oiseau/album/model';
import { partOfPath } from '@oiseau/render';
import { Router } from 'express';
import { factsOf } from '../albums/shelf.js';
import { recordEvent } from '../access/events.js';
import { visitorOf } from '../access/entrance.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { serve } from '../access/serve.js';
import type { ShelfIndex } from '../albums/shelf-index.js';
import type { ComputePool } from '../http/compute-pool.js';
import { demandWhole, onlyAsks, sendZip } from '../http/downloads.js';
import { enqueue, putFirst, requestStop } from '../jobs/job-repository.js';
import { mastersByKey } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import {
  askAgain,
  deliveriesOfAlbum,
  markCleared,
  renderQueue,
  type Delivery,
} from './delivery-repository.js';
import { dayOfRevision, findRevision, revisionsOfAlbum } from '../albums/revision-repository.js';
import { madeForZip } from './made-for-zip.js';
import { orderRenders } from './order-renders.js';
import { deliveryThere, demandFile, demandRendered, isUnderWay } from './rendered.js';

/** What an event tells of a delivery. */
const eventOf = ({ albumId, revision, deliverable }: Delivery) => ({
  album: albumId,
  detail: `revision ${revision}, ${deliverable.name}`,
});

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
    if (!(await requestStop(db, delivery.jobId))) throw new ApiError(409, 'This render has ended already.');
  });

  serve(router, CONTRACT.retryRender, async ({ params }) => {
    const delivery = await deliveryThere(db, params.id);
    if (isUnderWay(delivery)) throw new ApiError(409, 'This render is under way.');
    await db.transaction(async (transaction) =>
      askAgain(transaction, delivery.id, await enqueue(transaction, 'render', delivery.id)),
    );
  });

  serve(router, CONTRACT.renderFirst, async ({ params }) => {
    const { jobId } = await deliveryThere(db, params.id);
    if (!(await putFirst(db, jobId))) throw new ApiError(409, 'This render does not wait any more.');
  });

  serve(router, CONTRACT.clearDelivery, async ({ params }, request) => {
    const delivery = await deliveryThere(db, params.id);
    if (isUnderWay(delivery)) throw new ApiError(409, 'This render is under way; stop it first.');
    await rm(media.delivery(delivery.id), { recursive: true, force: true });
    await markCleared(db, delivery.id);
    await recordEvent(db, visitorOf(request), { what: 'cleared', ...eventOf(delivery) });
  });

  serve(router, CONTRACT.revisions, ({ params }) => revisionsOfAlbum(db, params.id));

  serve(router, CONTRACT.revision, async ({ params }) => {
    const album = await findRevision(db, params.id, Number(params.number));
    if (!album) throw notFound('revision');
    const masters = await mastersByKey(db, params.id, mastersPlayed(album));
    const day = await dayOfRevision(db, params.id, Number(params.number));
    return { album, day, masters: Object.fromEntries(factsOf(masters)) };
  });

  serve(router, CONTRACT.deliveryFiles, async ({ params }) => {
    const { files } = await demandRendered(db, media, params.id);
    await demandWhole(files);
    return Promise.all(files.map(async ({ name, path }) => ({ path: name, bytes: (await stat(path)).size })));
  });

  serve(router, CONTRACT.deliveryFile, async ({ params }, request, response) => {
    const rendered = await demandRendered(db, media, params.id);
    const { name, bytes } = await demandFile(rendered, params.path);
    if (onlyAsks(request)) return void response.end();
    const { album, detail } = eventOf(rendered.delivery);
    await recordEvent(db, visitorOf(request), {
      what: 'downloaded',
      album,
      detail: `${detail}, ${name}`,
      bytes,
    });
    response.attachment(name);
    response.sendFile(name, { root: rendered.folder, dotfiles: 'allow' });
  });

  serve(router, CONTRACT.deliveryZip, async ({ params, query: { part } }, request, response) => {
    const { delivery, files: all } = await demandRendered(db, media, params.id);
    // What belongs to no part goes with each.
    const files = all.filter(({ name }) => part === undefined || [part, null].includes(partOfPath(name)));
    if (part !== undefined && !all.some(({ name }) => partOfPath(name) === part)) throw notFound('part');
    await demandWhole(files);
    if (onlyAsks(request)) return void response.end();
    const album = await findRevision(db, delivery.albumId, delivery.revision);
    const { name } = delivery.deliverable;
    const title = safeFileName([album?.title ?? '', `r${delivery.revision}`, name, part ?? ''].join(' '));
    await recordEvent(db, visitorOf(request), { what: 'downloaded', ...eventOf(delivery) });
    const made = album ? await madeForZip(db, delivery, album, files, part) : {};
    const inside = files
      .filter((file) => !Object.hasOwn(made, file.name))
      .map((file) => ({ ...file, name: `${name}/${file.name}` }));
    const texts = Object.fromEntries(Object.entries(made).map(([path, bytes]) => [`${name}/${path}`, bytes]));
    await sendZip(response, `${title}.zip`, inside, texts);
  });

  return router;
}

import { stat } from 'node:fs/promises';
import { CONTRACT } from '@oiseau/api';
import { albumOfDeliverable, safeFileName } from '@oiseau/album/model';
import { partOfPath } from '@oiseau/render';
import { Router } from 'express';
import { visitorOf } from '../access/authentication.js';
import { recordEvent } from '../access/events.js';
import { serve } from '../access/serve.js';
import { findRevision } from '../albums/revision-repository.js';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { demandWhole, onlyAsks, sendZip } from '../http/downloads.js';
import type { MediaStore } from '../media/media-store.js';
import { deliveryEvent } from './delivery-event.js';
import { madeForZip } from './made-for-zip.js';
import { demandFile, demandRendered } from './rendered.js';

/** The files of a delivery: listed, downloaded one by one or as a ZIP. */
export function deliveryFileRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  serve(router, CONTRACT.deliveryFiles, async ({ params }) => {
    const { files } = await demandRendered(db, media, params.id);
    await demandWhole(files);
    return Promise.all(files.map(async ({ name, path }) => ({ path: name, bytes: (await stat(path)).size })));
  });

  serve(router, CONTRACT.deliveryFile, async ({ params }, request, response) => {
    const rendered = await demandRendered(db, media, params.id);
    const { name, bytes } = await demandFile(rendered, params.path);
    if (onlyAsks(request)) return void response.end();
    const { album, detail } = deliveryEvent(rendered.delivery);
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
    const own = album && albumOfDeliverable(album, delivery.deliverable).album;
    const title = safeFileName([own?.title ?? '', `r${delivery.revision}`, name, part ?? ''].join(' '));
    await recordEvent(db, visitorOf(request), { what: 'downloaded', ...deliveryEvent(delivery) });
    const made = album ? await madeForZip(db, delivery, album, files, part) : {};
    const inside = files
      .filter((file) => !Object.hasOwn(made, file.name))
      .map((file) => ({ ...file, name: `${name}/${file.name}` }));
    const texts = Object.fromEntries(Object.entries(made).map(([path, bytes]) => [`${name}/${path}`, bytes]));
    await sendZip(response, `${title}.zip`, inside, texts);
  });

  return router;
}

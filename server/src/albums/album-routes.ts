import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { mastersPlayed, MOST_TEXT, newAlbum } from '@oiseau/album/model';
import { readAlbumDocument } from '@oiseau/album/file';
import { Router } from 'express';
import { ZodError } from 'zod';
import { demandPicture, openTo } from '../access/authorization.js';
import { recordEvent } from '../access/events.js';
import { visitorOf } from '../access/entrance.js';
import type { Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { ComputePool, PreparedAlbum, PreparedDocument } from '../http/compute-pool.js';
import { JsonText, serve, servePrepared } from '../access/serve.js';
import { copyLinks } from '../masters/master-repository.js';
import {
  changesSince,
  DamagedAlbum,
  deleteAlbum,
  findAlbum,
  findRawAlbum,
  insertAlbum,
  isUntouched,
  lockAlbum,
  overwriteAlbum,
  parseDocument,
  readableDocument,
  restoreAlbum,
  saveAlbum,
  saveChange,
  type KeptChange,
} from './album-repository.js';
import { bringBackMasters } from './bring-back.js';
import { findRevision } from './revision-repository.js';
import { isrcRegister, isrcsElsewhere, listShelf } from './shelf.js';
import type { ShelfIndex } from './shelf-index.js';

/** The title of a copy, as long as a title may be. */
const copyOf = (title: string): string => `${title.slice(0, MOST_TEXT - ' (copy)'.length)} (copy)`;

/** A longer document is read in a thread. */
const LARGE_DOCUMENT = 256_000;

interface Saving {
  readonly params: { readonly id: string };
  readonly body: PreparedAlbum;
}

/** Patches were JSON when they were kept. */
const jsonOfChanges = (version: number, kept: readonly KeptChange[]): JsonText =>
  new JsonText(
    `{"version":${version},"changes":[${kept
      .map(({ who, patch }) => `{"who":${JSON.stringify(who)},"patch":${patch}}`)
      .join(',')}],"album":null}`,
  );

/** How long a list of codes waits for the index, ms: without an album that was just saved, a code would be assigned twice. */
const CODES_PATIENCE_MS = 10_000;

export function albumRoutes(db: Database, pool: ComputePool, shelf: ShelfIndex): Router {
  const router = Router();

  /** An album shows no picture that its editor can't see. @throws ApiError 404 */
  const demandCover = async (id: string, visitor: Visitor, artwork: string | null): Promise<void> => {
    if (artwork === null || artwork === (await findAlbum(db, id))?.album.artwork) return;
    await demandPicture(db, visitor, artwork);
  };

  serve(router, CONTRACT.status, async () => ({ untouched: await isUntouched(db) }));

  serve(router, CONTRACT.shelf, async ({ query }, request) => {
    await shelf.refresh();
    return { ...(await listShelf(db, visitorOf(request), query)), indexing: await shelf.remaining() };
  });

  serve(router, CONTRACT.createAlbum, async ({ body }, request) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      await insertAlbum(transaction, id, newAlbum(body.title));
      await openTo(transaction, visitorOf(request), id);
    });
    return { id };
  });

  serve(router, CONTRACT.isrcRegister, async (_given, request) => {
    await shelf.refresh(CODES_PATIENCE_MS);
    return isrcRegister(db, visitorOf(request));
  });
  serve(router, CONTRACT.isrcsElsewhere, async ({ params }, request) => {
    await shelf.refresh(CODES_PATIENCE_MS);
    return isrcsElsewhere(db, visitorOf(request), params.id);
  });

  serve(router, CONTRACT.album, async ({ params }) => {
    const raw = await findRawAlbum(db, params.id);
    if (!raw) throw notFound('album');
    const { id, version, updatedAt } = raw;
    if (raw.text.length < LARGE_DOCUMENT) return { id, version, album: parseDocument(raw.text), updatedAt };
    const read = await pool.albumJson(raw.text);
    if ('damaged' in read) throw new DamagedAlbum(read.damaged);
    const head = JSON.stringify({ id, version, updatedAt });
    return new JsonText(`${head.slice(0, -1)},"album":${read.json}}`);
  });

  serve(router, CONTRACT.rawAlbum, async ({ params }, _request, response) => {
    const raw = await findRawAlbum(db, params.id);
    if (!raw) throw notFound('album');
    response.attachment(`album ${params.id}.json`).type('json').send(raw.text);
  });

  serve(router, CONTRACT.bringBackRevision, ({ params: { id, number } }) =>
    db.transaction(async (transaction) => {
      await lockAlbum(transaction, id);
      const raw = await findRawAlbum(transaction, id);
      if (!raw) throw notFound('album');
      if (readableDocument(raw.text))
        throw new ApiError(409, 'This album can be read; bring a revision back under Proof.');
      const revision = await findRevision(transaction, id, Number(number));
      if (!revision) throw notFound('revision');
      await bringBackMasters(transaction, id, mastersPlayed(revision), () => revision);
      await overwriteAlbum(transaction, id, revision);
    }),
  );

  /** What must be there before an album that shows and plays it is saved. @throws ApiError 404 */
  const demandContent = async (
    id: string,
    visitor: Visitor,
    { text, artwork, masters }: PreparedDocument,
  ): Promise<void> => {
    await demandCover(id, visitor, artwork);
    await bringBackMasters(db, id, masters, () => readAlbumDocument(JSON.parse(text)));
  };

  /** @throws ApiError 404 for no album, 409 for one that has moved on */
  const movedOn = async (id: string): Promise<never> => {
    const current = await findRawAlbum(db, id);
    if (!current) throw notFound('album');
    throw new ApiError(409, 'The album was changed in another window since.', { version: current.version });
  };

  servePrepared(router, CONTRACT.saveAlbum, async (given: Saving, request) => {
    const { id } = given.params;
    const { version, text } = given.body;
    await demandContent(id, visitorOf(request), given.body);
    if (!(await saveAlbum(db, id, version, text))) {
      const current = await findRawAlbum(db, id);
      // An edit whose answer was lost is sent again: it is no conflict with itself.
      if (current?.version !== version + 1 || current.text !== text) return movedOn(id);
    }
    return { version: version + 1 };
  });

  serve(router, CONTRACT.changeAlbum, async ({ params: { id }, body: { version, patch } }, request) => {
    const visitor = visitorOf(request);
    const change: KeptChange = { version: version + 1, who: visitor.name, patch: JSON.stringify(patch) };
    const raw = await findRawAlbum(db, id);
    if (raw?.version === version) {
      const changed = await pool.patchedAlbum(raw.text, patch);
      if ('issues' in changed) throw new ZodError([...changed.issues]);
      if ('misfit' in changed)
        throw new ApiError(409, 'The change does not fit the album.', { version, misfit: changed.misfit });
      await demandContent(id, visitor, changed.prepared);
      if (await saveChange(db, id, changed.prepared.text, change)) return { version: version + 1 };
    }
    // A change whose answer was lost is sent again: it is no conflict with itself.
    const [next] = await changesSince(db, id, version);
    return next?.version === version + 1 && next.patch === change.patch
      ? { version: version + 1 }
      : movedOn(id);
  });

  serve(router, CONTRACT.albumChanges, async ({ params: { id }, query: { after } }) => {
    const raw = await findRawAlbum(db, id);
    if (!raw) throw notFound('album');
    const kept = (await changesSince(db, id, after)).filter(({ version }) => version <= raw.version);
    // Each version is one more than the one before: those that were saved whole leave a hole.
    if (after <= raw.version && kept.length === raw.version - after) return jsonOfChanges(raw.version, kept);
    const read = await pool.albumJson(raw.text);
    if ('damaged' in read) throw new DamagedAlbum(read.damaged);
    return new JsonText(`{"version":${raw.version},"changes":null,"album":${read.json}}`);
  });

  serve(router, CONTRACT.deleteAlbum, async ({ params }, request) => {
    if (!(await deleteAlbum(db, params.id))) throw notFound('album');
    await recordEvent(db, visitorOf(request), { what: 'deleted', album: params.id });
  });

  serve(router, CONTRACT.restoreAlbum, async ({ params }, request) => {
    if (!(await restoreAlbum(db, params.id))) throw notFound('deleted album');
    await recordEvent(db, visitorOf(request), { what: 'restored', album: params.id });
  });

  serve(router, CONTRACT.duplicateAlbum, async ({ params }, request) => {
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      const original = await findAlbum(transaction, params.id);
      if (!original) throw notFound('album');
      await insertAlbum(transaction, id, { ...original.album, title: copyOf(original.album.title) });
      await copyLinks(transaction, original.id, id);
      await openTo(transaction, visitorOf(request), id);
    });
    return { id };
  });

  return router;
}

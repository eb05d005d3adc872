import { msg } from '@oiseau/messages';
import { CONTRACT } from '@oiseau/api';
import { readAlbumDocument } from '@oiseau/album/file';
import { Router } from 'express';
import { ZodError } from 'zod';
import { demandPicture } from '../access/authorization.js';
import { visitorOf } from '../access/authentication.js';
import { JsonText, serve, servePrepared } from '../access/serve.js';
import type { Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { ComputePool, PreparedAlbum, PreparedDocument } from '../http/compute-pool.js';
import {
  changesSince,
  DamagedAlbum,
  findAlbum,
  findRawAlbum,
  saveAlbum,
  saveChange,
  type KeptChange,
} from './album-repository.js';
import { bringBackMasters } from './bring-back.js';
import { seesDrafts } from './drafts.js';

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

/** Saves an album, whole or as a patch, only over the version it was made from; returns the changes since a version. */
export function albumEditRoutes(db: Database, pool: ComputePool): Router {
  const router = Router();

  /** An album shows no picture that its editor can't see. @throws ApiError 404 */
  const demandCover = async (id: string, visitor: Visitor, artwork: string | null): Promise<void> => {
    if (artwork === null || artwork === (await findAlbum(db, id))?.album.artwork) return;
    await demandPicture(db, visitor, artwork);
  };

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
    throw new ApiError(409, msg('The album has changed in another window.'), { version: current.version });
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
        throw new ApiError(409, msg('The change doesn’t apply to the album.'), {
          version,
          misfit: changed.misfit,
        });
      await demandContent(id, visitor, changed.prepared);
      if (await saveChange(db, id, changed.prepared.text, change)) return { version: version + 1 };
    }
    // A change whose answer was lost is sent again: it is no conflict with itself.
    const [next] = await changesSince(db, id, version);
    return next?.version === version + 1 && next.patch === change.patch
      ? { version: version + 1 }
      : movedOn(id);
  });

  serve(router, CONTRACT.albumChanges, async ({ params: { id }, query: { after } }, request) => {
    const raw = await findRawAlbum(db, id);
    if (!raw) throw notFound('album');
    const kept = (await changesSince(db, id, after)).filter(({ version }) => version <= raw.version);
    // A change may be one of a draft, which a guest doesn't see.
    const drafts = seesDrafts(visitorOf(request));
    // Each version is one more than the one before: those that were saved whole leave a hole.
    if (drafts && after <= raw.version && kept.length === raw.version - after)
      return jsonOfChanges(raw.version, kept);
    const read = await pool.albumJson(raw.text, drafts);
    if ('damaged' in read) throw new DamagedAlbum(read.damaged);
    return new JsonText(`{"version":${raw.version},"changes":null,"album":${read.json}}`);
  });

  return router;
}

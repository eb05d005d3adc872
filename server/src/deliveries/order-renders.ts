import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { errorsFor, wordFinding } from '@oiseau/checks';
import { editionNameOf, isOfDraft, type Album, type Deliverable } from '@oiseau/album/model';
import { versionsHere } from '@oiseau/host';
import { uncheckedOf } from '../albums/check-subject.js';
import { findAlbum, lockAlbum } from '../albums/album-repository.js';
import { lockKey } from '../access/key-repository.js';
import type { Database, Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { ComputePool } from '../http/compute-pool.js';
import { enqueue } from '../jobs/job-repository.js';
import { insertDelivery, underWayOf } from './delivery-repository.js';
import { findRevision, numberRevision } from '../albums/revision-repository.js';

/** Renders that one key may have waiting and at work at the same time. */
const MOST_UNDER_WAY = 200;

/** A render request. */
export interface RenderOrder {
  /** Names of deliverables; undefined: all of the album's. */
  readonly deliverables?: readonly string[] | undefined;
  /** Who asks; may be empty. */
  readonly by: string;
  /** The key that they hold. */
  readonly keyId: string;
  /** An older revision to render from; undefined: the album as it stands. */
  readonly revision?: number | undefined;
}

/**
 * Makes a revision of the album as it stands and queues a render of each deliverable from it.
 * @returns what is rendered
 * @throws ApiError 429 for too many, 404 for what is not there, 422 for an album with errors
 */
export async function orderRenders(
  db: Database,
  pool: ComputePool,
  albumId: string,
  order: RenderOrder,
): Promise<readonly Deliverable[]> {
  const versions = await versionsHere();
  return db.transaction(async (transaction) => {
    // Before anything is read: orders of one key for several albums at once count each other.
    await lockKey(transaction, order.keyId);
    // Two orders for one album would number the same revision twice: the album's row makes them wait for each other.
    await lockAlbum(transaction, albumId);
    const album = await orderedAlbum(transaction, albumId, order);
    const chosen = choose(album, order.deliverables);
    await demandNoErrors(transaction, pool, albumId, album, chosen);
    if ((await underWayOf(transaction, order.keyId)) + chosen.length > MOST_UNDER_WAY)
      throw new ApiError(
        429,
        msg('{most} renders are already in progress. Wait for some of them to finish.', {
          most: MOST_UNDER_WAY,
        }),
      );
    const revision = order.revision ?? (await numberRevision(transaction, albumId, album, versions));
    for (const deliverable of chosen) {
      const id = randomUUID();
      const jobId = await enqueue(transaction, 'render', id);
      await insertDelivery(
        transaction,
        { id, albumId, revision, deliverable, askedBy: order.by, jobId },
        order.keyId,
      );
    }
    return chosen;
  });
}

async function orderedAlbum(db: Db, albumId: string, { revision }: RenderOrder): Promise<Album> {
  const record = await findAlbum(db, albumId);
  if (!record) throw notFound('album');
  if (revision === undefined) return record.album;
  const album = await findRevision(db, albumId, revision);
  if (!album) throw notFound('revision');
  return album;
}

async function demandNoErrors(
  db: Db,
  pool: ComputePool,
  albumId: string,
  album: Album,
  chosen: readonly Deliverable[],
): Promise<void> {
  // An error of another edition holds up nothing.
  const wanted = new Set(chosen.map((each) => editionNameOf(album, each)));
  const editions = album.editions.filter(({ name }) => wanted.has(name));
  const subject = await uncheckedOf(db, albumId, { ...album, editions });
  const errors = errorsFor(
    await pool.check(subject),
    chosen.map(({ name }) => name),
  );
  if (errors[0])
    throw new ApiError(422, msg('The album has errors: {finding}', { finding: wordFinding(errors[0]) }), {
      findings: errors,
    });
}

/** @param names left out: all but those of drafts */
function choose(album: Album, names: readonly string[] | undefined): readonly Deliverable[] {
  const chosen = album.deliverables.filter((each) =>
    names ? names.includes(each.name) : !isOfDraft(album, each),
  );
  if (chosen.length === 0 || (names && chosen.length < new Set(names).size)) throw notFound('deliverable');
  const draft = chosen.find((each) => isOfDraft(album, each));
  if (draft)
    throw new ApiError(
      409,
      msg('“{deliverable}” belongs to a draft edition, which can’t be rendered.', {
        deliverable: draft.name,
      }),
    );
  return chosen;
}

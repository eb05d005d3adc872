import { layOutDeliverable, type Part } from '@oiseau/album/layout';
import { mastersPlayed, type Album } from '@oiseau/album/model';
import { planDeliverable, type Plan } from '@oiseau/render';
import { dayOfRevision, findRevision } from '../albums/revision-repository.js';
import { factsOf } from '../albums/shelf.js';
import type { Db } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { mastersByKey } from '../masters/master-repository.js';
import type { Delivery } from './delivery-repository.js';

/** The revision of a delivery, laid out, and the plan that it was rendered by. */
export interface DeliveredPlan {
  readonly album: Album;
  readonly parts: readonly Part[];
  readonly plan: Plan;
}

/** @throws ApiError 404 where the revision is gone */
export async function deliveredPlan(
  db: Db,
  { albumId, revision, deliverable }: Pick<Delivery, 'albumId' | 'revision' | 'deliverable'>,
): Promise<DeliveredPlan> {
  const whole = await findRevision(db, albumId, revision);
  if (!whole) throw notFound('revision');
  const masters = factsOf(await mastersByKey(db, albumId, mastersPlayed(whole)));
  const { album, edition, parts } = layOutDeliverable(whole, deliverable, masters);
  const revisionDate = await dayOfRevision(db, albumId, revision);
  return {
    album,
    parts,
    plan: planDeliverable(deliverable, { album, edition, parts, masters, revision, revisionDate }),
  };
}

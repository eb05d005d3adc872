import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { isHandoverActive, recipientOf, type Writing } from '@oiseau/api';
import { partOfPath } from '@oiseau/render';
import type { Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { demandRendered, isUnderWay as isRendering } from '../deliveries/rendered.js';
import { demandWhole } from '../http/downloads.js';
import { ApiError, notFound } from '../http/api-error.js';
import { enqueue, enqueueOnce } from '../jobs/job-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { findHandover, goOn, insertHandover, type Handover, handoversDue } from './handover-repository.js';
import { findReceiver } from './receiver-repository.js';

interface Order {
  readonly receiver: string;
  readonly by: string;
  readonly writing?: Writing | undefined;
}

/**
 * Hands a delivery over: only what is rendered and proved, to a receiver that takes it.
 * @returns the id of the hand-over
 * @throws ApiError 404, 409, 410, 422
 */
export async function handOver(
  db: Database,
  media: MediaStore,
  visitor: Visitor,
  deliveryId: string,
  { receiver: receiverId, by, writing }: Order,
): Promise<string> {
  const rendered = await demandRendered(db, media, deliveryId);
  const { delivery } = rendered;
  if (!delivery.proof?.proved)
    throw new ApiError(409, msg('This delivery failed verification. Fix the failed files and render again.'));
  // One whose render begins anew, after a kill, has other files in a moment.
  if (isRendering(delivery)) throw new ApiError(409, msg('This delivery is being rendered.'));
  await demandWhole(rendered.files);
  const receiver = await findReceiver(db, receiverId);
  if (!receiver) throw notFound('receiver');
  const { kind, name } = delivery.deliverable;
  if (!recipientOf(receiver.kind).takes.includes(kind))
    throw new ApiError(
      422,
      msg('{name} doesn’t accept “{name2}”: it accepts other kinds of deliverable.', {
        name: receiver.name,
        name2: name,
      }),
    );
  const discs = new Set(rendered.files.flatMap((file) => partOfPath(file.name) ?? []));
  const part = writing?.part ?? null;
  if (receiver.kind === 'drive' && (discs.size > 0 ? part === null || !discs.has(part) : part !== null))
    throw new ApiError(422, msg('Choose which disc to write.'));
  const id = randomUUID();
  await db.transaction(async (transaction) => {
    const jobId = await enqueue(transaction, 'handover', id);
    await insertHandover(transaction, {
      ...{ id, deliveryId, receiver, jobId, askedBy: visitor.name || by },
      writing: receiver.kind === 'drive' ? (writing ?? { speed: 16, test: false, copies: 1, part }) : null,
    });
  });
  return id;
}

export async function handoverThere(db: Database, id: string): Promise<Handover> {
  const handover = await findHandover(db, id);
  if (!handover) throw notFound('handover');
  return handover;
}

/** Goes on with what was paused or stopped, or has failed. @throws ApiError 409 */
export async function resume(db: Database, handover: Handover): Promise<void> {
  if (isHandoverActive(handover.status)) throw new ApiError(409, msg('This delivery is already being sent.'));
  if (['refused', 'accepted', 'completed'].includes(handover.status))
    throw new ApiError(409, msg('This delivery has ended. Send it again.'));
  await db.transaction(async (transaction) =>
    goOn(transaction, handover.id, await enqueue(transaction, 'handover', handover.id)),
  );
}

/** Asks recipients for news of every delivery that is not final, the more seldom the longer it was sent ago: no page need be open. */
export async function askForNews(db: Database): Promise<void> {
  for (const id of await handoversDue(db)) await enqueueOnce(db, 'follow', id);
}

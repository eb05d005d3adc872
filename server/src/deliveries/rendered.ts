import { msg } from '@oiseau/messages';
import { join } from 'node:path';
import type { Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { demandWhole, type Leaving } from '../http/downloads.js';
import type { MediaStore } from '../media/media-store.js';
import { findDelivery, type Delivery } from './delivery-repository.js';

export async function deliveryThere(db: Db, id: string): Promise<Delivery> {
  const delivery = await findDelivery(db, id);
  if (!delivery) throw notFound('delivery');
  return delivery;
}

/** Whether its render waits or is at work. */
export const isUnderWay = ({ state }: Pick<Delivery, 'state'>): boolean =>
  state === 'queued' || state === 'running';

/** A delivery whose files are there to be had. */
export interface Rendered {
  readonly delivery: Delivery;
  readonly folder: string;
  /** What the proof lists, and the proof: a path from outside can lead nowhere else. */
  readonly files: readonly Leaving[];
}

/** @throws ApiError when it is not rendered, or its files were cleared */
export async function demandRendered(db: Db, media: MediaStore, id: string): Promise<Rendered> {
  const delivery = await deliveryThere(db, id);
  if (delivery.clearedAt)
    throw new ApiError(410, msg('The files of this delivery were deleted. Render it again.'));
  if (!delivery.proof) throw new ApiError(409, msg('This delivery is not rendered.'));
  const folder = join(media.delivery(delivery.id), delivery.attempt, delivery.deliverable.name);
  const file = (name: string, bytes: number | null): Leaving => ({ name, path: join(folder, name), bytes });
  const listed = delivery.proof.files.map(({ path, bytes }) => file(path, bytes));
  return { delivery, folder, files: [...listed, file('proof.json', null)] };
}

/** The one of its files that a request names. @throws ApiError 404, or 409 where it is lost or cut */
export async function demandFile({ files }: Rendered, wanted: string): Promise<Leaving> {
  const file = files.find(({ name }) => name === wanted);
  if (!file) throw notFound('file');
  await demandWhole([file]);
  return file;
}

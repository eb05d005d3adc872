import { msg } from '@oiseau/messages';
import { stat } from 'node:fs/promises';
import type { Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { mastersOfAlbum } from '../masters/master-repository.js';
import { gigabytes, type MediaStore } from '../media/media-store.js';

/**
 * Lets so many bytes more into an album, what was decoded of its masters counted in.
 * @param most bytes of masters that one album may have
 * @throws ApiError 507
 */
export async function demandQuota(
  db: Db,
  media: MediaStore,
  albumId: string,
  bytes: number,
  most: number,
): Promise<void> {
  const masters = await mastersOfAlbum(db, albumId);
  const decoded = await Promise.all(
    masters.map(async ({ sha256, coding }) =>
      coding ? ((await stat(media.decoded(sha256)).catch(() => null))?.size ?? 0) : 0,
    ),
  );
  const held = masters.reduce((sum, master, i) => sum + master.bytes + (decoded[i] ?? 0), 0);
  if (held + bytes > most)
    throw new ApiError(
      507,
      msg('This album has {gigabytes} of masters; the maximum is {most}.', {
        gigabytes: gigabytes(held),
        most: gigabytes(most),
      }),
    );
}

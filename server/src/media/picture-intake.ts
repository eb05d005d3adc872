import { coverFacts, MOST_COVER_BYTES, MOST_COVER_PIXELS } from '@oiseau/host';
import type { Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import type { Arrival, MediaStore } from './media-store.js';
import { insertPicture } from './picture-repository.js';

/**
 * Keeps an arrival as a picture; of one that is refused nothing is kept. The arrival is gone afterwards.
 * @param name what somebody calls it
 * @throws ApiError for what is neither a JPEG nor a PNG that can be read, and for one that is too large to be a cover
 */
export async function keepPicture(db: Db, media: MediaStore, arrival: Arrival, name: string): Promise<void> {
  try {
    if (arrival.bytes > MOST_COVER_BYTES) throw tooHeavy(name);
    const facts = await coverFacts(arrival.path);
    if (!facts) throw new ApiError(415, `“${name}” isn’t a readable JPEG or PNG picture.`);
    const { width, height } = facts;
    if (width * height > MOST_COVER_PIXELS)
      throw new ApiError(
        422,
        `“${name}” has ${width} × ${height} pixels; the maximum is ${MOST_COVER_PIXELS / 1e6} million.`,
      );
    await media.keep(arrival);
    await insertPicture(
      db,
      { sha256: arrival.sha256, mediaType: `image/${facts.format}`, bytes: arrival.bytes },
      name,
    );
  } finally {
    await media.discard(arrival);
  }
}

export const tooHeavy = (name: string, cause?: unknown): ApiError =>
  new ApiError(413, `“${name}” is larger than 30 MB.`, {}, { cause });

import { msg } from '@oiseau/messages';
import { coverFacts, MOST_COVER_BYTES, MOST_COVER_PIXELS } from '@oiseau/host';
import type { Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import type { Arrival, MediaStore } from './media-store.js';
import { insertPicture } from './picture-repository.js';

/**
 * Keeps an arrival as a picture; of one that is refused nothing is kept. The arrival is gone afterwards.
 * @param name its file name
 * @throws ApiError for what is neither a JPEG nor a PNG that can be read, and for one that is too large to be a cover
 */
export async function keepPicture(db: Db, media: MediaStore, arrival: Arrival, name: string): Promise<void> {
  try {
    if (arrival.bytes > MOST_COVER_BYTES) throw tooHeavy(name);
    const facts = await coverFacts(arrival.path);
    if (!facts) throw new ApiError(415, msg('“{name}” isn’t a readable JPEG or PNG picture.', { name }));
    const { width, height } = facts;
    if (width * height > MOST_COVER_PIXELS)
      throw new ApiError(
        422,
        msg('“{name}” has {width} × {height} pixels; the maximum is {most} million.', {
          name,
          width,
          height,
          most: MOST_COVER_PIXELS / 1e6,
        }),
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
  new ApiError(413, msg('“{name}” is larger than 30 MB.', { name }), {}, { cause });

import { open } from 'node:fs/promises';
import type { Db } from '../db/database.js';
import type { Arrival, MediaStore } from './media-store.js';
import { insertPicture } from './picture-repository.js';

/** Keeps an arrival as a picture; false (and nothing is kept) when it is neither a JPEG nor a PNG. */
export async function keepPicture(
  db: Db,
  media: MediaStore,
  arrival: Arrival,
  name: string,
): Promise<boolean> {
  const mediaType = await mediaTypeOf(arrival.path);
  if (!mediaType) {
    await media.discard(arrival);
    return false;
  }
  await media.keep(arrival);
  await insertPicture(db, { sha256: arrival.sha256, mediaType }, name, arrival.bytes);
  return true;
}

async function mediaTypeOf(path: string): Promise<string | undefined> {
  const file = await open(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(8), 0, 8, 0);
    const hex = buffer.subarray(0, bytesRead).toString('hex');
    if (hex.startsWith('ffd8ff')) return 'image/jpeg';
    return hex === '89504e470d0a1a0a' ? 'image/png' : undefined;
  } finally {
    await file.close();
  }
}

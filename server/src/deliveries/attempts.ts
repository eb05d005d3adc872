import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Claim } from '../jobs/job-repository.js';
import type { MediaStore } from '../media/media-store.js';

/** Each attempt at a render has a folder of its own below the delivery's, so that no two workers ever meet in one. */
export const attemptOf = ({ id, claim }: Claim): string => `${id}-${claim}`;

const ATTEMPT = /^\d+-\d+$/;

/** Removes what other attempts have left of a delivery. @param kept the attempt that made its files, if one has */
export async function clearAttempts(media: MediaStore, deliveryId: string, kept?: string): Promise<void> {
  const folder = media.delivery(deliveryId);
  const names = await readdir(folder).catch(() => []);
  for (const name of names)
    if (name !== kept && (kept !== undefined || ATTEMPT.test(name) || name.endsWith('.partial')))
      await rm(join(folder, name), { recursive: true, force: true });
}

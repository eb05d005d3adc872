import { msg } from '@oiseau/messages';
import { rm, stat } from 'node:fs/promises';
import { AudioRefused, type PcmInfo } from '@oiseau/audio/pcm';
import { digestFile, prepareMaster } from '@oiseau/host';
import type { Db } from '../db/database.js';
import { JobFailed } from '../jobs/job-errors.js';
import type { MediaStore } from '../media/media-store.js';
import { noteDecoded, type MasterRecord } from './master-repository.js';

/** Whether the decoded audio of a coded master lies there as it was made. */
export async function isDecoded(media: MediaStore, master: MasterRecord): Promise<boolean> {
  const path = media.decoded(master.sha256);
  if (master.decodedSha256 === null || !(await isThere(path))) return false;
  return (await digestFile(path, 'sha256')) === master.decodedSha256;
}

export const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

/** Whether regions that were set in one find their samples in the other. */
const soundsAlike = (a: PcmInfo, b: PcmInfo): boolean =>
  a.rate === b.rate && a.length === b.length && a.format === b.format && a.channels === b.channels;

/**
 * Decodes a coded master once more from the file that was brought in: what was made of it is lost, or is not what it was.
 * @returns the SHA-256 of the decoded audio
 * @throws JobFailed where the file is not what it was either, or where another version of the decoder makes another length of it
 */
export async function decodeAgain(db: Db, media: MediaStore, master: MasterRecord): Promise<string> {
  const file = media.file(master.sha256);
  if (!(await isThere(file)) || (await digestFile(file, 'sha256')) !== master.sha256)
    throw new JobFailed(
      msg('The file of a compressed master is missing or has changed on disk. Add the same file again.'),
    );
  const scratch = media.scratch();
  try {
    const made = await prepareMaster(file, true, scratch, {
      demandRoom: (bytes) => media.demandRoom(bytes),
    });
    if (made.cover) await rm(made.cover, { force: true });
    if (!made.decoded || !soundsAlike(made.info, master.info))
      throw new JobFailed(
        msg('FFmpeg now decodes this master to a different length. Add it as a new master.'),
      );
    const sum = await digestFile(made.decoded, 'sha256');
    await media.keepDecoded(made.decoded, master.sha256);
    await noteDecoded(db, master.sha256, made.info, sum);
    return sum;
  } catch (error) {
    if (error instanceof AudioRefused) throw new JobFailed(error.words ?? error.message, { cause: error });
    throw error;
  } finally {
    await rm(scratch, { force: true });
  }
}

import { msg } from '@oiseau/messages';
import { PcmFileSource } from '@oiseau/audio/pcm';
import { SummedSource, systemCode } from '@oiseau/host';
import type { Db } from '../db/database.js';
import { JobFailed } from '../jobs/job-errors.js';
import type { MediaStore } from '../media/media-store.js';
import { decodeAgain, isThere } from './decoded.js';
import type { MasterRecord } from './master-repository.js';

/** The audio of a master for a job, which says in the end whether what was read was what its name says. */
export interface MasterAudio {
  readonly pcm: PcmFileSource;
  /** @throws JobFailed where the bytes that were read are not those that came in */
  attest(): Promise<void>;
  close(): Promise<void>;
}

/**
 * Opens the words of a master; decoded audio that is lost is made anew.
 * @param called what begins a sentence about it: “This master”, “The master “Tide””
 * @throws JobFailed where its file is lost or cut
 */
export async function openMasterAudio(
  db: Db,
  media: MediaStore,
  master: MasterRecord,
  called: string,
): Promise<MasterAudio> {
  const wanted = await sumOf(db, media, master);
  const bytes = await open(media, master, called);
  const whole = master.coding ? bytes.size : master.bytes;
  if (bytes.size !== whole) {
    await bytes.close();
    throw new JobFailed(
      msg(
        '{called} is truncated in the media store: {count} of {whole} bytes are left. Add the same file again to repair it.',
        { called, count: bytes.size, whole },
      ),
    );
  }
  return {
    pcm: new PcmFileSource(master.info, bytes),
    attest: async () => {
      if ((await bytes.sum()) === wanted) return;
      if (master.coding) await decodeAgain(db, media, master);
      throw new JobFailed(
        master.coding
          ? msg('{called} was decoded again because its decoded copy had changed on disk. Render again.', {
              called,
            })
          : msg(
              '{called} has changed on disk since it was added. Add the same file again, then render again.',
              { called },
            ),
      );
    },
    close: () => bytes.close(),
  };
}

/** The SHA-256 that the words of a master must have; where it is not known or they are lost, they are decoded once more. */
async function sumOf(db: Db, media: MediaStore, master: MasterRecord): Promise<string> {
  if (!master.coding) return master.sha256;
  if (master.decodedSha256 !== null && (await isThere(media.decoded(master.sha256))))
    return master.decodedSha256;
  return decodeAgain(db, media, master);
}

async function open(media: MediaStore, master: MasterRecord, called: string): Promise<SummedSource> {
  try {
    return await SummedSource.open(media.audio(master));
  } catch (cause) {
    if (systemCode(cause) !== 'ENOENT') throw cause;
    throw new JobFailed(
      msg('{called} is missing from the media store. Add the same file again to repair it.', { called }),
      {
        cause,
      },
    );
  }
}

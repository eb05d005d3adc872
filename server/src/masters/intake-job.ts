import { msg } from '@oiseau/messages';
import { AudioRefused } from '@oiseau/audio/pcm';
import { noteBrought } from '../access/authorization.js';
import { untilBack } from '../db/away.js';
import type { Database } from '../db/database.js';
import { JobFailed, JobStopped } from '../jobs/job-errors.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';
import type { MediaStore } from '../media/media-store.js';
import { handedOver } from '../media/uploads.js';
import { admit } from './admission.js';
import { findIntake, storeRefusal, storeTaken } from './intake-repository.js';
import { linkMaster } from './master-repository.js';

/** Takes a coded file in that was sent by pieces: decodes it, stores it and gives it to its album. A file that is refused is told of, and is no failure. */
export async function intakeJob(
  db: Database,
  media: MediaStore,
  id: string,
  progress: ProgressReporter,
): Promise<void> {
  const intake = await findIntake(db, id);
  if (!intake) throw new JobFailed(msg('The file no longer exists.'));
  const { albumId, name, mono, replaces, awaits, keyId, opensAll, taken } = intake;
  // An earlier attempt may have come to its end and not have said so.
  if (taken) return;
  const upload = handedOver(media, intake.upload);
  try {
    const arrival = await media.hashed(upload.path);
    await progress.report('decode', 0, 0);
    await admit(db, media, arrival, { name, mono }, (seconds, share) =>
      progress.report('decode', share, seconds),
    );
    const { sha256, bytes } = arrival;
    await noteBrought(db, { keyId, opensAll }, sha256);
    if (sha256 === replaces) {
      const why = msg('“{name}” is identical to the current file.', { name });
      await untilBack(() => storeRefusal(db, id, { reason: 'same', why }));
      return await upload.forget();
    }
    await untilBack(async () => {
      const known = await linkMaster(db, albumId, sha256, name, { replaces, awaits });
      await storeTaken(db, id, { sha256, bytes, known });
    });
    await upload.forget();
  } catch (error) {
    if (error instanceof JobStopped) await upload.forget();
    if (!(error instanceof AudioRefused)) throw error;
    const { reason, message, words } = error;
    await untilBack(() => storeRefusal(db, id, { reason, why: words ?? message }));
    // A mono file can be accepted later without a second upload.
    await (reason === 'mono' ? upload.giveBack() : upload.forget());
  }
}

import { msg } from '@oiseau/messages';
import { measureHere, measureMaster } from '@oiseau/audio/measure';
import type { BesideIt } from '@oiseau/host';
import { untilBack } from '../db/away.js';
import type { Database } from '../db/database.js';
import { openMasterAudio } from './master-audio.js';
import { findMaster, storeMeasurement } from './master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { JobFailed } from '../jobs/job-errors.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';

/** Measures one master from end to end, in one pass, in stretches, and stores its figures and silhouette. */
export async function measureJob(
  db: Database,
  media: MediaStore,
  sha256: string,
  progress: ProgressReporter,
  beside: BesideIt | null,
): Promise<void> {
  const master = await findMaster(db, sha256);
  if (!master) throw new JobFailed(msg('The master no longer exists.'));
  const audio = await openMasterAudio(db, media, master, 'This master');
  try {
    const source = audio.pcm;
    const { measurement, silhouette, powers } = await measureMaster(
      source,
      beside?.threads.measurer(beside.share) ?? measureHere,
      (share) => progress.report('measure', share, (share * source.length) / source.rate),
    );
    await audio.attest();
    const bytesOf = ({ buffer, byteOffset, byteLength }: Uint16Array | Float32Array): Buffer =>
      Buffer.from(buffer, byteOffset, byteLength);
    await untilBack(() =>
      storeMeasurement(
        db,
        sha256,
        measurement,
        bytesOf(silhouette.values),
        bytesOf(Float32Array.from(powers)),
      ),
    );
  } finally {
    await audio.close();
  }
}

import { Meters, PcmFileSource, readThrough, SilhouetteMeter } from '@oiseau/core';
import { FileByteSource } from '@oiseau/host';
import type { Database } from '../db/database.js';
import { findMaster, storeMeasurement } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { JobFailed } from './job-errors.js';
import type { ProgressReporter } from './progress-reporter.js';

/** Measures one master from end to end, in one pass, and stores its figures and silhouette. */
export async function measureJob(
  db: Database,
  media: MediaStore,
  sha256: string,
  progress: ProgressReporter,
): Promise<void> {
  const master = await findMaster(db, sha256);
  if (!master) throw new JobFailed('The master is not known any more.');
  const bytes = await FileByteSource.open(media.file(sha256));
  try {
    const source = new PcmFileSource(master.info, bytes);
    const meters = new Meters(source.rate, source.format);
    const outline = new SilhouetteMeter(source.rate, source.length);
    await readThrough(
      source,
      (block) => {
        meters.push(block);
        outline.push(block);
      },
      (share) => progress.report('measure', share, (share * source.length) / source.rate),
    );
    const { values } = outline.result();
    await storeMeasurement(
      db,
      sha256,
      meters.result(),
      Buffer.from(values.buffer, values.byteOffset, values.byteLength),
    );
  } finally {
    await bytes.close();
  }
}

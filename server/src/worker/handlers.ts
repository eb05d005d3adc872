import { msg } from '@oiseau/messages';
import type { BesideIt } from '@oiseau/host';
import type { Database } from '../db/database.js';
import type { MediaStore } from '../media/media-store.js';
import { JobFailed } from '../jobs/job-errors.js';
import { isJobKind, type JobKind } from '../jobs/job-kinds.js';
import { intakeJob } from '../masters/intake-job.js';
import { measureJob } from '../masters/measure-job.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';
import { untilBack } from '../db/away.js';
import { storeVerifyReport } from '../maintenance/report-repository.js';
import { verifyStore } from '../maintenance/verify.js';
import { measureSoundJob } from '../sounds/measure-sound-job.js';
import { followJob, handoverJob } from '../handovers/handover-job.js';
import { renderJob } from '../deliveries/render-job.js';

/** Does a job. @param subject what it is about: the SHA-256 of a master, the id of a file on its way in, of a sound, a delivery or a hand-over, `store`; `beside`: threads that help, and how many of them */
export type JobHandler = (
  db: Database,
  media: MediaStore,
  subject: string,
  progress: ProgressReporter,
  beside: BesideIt | null,
) => Promise<void>;

/** Goes over everything that is kept, and keeps what came of it. */
const verifyJob: JobHandler = async (db, media, _subject, progress) => {
  const report = await verifyStore(db, media, (done, total) =>
    progress.report('verify', total > 0 ? done / total : 1, 0),
  );
  await untilBack(() => storeVerifyReport(db, report));
};

/** What each kind of job does. */
const HANDLERS: Readonly<Record<JobKind, JobHandler>> = {
  intake: intakeJob,
  measure: measureJob,
  sound: measureSoundJob,
  render: renderJob,
  verify: verifyJob,
  handover: handoverJob,
  follow: followJob,
};

/** @throws JobFailed for a kind that this version does not know: a later one has queued it */
export function handlerOf(kind: string): JobHandler {
  if (!isJobKind(kind)) throw new JobFailed(msg('This version of Oiseau has no job “{kind}”.', { kind }));
  return HANDLERS[kind];
}

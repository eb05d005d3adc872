import { Failure } from '@oiseau/audio/errors';

/** The job was stopped by a user. */
export class JobStopped extends Error {
  override readonly name = 'JobStopped';
}

/** The worker is shutting down; the job goes back into the queue. */
export class WorkerLeaving extends Error {
  override readonly name = 'WorkerLeaving';
}

/** A job that can't be done, with the sentence that says why. */
export class JobFailed extends Failure {
  override readonly name = 'JobFailed';
  readonly code = 'job-failed';
  readonly status = 422;
}

/** The job is another worker's by now: this one was taken for dead. It gives up silently. */
export class JobLost extends Error {
  override readonly name = 'JobLost';
}

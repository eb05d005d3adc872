import { Failure, type FailureStatus } from '@oiseau/audio/errors';

/** A refusal with the sentence that the person gets to read, and the HTTP status that goes with it. */
export class ApiError extends Failure {
  override readonly name = 'ApiError';
  readonly code = 'refused';
  constructor(
    readonly status: FailureStatus,
    message: string,
    /** Further facts for the interface, such as the newer version that stands in the way. */
    details: Readonly<Record<string, unknown>> = {},
    options: ErrorOptions = {},
  ) {
    super(message, { ...options, details });
  }
}

/** A body that is not what its media type says. */
export class UnreadableBody extends Failure {
  override readonly name = 'UnreadableBody';
  readonly code = 'unreadable';
  readonly status = 400;
  constructor(options: ErrorOptions = {}) {
    super('The request could not be read.', options);
  }
}

export const notFound = (what: string): ApiError => new ApiError(404, `This ${what} doesn’t exist.`);

/** What came of a failure over HTTP: whose fault it was, in the numbers of RFC 9110; 507 is a full disk. */
export type FailureStatus =
  400 | 401 | 403 | 404 | 405 | 408 | 409 | 410 | 413 | 415 | 421 | 422 | 429 | 500 | 503 | 507;

export interface FailureOptions extends ErrorOptions {
  /** Further facts for an interface: the reason of a refusal, the version that stands in the way. */
  readonly details?: Readonly<Record<string, unknown>>;
}

/**
 * Something that was not done, told to a person in one sentence (the message), to a program by `code`. Every error that people are meant to
 * read is one; anything else is a fault of the program.
 */
export abstract class Failure extends Error {
  /** In small letters with hyphens, the same whatever the sentence says. */
  abstract readonly code: string;
  abstract readonly status: FailureStatus;
  readonly details: Readonly<Record<string, unknown>>;

  constructor(message: string, { details = {}, ...options }: FailureOptions = {}) {
    super(message, options);
    this.details = details;
  }
}

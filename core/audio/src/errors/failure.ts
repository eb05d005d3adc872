import { english, type Message } from '@oiseau/messages';
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

  /** The sentence as a message, for a client that words it; null: only its English is known. */
  readonly words: Message | null;

  constructor(message: string | Message, { details = {}, ...options }: FailureOptions = {}) {
    super(typeof message === 'string' ? message : english(message), options);
    this.words = typeof message === 'string' ? null : message;
    this.details = details;
  }
}

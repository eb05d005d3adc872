import { msg, type Message } from '@oiseau/messages';
import { Failure, type FailureStatus } from '@oiseau/audio/errors';

/** A refusal with the sentence that the person gets to read, and the HTTP status that goes with it. */
export class ApiError extends Failure {
  override readonly name = 'ApiError';
  readonly code = 'refused';
  constructor(
    readonly status: FailureStatus,
    message: string | Message,
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
    super(msg('The request could not be read.'), options);
  }
}

const NOT_FOUND = {
  address: msg('This address doesn’t exist.'),
  album: msg('This album doesn’t exist.'),
  audio: msg('This file has no audio.'),
  cover: msg('This cover doesn’t exist.'),
  'deleted album': msg('This deleted album doesn’t exist.'),
  deliverable: msg('This deliverable doesn’t exist.'),
  delivery: msg('This delivery doesn’t exist.'),
  disc: msg('This disc doesn’t exist.'),
  edition: msg('This edition doesn’t exist.'),
  drive: msg('This drive doesn’t exist.'),
  file: msg('This file doesn’t exist.'),
  handover: msg('This delivery doesn’t exist.'),
  image: msg('This image doesn’t exist.'),
  intake: msg('This upload doesn’t exist.'),
  invitation: msg('This link doesn’t exist.'),
  key: msg('This access doesn’t exist.'),
  listener: msg('This listener doesn’t exist.'),
  master: msg('This master doesn’t exist.'),
  measurement: msg('This isn’t measured yet.'),
  note: msg('This note doesn’t exist.'),
  part: msg('This part doesn’t exist.'),
  picture: msg('This picture doesn’t exist.'),
  receiver: msg('This recipient doesn’t exist.'),
  revision: msg('This revision doesn’t exist.'),
  sound: msg('This treatment doesn’t exist.'),
  upload: msg('This upload doesn’t exist.'),
  waveform: msg('This has no waveform yet.'),
} as const satisfies Readonly<Record<string, Message>>;

/** What can be asked for and not be there. */
export type Missing = keyof typeof NOT_FOUND;

export const notFound = (what: Missing): ApiError => new ApiError(404, NOT_FOUND[what]);

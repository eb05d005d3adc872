import { type Message } from '@oiseau/messages';
import { Failure, type FailureOptions } from '../errors/failure.js';

/** Why a file can't be used as audio. The sentence is for the person who brought the file. */
export type RefusalReason =
  | 'empty'
  | 'not-audio'
  | 'truncated'
  | 'mono'
  | 'too-many-channels'
  | 'unsupported-words'
  | 'unsupported-rate'
  | 'damaged-header'
  | 'damaged-audio'
  | 'too-long'
  | 'too-many-tags'
  | 'wrong-extension';

/** A file that can't be a master. */
export class AudioRefused extends Failure {
  override readonly name = 'AudioRefused';
  readonly code = 'audio-refused';
  readonly status = 415;
  constructor(
    readonly reason: RefusalReason,
    message: string | Message,
    options?: FailureOptions,
  ) {
    super(message, { ...options, details: { reason } });
  }
}

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
  | 'wrong-extension';

export class AudioRefused extends Error {
  override readonly name = 'AudioRefused';
  constructor(
    readonly reason: RefusalReason,
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

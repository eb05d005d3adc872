/** 0: all right · 1: the album or a file breaks a rule · 2: the call or a file can't be used (docs/album-file.md 1.1). */
export type ExitStatus = 0 | 1 | 2;

/** Ends a command with status 2; the message is one clear line or more. */
export class UsageError extends Error {
  override readonly name = 'UsageError';
}

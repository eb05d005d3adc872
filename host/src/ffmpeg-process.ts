import { msg, type Message } from '@oiseau/messages';
import { spawn, type ChildProcess, type ChildProcessWithoutNullStreams } from 'node:child_process';
import { Writable } from 'node:stream';
import { Failure, type FailureOptions } from '@oiseau/audio/errors';
import { fenced } from './fenced.js';

export type CodecFault = 'codec' | 'ENOSPC' | 'ended';

/** FFmpeg did not do what it was asked; the message carries its own last words. */
export class CodecError extends Failure {
  override readonly name = 'CodecError';
  /** `codec`: the audio is at fault; `ENOSPC`: the disk is full; `ended`: something else has ended FFmpeg, or it could not begin. */
  readonly code: CodecFault;
  readonly status = 500;
  constructor(
    message: string | Message,
    { code = 'codec', ...options }: FailureOptions & { readonly code?: CodecFault } = {},
  ) {
    super(message, options);
    this.code = code;
  }
}

export interface Running {
  readonly child: ChildProcess;
  /** Resolves when it ended well; rejects with a CodecError otherwise. */
  readonly done: Promise<void>;
}

/** FFmpeg names files by their whole path, which concerns this machine only. */
const withoutPaths = (words: string): string => words.replace(/(?:file:)?(?:\/[^/\s:]+)+\/([^/\s:]*)/g, '$1');

/**
 * Starts FFmpeg with its input and output piped; `what` completes “FFmpeg failed to …”.
 * @param third what it can read at `pipe:3`
 */
export function startFfmpeg(args: readonly string[], what: string, third: string | null = null): Running {
  const command = fenced('ffmpeg', ['-hide_banner', '-nostdin', '-v', 'error', ...args]);
  const child = spawn(command.file, command.args, {
    stdio: third === null ? ['pipe', 'pipe', 'pipe'] : ['pipe', 'pipe', 'pipe', 'pipe'],
    env: command.env,
  }) as ChildProcessWithoutNullStreams;
  const more = child.stdio[3];
  if (more instanceof Writable) more.on('error', () => undefined).end(third);
  let words = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (words = (words + text).slice(-2000)));
  // A writer that goes on after the process has died gets EPIPE; the exit status tells the real reason.
  child.stdin.on('error', () => undefined);
  const done = new Promise<void>((resolve, reject) => {
    child.once('error', (cause) =>
      reject(
        new CodecError(
          msg('FFmpeg could not be started to {what}: {message}', { what, message: cause.message }),
          { code: 'ended', cause },
        ),
      ),
    );
    child.once('close', (code, signal) => {
      // Only its words tell of a full disk: its exit status is 1 for everything, and 0 when the very end could not be written.
      const full = words.includes('No space left on device');
      if (code === 0 && !full) resolve();
      else
        reject(
          new CodecError(
            msg('FFmpeg failed to {what} ({signal}): {reason}', {
              what,
              signal: signal ?? `status ${code}`,
              reason: withoutPaths(words.trim().split('\n').at(-1) ?? ''),
            }),
            { code: full ? 'ENOSPC' : signal ? 'ended' : 'codec' },
          ),
        );
    });
  });
  done.catch(() => undefined);
  return { child, done };
}

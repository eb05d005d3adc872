import { execFile } from 'node:child_process';
import { encodeWords, wavHeader } from '@oiseau/audio/pcm';

/** The command line as a person runs it, for tests; nothing in the product imports this. */

interface Run {
  readonly status: number;
  readonly out: string;
  readonly err: string;
}

/** Runs the command line. @param env more variables of its environment */
export const runOiseau = (args: readonly string[], env: NodeJS.ProcessEnv = {}): Promise<Run> =>
  new Promise((resolve) => {
    execFile(
      process.execPath,
      ['cli/bin/oiseau.mjs', ...args],
      { env: { ...process.env, ...env } },
      (error, out, err) => resolve({ status: typeof error?.code === 'number' ? error.code : 0, out, err }),
    );
  });

/** Five seconds of a sine, 44.1 kHz and 16 bit, as a WAV file. */
export function toneFile(hz: number): Buffer {
  const left = Float64Array.from(
    { length: 5 * 44_100 },
    (_, n) => 0.5 * Math.sin((2 * Math.PI * hz * n) / 44_100),
  );
  return Buffer.concat([
    wavHeader('int16', 44_100, left.length),
    encodeWords({ left, right: left }, 'int16'),
  ]);
}

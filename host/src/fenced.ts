import { msg } from '@oiseau/messages';
import { accessSync, constants } from 'node:fs';
import { delimiter, join } from 'node:path';
import { Failure } from '@oiseau/audio/errors';

/** Processor time that one run of FFmpeg may take: a day of audio is coded in a fraction of it. */
const CPU_SECONDS = 4 * 3600;
const FILES = 64;
/** Bytes of memory that it may ask for. */
const MEMORY = 4e9;

const known = new Map<string, boolean>();

/** Whether a program is on this machine; looked up once for each PATH while it is. */
function isHere(program: string): boolean {
  const key = `${program} on ${process.env.PATH ?? ''}`;
  if (known.get(key)) return true;
  const found = isOnPath(program);
  known.set(key, found);
  return found;
}

function isOnPath(program: string): boolean {
  return (process.env.PATH ?? '').split(delimiter).some((folder) => {
    try {
      accessSync(join(folder, program), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });
}

/** What stands before a program that reads files of strangers: limits, and no way to more rights than it has (util-linux). */
function fenceOf(cpuSeconds: number): readonly string[] {
  return [
    ...(isHere('prlimit')
      ? ['prlimit', `--cpu=${cpuSeconds}`, `--nofile=${FILES}`, `--as=${MEMORY}`, '--core=0', '--']
      : []),
    ...(isHere('setpriv')
      ? ['setpriv', '--no-new-privs', '--bounding-set=-all', '--inh-caps=-all', '--']
      : []),
  ];
}

/** A program that isn't installed: not the fault of a file. */
export class ProgramMissing extends Failure {
  override readonly name = 'ProgramMissing';
  readonly code = 'program-missing';
  readonly status = 503;
  constructor(program: string) {
    super(
      msg(
        '{program} is not installed. Nothing was changed. Install it (sudo apt-get install ffmpeg) and try again.',
        { program },
      ),
    );
  }
}

/**
 * A command behind the fence, and the environment that it gets: nothing of ours but where programs lie.
 * @throws ProgramMissing
 */
export function fenced(
  program: string,
  args: readonly string[],
  cpuSeconds = CPU_SECONDS,
): { file: string; args: string[]; env: NodeJS.ProcessEnv } {
  if (!isHere(program)) throw new ProgramMissing(program);
  const [file = program, ...rest] = [...fenceOf(cpuSeconds), program, ...args];
  return { file, args: rest, env: { PATH: process.env.PATH, LC_ALL: 'C' } };
}

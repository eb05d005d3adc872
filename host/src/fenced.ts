import { accessSync, constants } from 'node:fs';
import { delimiter, join } from 'node:path';

/** Processor time that one run of FFmpeg may take: a day of audio is coded in a fraction of it. */
const CPU_SECONDS = 4 * 3600;
const FILES = 64;

/** Whether a program is on this machine. */
function isHere(program: string): boolean {
  return (process.env.PATH ?? '').split(delimiter).some((folder) => {
    try {
      accessSync(join(folder, program), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });
}

let fence: readonly string[] | undefined;

/** What stands before a program that reads files of strangers: limits, and no way to more rights than it has (util-linux). */
function fenceHere(): readonly string[] {
  fence ??= [
    ...(isHere('prlimit') ? ['prlimit', `--cpu=${CPU_SECONDS}`, `--nofile=${FILES}`, '--core=0', '--'] : []),
    ...(isHere('setpriv')
      ? ['setpriv', '--no-new-privs', '--bounding-set=-all', '--inh-caps=-all', '--']
      : []),
  ];
  return fence;
}

/** A command behind the fence, and the environment that it gets: nothing of ours but where programs lie. */
export function fenced(
  program: string,
  args: readonly string[],
): { file: string; args: string[]; env: NodeJS.ProcessEnv } {
  const [file = program, ...rest] = [...fenceHere(), program, ...args];
  return { file, args: rest, env: { PATH: process.env.PATH, LC_ALL: 'C' } };
}

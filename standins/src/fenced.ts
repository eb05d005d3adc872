import { accessSync, constants } from 'node:fs';
import { delimiter, join } from 'node:path';

/** What one run of FFmpeg may take of the machine: seconds of processor time, bytes of memory, open files. */
const LIMITS = ['--cpu=3600', '--as=4000000000', '--nofile=64', '--core=0'];

const isHere = (program: string): boolean =>
  (process.env.PATH ?? '').split(delimiter).some((folder) => {
    try {
      accessSync(join(folder, program), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });

/** FFmpeg reads a file as one of these, by its first bytes, and as nothing else: no playlist that names other files. */
const FORMS: readonly (readonly [form: string, at: number, bytes: string])[] = [
  ['flac', 0, 'fLaC'],
  ['wav', 0, 'RIFF'],
  ['wav', 0, 'RF64'],
  ['aiff', 0, 'FORM'],
  ['ogg', 0, 'OggS'],
  ['mov', 4, 'ftyp'],
  ['mp3', 0, 'ID3'],
];

export function formOf(head: Buffer): string {
  const known = FORMS.find(([, at, bytes]) => head.toString('latin1', at, at + bytes.length) === bytes);
  return known?.[0] ?? 'mp3';
}

/**
 * FFmpeg on a received file, in the same sandbox as the server's: limits, no way to more rights, no address, no other file, and
 * nothing of our environment.
 */
export function fencedFfmpeg(
  path: string,
  head: Buffer,
  args: readonly string[],
): { file: string; args: string[]; env: NodeJS.ProcessEnv } {
  const form = formOf(head);
  const fence = [
    ...(isHere('prlimit') ? ['prlimit', ...LIMITS, '--'] : []),
    ...(isHere('setpriv')
      ? ['setpriv', '--no-new-privs', '--bounding-set=-all', '--inh-caps=-all', '--']
      : []),
  ];
  const input = [
    '-f',
    form,
    '-format_whitelist',
    form,
    '-protocol_whitelist',
    'file',
    '-max_pixels',
    '50000000',
  ];
  const [file = 'ffmpeg', ...rest] = [
    ...fence,
    'ffmpeg',
    '-nostdin',
    ...input,
    '-i',
    `file:${path}`,
    ...args,
  ];
  return { file, args: rest, env: { PATH: process.env.PATH, LC_ALL: 'C' } };
}

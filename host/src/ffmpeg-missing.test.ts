import { execFileSync } from 'node:child_process';
import { chmod, mkdir, mkdtemp, readdir, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { isDiskFull } from './errors.js';
import { CodecError } from './ffmpeg-process.js';
import { ProgramMissing } from './fenced.js';
import { prepareMaster } from './master-intake.js';

const { PATH } = process.env;
const which = (program: string): string =>
  execFileSync('sh', ['-c', `command -v ${program}`], { encoding: 'utf8' }).trim();

let folder: string;
let master: string;
let bin: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-missing-'));
  master = join(folder, 'whole.flac');
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=440:d=1', '-ac', '2', master]);
  bin = join(folder, 'bin');
  await mkdir(bin);
  for (const program of ['ffprobe', 'prlimit', 'setpriv', 'sh', 'kill'])
    await symlink(which(program), join(bin, program));
});
afterEach(() => {
  process.env.PATH = PATH;
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** A machine on which FFmpeg does what a script does; undefined: it has none. */
async function machineWith(script?: string): Promise<void> {
  const ffmpeg = join(bin, 'ffmpeg');
  await rm(ffmpeg, { force: true });
  if (script !== undefined) {
    await writeFile(ffmpeg, `#!/bin/sh\n${script}\n`);
    await chmod(ffmpeg, 0o755);
  }
  process.env.PATH = bin;
}

const takeIn = (): Promise<unknown> =>
  prepareMaster(master, false, join(folder, 'decoded.wav')).then(
    () => undefined,
    (error: unknown) => error,
  );

it('a machine without FFmpeg says so, and calls no file damaged', async () => {
  await machineWith();
  expect(await takeIn()).toMatchObject({
    name: ProgramMissing.prototype.constructor.name,
    message:
      'ffmpeg is not installed. Nothing was changed. Install it (sudo apt-get install ffmpeg) and try again.',
    status: 503,
  });
});

it.each([
  ['is killed', 'kill -9 $$', 'ended', false],
  ['finds the disk full', 'echo "x: No space left on device" >&2; exit 1', 'ENOSPC', true],
])('a file at which FFmpeg %s is not called damaged, and nothing is left', async (_, script, code, full) => {
  await machineWith(script);
  const error = await takeIn();
  expect(error).toBeInstanceOf(CodecError);
  expect(error).toMatchObject({ code });
  expect(isDiskFull(error)).toBe(full);
  expect((await readdir(folder)).filter((name) => name.startsWith('decoded'))).toEqual([]);
});

it('a file that FFmpeg itself refuses is', async () => {
  await machineWith('echo "Invalid data found" >&2; exit 1');
  expect(await takeIn()).toMatchObject({ reason: 'damaged-audio' });
});

import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, readFile, mkdir, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { VERSION } from '@oiseau/render';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

let folder: string;
let temporary: string;
let album: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-cli-usage-'));
  temporary = join(folder, 'temporary');
  await mkdir(temporary);
  // A coded master lies decoded in a temporary file while it is read.
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'anoisesrc=d=240:r=44100:a=0.2', '-ac', '2'],
    ...['-c:a', 'flac', join(folder, 'noise.flac')],
  ]);
  album = join(folder, 'album.json');
  await writeFile(
    album,
    JSON.stringify({
      ...{ format: 'oiseau-album', version: 1, title: 'Long' },
      tracks: [{ master: 'noise.flac', title: 'Noise' }],
      deliverables: [{ name: 'files', kind: 'tracks', format: 'mp3' }],
    }),
  );
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const start = (...args: string[]) =>
  spawn(process.execPath, ['cli/bin/oiseau.mjs', ...args], { env: { ...process.env, TMPDIR: temporary } });
async function oiseau(...args: string[]): Promise<{ status: number | null; out: string; err: string }> {
  const child = start(...args);
  let [out, err] = ['', ''];
  child.stdout.on('data', (text) => (out += String(text)));
  child.stderr.on('data', (text) => (err += String(text)));
  const [status] = (await once(child, 'close')) as [number | null];
  return { status, out, err };
}

describe('oiseau', () => {
  it.each(['--help', '-h'])('says how it is called: %s', async (flag) => {
    const { status, out, err } = await oiseau(flag);
    expect([status, err]).toEqual([0, '']);
    for (const command of ['render', 'check', 'parts', 'inspect']) expect(out).toContain(`oiseau ${command}`);
  });

  it.each(['render', 'check', 'parts', 'inspect'])('%s says how it is called', async (command) => {
    const { status, out, err } = await oiseau(command, '--help');
    expect([status, err]).toEqual([0, '']);
    expect(out).toContain(`oiseau ${command}`);
    // The manual page knows every option.
    const manual = (await readFile('docs/oiseau.1', 'utf8')).replaceAll('\\-', '-');
    for (const option of out.match(/--[a-z]+/g) ?? []) expect(manual, option).toContain(option);
  });

  it.each([
    [[], 'Usage:'],
    [['nope'], 'Unknown command'],
    [['render', 'a.json'], "Required option '--out <dir>' not specified."],
    [['render', 'a.json', 'b.json', '--out', 'x'], 'Too many arguments'],
    [['render', '--only'], 'argument missing'],
    [['check', 'a.json', '--only', 'x'], "Unknown option '--only'."],
    [['inspect'], 'Missing required argument'],
  ])('refuses a call that is none in a sentence, with how it should be: %j', async (args, words) => {
    const { status, out, err } = await oiseau(...args);
    expect([status, out]).toEqual([2, '']);
    expect(err).toContain(words);
    expect(err).toContain('Usage:\n  oiseau ');
  });

  it('says its version', async () => {
    expect(await oiseau('--version')).toEqual({ status: 0, out: `${VERSION}\n`, err: '' });
  });

  it.each(['/proc/oiseau/deep', '/dev/null/x'])(
    'ends at once where nothing can be written: %s',
    async (out) => {
      const { status, err } = await oiseau('render', album, '--out', out);
      expect(status).toBe(2);
      expect(err).toContain(`${out}: could not be written (`);
      expect(await readdir(temporary)).toEqual([]);
    },
  );

  it.each(['SIGINT', 'SIGTERM'] as const)(
    'that is interrupted by %s leaves nothing half-done',
    async (signal) => {
      const out = join(folder, `out-${signal}`);
      const child = start('render', album, '--out', out);
      let said = '';
      const begun = new Promise<void>((resolve) =>
        child.stderr.on('data', (text) => {
          said += String(text);
          if (said.includes('render')) resolve();
        }),
      );
      await begun;
      child.kill(signal);
      const [status] = (await once(child, 'close')) as [number | null];
      expect(status).toBe(2);
      expect(said).toContain('Interrupted. Incomplete files were removed.');
      expect(await readdir(out)).toEqual([]);
      expect(await readdir(temporary)).toEqual([]);
    },
  );
});

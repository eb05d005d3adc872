import { execFile, execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, rm, symlink, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runOiseau, toneFile } from './testing.js';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-cli-'));
  for (const [name, hz] of [
    ['one.wav', 220],
    ['two.wav', 330],
  ] as const) {
    await writeFile(join(folder, name), toneFile(hz));
  }
  await writeFile(join(folder, 'cut.wav'), (await readFile(join(folder, 'one.wav'))).subarray(0, 1000));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

// What it decodes on the way lies in its own temporary folder, where a test can see that it is gone.
const oiseau = (...args: string[]) => runOiseau(args, { TMPDIR: folder });
async function file(name: string, change: object): Promise<string> {
  const path = join(folder, name);
  const album = {
    format: 'oiseau-album',
    version: 1,
    title: 'Nine Tides',
    upc: '2012345678903',
    tracks: [
      { master: 'one.wav', title: 'Lamp', isrc: 'ZZOIS2600001' },
      { master: 'two.wav', title: 'Ebb', isrc: 'ZZOIS2600002' },
    ],
    deliverables: [
      { name: 'image', kind: 'cue' },
      { name: 'files', kind: 'tracks', format: 'flac', bits: 16 },
    ],
  };
  await writeFile(path, JSON.stringify({ ...album, ...change }));
  return path;
}

describe('oiseau check', () => {
  it('is silent and 0 when nothing is wrong', async () => {
    expect(await oiseau('check', await file('right.json', {}))).toEqual({ status: 0, out: '', err: '' });
  });
  it('prints a line for each finding and is 1 when one is an error', async () => {
    const { status, out } = await oiseau(
      'check',
      await file('wrong.json', { upc: '123', tracks: [{ master: 'one.wav', gapBefore: 1, title: '' }] }),
    );
    expect(status).toBe(1);
    expect(out.trim().split('\n')).toEqual([
      'error: The first pause is 1.00 s; a disc needs at least 2 s.',
      'error: “123” isn’t a valid UPC/EAN. 3 digits; a UPC has 12, an EAN 13.',
      'warning track 1: The track has no title.',
      'hint: No track has an ISRC; stores ask for them.',
    ]);
  });
  it('is 0 with warnings alone', async () => {
    expect(await oiseau('check', await file('warned.json', { title: '' }))).toMatchObject({
      status: 0,
      out: 'warning: The album has no title.\n',
    });
  });
  it('says what was accepted, and why', async () => {
    const accepted = [{ code: 'upc-missing', track: null, reason: 'A demo.' }];
    expect(await oiseau('check', await file('accepted.json', { upc: '', accepted }))).toMatchObject({
      status: 0,
      out: 'hint: The album has no UPC/EAN; stores and plants ask for one. Accepted: “A demo.”\n',
    });
  });
  it.each<[string, object, RegExp]>([
    ['an unknown key', { colour: 1 }, /colour: unknown key/],
    ['a missing master', { tracks: [{ master: 'three.wav' }] }, /three\.wav: the master is missing/],
    ['a truncated master', { tracks: [{ master: 'cut.wav' }] }, /cut\.wav: The file is truncated/],
    [
      'a kind that does not exist',
      { deliverables: [{ name: 'plant', kind: 'tape' }] },
      /deliverables\[0\].*“tape” is unknown\. Use ddp, cue, tracks, continuous, cutting-room, package and listening/,
    ],
  ])('is 2 for %s', async (_, change, words) => {
    const { status, err } = await oiseau('check', await file('unusable.json', change));
    expect(status).toBe(2);
    expect(err).toMatch(words);
    expect(err).not.toMatch(/\n\s+at /);
  });
});

describe('oiseau render', () => {
  it('renders what is asked for and nothing else', async () => {
    const out = join(folder, 'out');
    const { status, err } = await oiseau(
      'render',
      await file('right.json', {}),
      '--out',
      out,
      '--only',
      'files',
    );
    expect(err).toContain('files: verified');
    expect(status).toBe(0);
    expect(await readdir(out)).toEqual(['files']);
    expect((await readdir(join(out, 'files'))).sort()).toEqual([
      '01 Lamp.flac',
      '02 Ebb.flac',
      'SHA256SUMS',
      'proof.json',
    ]);
  });
  it('renders a preset that the file does not name, and nothing else', async () => {
    const out = join(folder, 'presets');
    const { status, err } = await oiseau(
      'render',
      await file('right.json', {}),
      '--out',
      out,
      '--preset',
      'Video 48 kHz',
    );
    expect([status, err.includes('Video 48 kHz: verified')]).toEqual([0, true]);
    expect(await readdir(out)).toEqual(['Video 48 kHz']);
    expect((await readdir(join(out, 'Video 48 kHz'))).sort()).toEqual([
      '01 Lamp.wav',
      '02 Ebb.wav',
      'SHA256SUMS',
      'proof.json',
    ]);
  });
  it('makes the same image of the same words, whatever form the masters have', async () => {
    const image = async (...names: string[]): Promise<string> => {
      const out = join(folder, `forms of ${names.join(' ')}`);
      const tracks = names.map((master, i) => ({ master, title: `Song ${i + 1}` }));
      const { status, err } = await oiseau(
        'render',
        await file('forms.json', { tracks }),
        '--out',
        out,
        '--only',
        'image',
      );
      expect([status, err.includes('image: verified')]).toEqual([0, true]);
      return createHash('sha256')
        .update(await readFile(join(out, 'image', 'image.wav')))
        .digest('hex');
    };
    for (const name of ['one.flac', 'one.aiff'])
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(folder, 'one.wav'), join(folder, name)]);
    const wanted = await image('one.wav', 'two.wav');
    expect(await image('one.flac', 'two.wav')).toBe(wanted);
    expect(await image('one.aiff', 'two.wav')).toBe(wanted);
    expect((await readdir(folder)).filter((name) => name.startsWith('oiseau-decoded-'))).toEqual([]);
  });
  it('writes nothing while the album has errors', async () => {
    const out = join(folder, 'none');
    expect((await oiseau('render', await file('wrong.json', { upc: '123' }), '--out', out)).status).toBe(1);
    await expect(readdir(out)).rejects.toThrow('ENOENT');
  });
  it.each([
    [['--only', 'tape'], /--only tape: no such deliverable\. Available: image, files/],
    [['--only'], /Option '--only <name...>' argument missing/],
    [['--preset', 'vinyl'], /--preset vinyl: no such preset\. Available: plant, disc image/],
    [['--wrong'], /--wrong/],
  ])('is 2 for %j', async (extra, words) => {
    const { status, err } = await oiseau(
      'render',
      await file('right.json', {}),
      '--out',
      join(folder, 'x'),
      ...extra,
    );
    expect(status).toBe(2);
    expect(err).toMatch(words);
  });
});

describe('oiseau inspect', () => {
  it('tells what a master holds', async () => {
    const { status, out } = await oiseau('inspect', join(folder, 'one.wav'));
    expect(status).toBe(0);
    const found = JSON.parse(out) as { measure: { samplePeakDbfs: number } };
    expect(found).toMatchObject({
      kind: 'audio',
      audio: { rate: 44_100, channels: 2, bits: 16, frames: 220_500, seconds: 5 },
      disc: null,
      problems: [],
    });
    // Amplitude ½: −6.02 dBFS
    expect(found.measure.samplePeakDbfs).toBeCloseTo(-6.02, 2);
  });
  it('tells what AIFF and coded files hold, their tags included', async () => {
    execFileSync('ffmpeg', [
      ...[
        '-v',
        'error',
        '-y',
        '-i',
        join(folder, 'one.wav'),
        '-metadata',
        'title=Ebb',
        join(folder, 'tagged.flac'),
      ],
    ]);
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(folder, 'two.wav'), join(folder, 'two.aiff')]);
    const { status, out } = await oiseau('inspect', join(folder, 'tagged.flac'), join(folder, 'two.aiff'));
    expect(status).toBe(0);
    const [flac, aiff] = JSON.parse(out) as {
      audio: object;
      tags: object;
      measure: { samplePeakDbfs: number };
    }[];
    expect(flac).toMatchObject({
      audio: { rate: 44_100, bits: 16, frames: 220_500 },
      tags: { TITLE: 'Ebb' },
    });
    expect(aiff).toMatchObject({ audio: { rate: 44_100, bits: 16, channels: 2, frames: 220_500 } });
    expect(aiff?.measure.samplePeakDbfs).toBeCloseTo(-6.02, 2);
  });
  it('tells what a disc image holds', async () => {
    const out = join(folder, 'disc');
    await oiseau(
      'render',
      await file('coded.json', {
        upc: '2012345678903',
        tracks: [{ master: 'one.wav', title: 'Lamp', isrc: 'ZZOIS2600001' }, { master: 'two.wav' }],
      }),
      '--out',
      out,
      '--only',
      'image',
    );
    const inspected = await oiseau('inspect', join(out, 'image', 'image.cue'));
    expect(inspected.status).toBe(0);
    // Song 1 from 00:02:00 for 5 s; pause at 7 s = 525, song 2 at 9 s = 675 frames
    expect(JSON.parse(inspected.out)).toMatchObject({
      kind: 'cue',
      disc: {
        upc: '2012345678903',
        marks: [
          { track: 1, index: 1, frames: 150, isrc: 'ZZOIS2600001' },
          { track: 2, index: 0, frames: 525, isrc: '' },
          { track: 2, index: 1, frames: 675, isrc: '' },
        ],
      },
      problems: [],
    });
  });
  it('tells what a folder for a pressing plant holds, and what is wrong with it', async () => {
    const out = join(folder, 'pressing');
    const deliverables = [
      { name: 'plant', kind: 'ddp' },
      { name: 'radio', kind: 'tracks', format: 'mp3', bitrate: 128 },
      { name: 'whole', kind: 'continuous', format: 'flac', bits: 24, rate: 48_000 },
    ];
    const tracks = [
      { master: 'one.wav', title: 'Lamp', isrc: 'ZZOIS2600001', copyPermitted: true },
      { master: 'two.wav', title: 'Ebb' },
    ];
    const album = await file('pressing.json', {
      title: 'Nine Tides',
      upc: '2012345678903',
      tracks,
      deliverables,
    });
    const rendered = await oiseau('render', album, '--out', out);
    expect(rendered).toMatchObject({ status: 0 });
    expect((await readdir(join(out, 'plant'))).sort()).toEqual(
      ['CDTEXT.BIN', 'DDPID', 'DDPMS', 'IMAGE.DAT', 'MD5SUMS', 'PQDESCR', 'SHA256SUMS', 'proof.json'].sort(),
    );
    expect((await readdir(join(out, 'radio'))).sort()).toEqual([
      '01 Lamp.mp3',
      '02 Ebb.mp3',
      'SHA256SUMS',
      'proof.json',
    ]);
    expect((await readdir(join(out, 'whole'))).sort()).toEqual([
      'SHA256SUMS',
      'proof.json',
      'whole.cue',
      'whole.flac',
    ]);
    const inspected = await oiseau('inspect', join(out, 'plant'));
    expect(inspected.status).toBe(0);
    expect(JSON.parse(inspected.out)).toMatchObject({
      kind: 'ddp',
      // From 00:00:00: pause 2 s, 5 s, 2 s, 5 s.
      audio: { rate: 44_100, channels: 2, bits: 16, frames: 14 * 44_100 },
      disc: {
        upc: '2012345678903',
        marks: [
          { track: 1, index: 0, frames: 0, isrc: '' },
          { track: 1, index: 1, frames: 150, isrc: 'ZZOIS2600001' },
          { track: 2, index: 0, frames: 525, isrc: '' },
          { track: 2, index: 1, frames: 675, isrc: '' },
        ],
        leadOut: 1050,
        text: { title: 'Nine Tides', tracks: [{ title: 'Lamp' }, { title: 'Ebb' }] },
      },
      problems: [],
    });
    await truncate(join(out, 'plant', 'IMAGE.DAT'), 1049 * 2352);
    const damaged = await oiseau('inspect', join(out, 'plant'));
    expect(damaged.status).toBe(1);
    expect(damaged.out).toContain('IMAGE.DAT has 1049 sectors; DDPMS says 1050.');
    expect(await oiseau('inspect', join(out, 'radio'))).toMatchObject({
      status: 2,
      err: expect.stringContaining('DDPID is missing') as string,
    });
  });
  it('is 1 where something is wrong in a file, 2 where it can’t be used', async () => {
    expect(await oiseau('inspect', join(folder, 'cut.wav'))).toMatchObject({
      status: 1,
      out: expect.stringContaining('truncated') as string,
    });
    expect(await oiseau('inspect', join(folder, 'nothing.wav'))).toMatchObject({
      status: 2,
      err: expect.stringContaining('no such file') as string,
    });
    expect(await oiseau('inspect', await file('words.wav', {}))).toMatchObject({ status: 2 });
    expect(await oiseau('dance')).toMatchObject({
      status: 2,
      err: expect.stringContaining("Unknown command 'dance'") as string,
    });
  });
});

describe('an album of several parts', () => {
  const parts = [
    { medium: 'cd', first: 1 },
    { medium: 'cd', first: 2, title: 'Second' },
  ];

  it('is rendered part by part, each proved', async () => {
    const deliverables = [
      { name: 'plant', kind: 'ddp' },
      { name: 'files', kind: 'tracks', format: 'flac', bits: 16, pattern: '{position}' },
      { name: 'whole', kind: 'continuous', format: 'flac' },
    ];
    const out = join(folder, 'discs');
    const { status, err } = await oiseau(
      'render',
      await file('discs.json', { parts, deliverables }),
      '--out',
      out,
    );
    expect([status, err.match(/: verified/g)?.length]).toEqual([0, 3]);
    expect((await readdir(join(out, 'plant', 'disc-2'))).sort()).toEqual([
      ...['CDTEXT.BIN', 'DDPID', 'DDPMS', 'IMAGE.DAT', 'MD5SUMS', 'PQDESCR'],
    ]);
    expect((await readdir(join(out, 'files'))).sort()).toEqual([
      'SHA256SUMS',
      'disc-1',
      'disc-2',
      'proof.json',
    ]);
    expect(await readdir(join(out, 'files', 'disc-2'))).toEqual(['2-01.flac']);
    expect((await readdir(join(out, 'whole'))).sort()).toEqual([
      ...[
        'SHA256SUMS',
        'proof.json',
        'whole-disc-1.cue',
        'whole-disc-1.flac',
        'whole-disc-2.cue',
        'whole-disc-2.flac',
      ],
    ]);
    const { stdout } = await new Promise<{ stdout: string }>((resolve) =>
      execFile('md5sum', ['-c', 'MD5SUMS'], { cwd: join(out, 'plant', 'disc-2') }, (_, stdout) =>
        resolve({ stdout }),
      ),
    );
    expect(
      stdout
        .trim()
        .split('\n')
        .every((line) => line.endsWith(': OK')),
    ).toBe(true);
  });

  it('names the part in what is found, and refuses an image of sides', async () => {
    const short = [
      { master: 'one.wav', title: 'Lamp', isrc: 'ZZOIS2600001' },
      { master: 'two.wav', title: '', isrc: 'ZZOIS2600001', gapBefore: 1 },
    ];
    const { status, out } = await oiseau('check', await file('short.json', { parts, tracks: short }));
    expect(status).toBe(1);
    expect(out.trim().split('\n')).toEqual([
      'error disc 2: The first pause is 1.00 s; a disc needs at least 2 s.',
      'warning track 2-01: ISRC ZZ-OIS-26-00001 is already used for track 1-01.',
      'warning track 2-01: The track has no title.',
    ]);
    const sides = [{ medium: 'vinyl-7-45', first: 1 }];
    const refused = await oiseau('check', await file('sides.json', { parts: sides }));
    expect([refused.status, refused.out]).toEqual([
      1,
      'error: “image” is a disc image, but the album has no disc.\n',
    ]);
  });

  it.each([
    [{ medium: 'cd', first: 2 }, /parts\[0\]\.first: The first part begins with track 1, not 2\./],
    [{ medium: 'tape', first: 1 }, /parts\[0\]\.medium: /],
  ])('is 2 where %j is a part', async (part, words) => {
    const { status, err } = await oiseau('check', await file('odd.json', { parts: [part] }));
    expect(status).toBe(2);
    expect(err).toMatch(words);
  });
});

describe('what oiseau opens and replaces', () => {
  it('is no folder that it did not write', async () => {
    const at = join(folder, 'beside');
    await mkdir(join(at, 'image'), { recursive: true });
    await writeFile(join(at, 'image', 'years of work.txt'), 'mine');
    const { status, err } = await oiseau(
      'render',
      await file('own.json', {}),
      '--out',
      at,
      '--only',
      'image',
    );
    expect([status, err.trim().split('\n').at(-1)]).toEqual([
      2,
      `${join(at, 'image')} was not replaced: it has no proof.json, so it wasn’t written by a render.`,
    ]);
    expect(await readFile(join(at, 'image', 'years of work.txt'), 'utf8')).toBe('mine');
    expect(await readdir(at)).toEqual(['image']);
  });

  it('is what lies in the album’s folder, unless it is told otherwise', async () => {
    const inside = join(folder, 'album');
    await mkdir(inside, { recursive: true });
    await symlink(join(folder, 'one.wav'), join(inside, 'link.wav'));
    execFileSync('mkfifo', [join(inside, 'pipe.wav')]);
    for (const [master, why] of [
      ['../one.wav', 'it is outside the album’s folder'],
      [join(folder, 'one.wav'), 'it is outside the album’s folder'],
      ['link.wav', 'it is outside the album’s folder'],
      ['pipe.wav', 'it is not a file but a folder, a pipe or a device.'],
      ['../../../../../../../dev/zero', 'it is outside the album’s folder'],
    ] as const) {
      const path = await file('album/odd.json', { tracks: [{ master, title: 'Lamp' }], artwork: null });
      const { status, err } = await oiseau('check', path);
      expect([status, err]).toEqual([2, expect.stringContaining(`${master}: ${why}`) as string]);
    }
    const cover = await file('album/cover.json', { tracks: [], artwork: '/dev/zero' });
    expect((await oiseau('check', cover)).err).toContain('/dev/zero: it is outside the album’s folder');
    const outside = await file('album/right.json', {
      tracks: [{ master: '../one.wav', title: 'Lamp', isrc: 'ZZOIS2600001' }],
    });
    expect((await oiseau('check', outside, '--outside')).status).toBe(0);
    expect(await oiseau('inspect', join(inside, 'pipe.wav'))).toMatchObject({ status: 2 });
    expect(await oiseau('check', join(inside, 'pipe.wav'))).toMatchObject({ status: 2 });
    expect(await oiseau('inspect', join(folder, 'one.wav'), '--outside')).toMatchObject({ status: 2 });
  });
});

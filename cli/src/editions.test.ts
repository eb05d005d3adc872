import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runOiseau, toneFile } from './testing.js';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-editions-'));
  for (const [name, hz] of [
    ['a.wav', 220],
    ['b.wav', 330],
    ['c.wav', 440],
  ] as const)
    await writeFile(join(folder, name), toneFile(hz));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const oiseau = (...args: string[]) => runOiseau(args);

const TRACKS = [
  { master: 'a.wav', title: 'A', isrc: 'ZZOIS2600001' },
  { master: 'b.wav', title: 'B', isrc: 'ZZOIS2600002', gapBefore: -1 },
  { master: 'c.wav', title: 'C', isrc: 'ZZOIS2600003' },
];
const LIMITER = { drive: 3, ceiling: -1, release: 80 };
const LP = { name: 'LP', order: [3, 2], sound: { limiter: null }, upc: '2000000000008' };

async function file(name: string, change: object): Promise<string> {
  const path = join(folder, name);
  const album = {
    format: 'oiseau-album',
    version: 1,
    title: 'Nine Tides',
    upc: '2012345678903',
    tracks: TRACKS,
  };
  await writeFile(path, JSON.stringify({ ...album, sound: { limiter: LIMITER }, ...change }));
  return path;
}

const FILES = { kind: 'tracks', format: 'wav', bits: 16 };
const both = () =>
  file('both.json', {
    editions: [{ name: 'CD' }, LP],
    deliverables: [
      { name: 'cd', ...FILES },
      { name: 'lp', ...FILES, edition: 'LP', pattern: '{edition} {number} {title}' },
      { name: 'lp-image', kind: 'cue', edition: 'LP' },
    ],
  });

describe('editions on the command line', () => {
  it('render the bytes of an album file that holds that edition alone', async () => {
    const whole = join(folder, 'whole');
    expect((await oiseau('render', await both(), '--out', whole)).status).toBe(0);
    expect((await readdir(join(whole, 'cd'))).filter((name) => name.endsWith('.wav'))).toHaveLength(3);
    expect((await readdir(join(whole, 'lp'))).filter((name) => name.endsWith('.wav'))).toEqual([
      'LP 01 C.wav',
      'LP 02 B.wav',
    ]);
    // The LP by itself: no limiter, and the overlap of B with A becomes the 2 s of a new pair.
    const alone = await file('alone.json', {
      ...{ sound: {}, upc: LP.upc },
      tracks: [TRACKS[2], { ...TRACKS[1], gapBefore: 2 }],
      deliverables: [
        { name: 'lp', ...FILES, pattern: 'LP {number} {title}' },
        { name: 'lp-image', kind: 'cue' },
      ],
    });
    const single = join(folder, 'single');
    expect((await oiseau('render', alone, '--out', single)).status).toBe(0);
    for (const path of ['lp/LP 01 C.wav', 'lp/LP 02 B.wav', 'lp-image/image.wav', 'lp-image/image.cue'])
      expect((await readFile(join(whole, path))).equals(await readFile(join(single, path))), path).toBe(true);
  });

  it('are rendered, planned and checked by name', async () => {
    const only = join(folder, 'only');
    expect(
      (await oiseau('render', await both(), '--out', only, '--edition', 'LP', '--only', 'lp')).status,
    ).toBe(0);
    expect(await readdir(only)).toEqual(['lp']);
    const plan = JSON.parse((await oiseau('plan', await both(), '--json')).out) as {
      deliverables: { name: string; edition: string; kind: string; files: Record<string, unknown>[] }[];
    };
    expect(plan.deliverables.map(({ name, edition, kind }) => [name, edition, kind])).toEqual([
      ['cd', 'CD', 'tracks'],
      ['lp', 'LP', 'tracks'],
      ['lp-image', 'LP', 'cue'],
    ]);
    // 16-bit masters: limited on the CD, as they are on the LP, each with the gap that follows it: C 5 + 2 s, B 5 s.
    expect(plan.deliverables[0]?.files[0]).toMatchObject({ path: '01 A.wav', samples: 'treated', bits: 16 });
    expect(plan.deliverables[1]?.files.slice(0, 2)).toMatchObject([
      { path: 'LP 01 C.wav', format: 'wav', rate: 44_100, seconds: 7, samples: 'bit-perfect' },
      { path: 'LP 02 B.wav', seconds: 5, samples: 'bit-perfect' },
    ]);
    expect(plan.deliverables[1]?.files.at(-1)).toEqual({
      path: 'proof.json',
      ...{ format: null, bits: null, rate: null, seconds: null, bytesAtMost: null, samples: null },
    });
    // No file is larger than announced.
    for (const { path, bytesAtMost } of plan.deliverables[1]?.files.slice(0, 2) ?? [])
      expect((await stat(join(only, 'lp', String(path)))).size).toBeLessThanOrEqual(Number(bytesAtMost));
    const people = (await oiseau('plan', await both(), '--only', 'lp')).out;
    expect(people).toContain('lp (edition “LP”, tracks)');
    expect(people).toContain('LP 01 C.wav: wav, 16 bit, 44100 Hz, 7.000 s');
  });

  it('are checked each by itself, and what they share once', async () => {
    const path = await file('checked.json', {
      tracks: [{ ...TRACKS[0], isrc: 'ZZ' }, TRACKS[1], TRACKS[2]],
      editions: [{ name: 'CD' }, { ...LP, tracks: { 3: { out: 3 } } }],
    });
    interface Found {
      readonly code: string;
      readonly edition: string | null;
      readonly track: number | null;
      readonly position: string | null;
    }
    const { status, out } = await oiseau('check', path, '--json');
    const found = JSON.parse(out) as Found[];
    expect(status).toBe(1);
    const of = (code: string) => found.filter((each) => each.code === code);
    // The ISRC is the album's; the short track 3 and the lost overlap of track 2 are the LP's.
    expect(of('isrc-malformed')).toMatchObject([{ edition: null, track: 1 }]);
    expect(of('track-short')).toMatchObject([{ edition: 'LP', track: 3, position: '1' }]);
    expect(of('edition-overlap-lost')).toMatchObject([{ edition: 'LP', track: 2, position: '2' }]);
    const cd = JSON.parse((await oiseau('check', path, '--json', '--edition', 'cd')).out) as Found[];
    expect(new Set(cd.map(({ edition }) => edition))).not.toContain('LP');
    expect((await oiseau('check', path)).out).toContain('edition “LP” track 1:');
  });

  it('of no such name are refused, with those that there are', async () => {
    for (const command of ['check', 'plan'])
      expect(await oiseau(command, await both(), '--edition', 'EP')).toMatchObject({
        status: 2,
        err: '--edition EP: no such edition. Available: CD, LP.\n',
      });
    const none = await file('none.json', { deliverables: [{ name: 'cd', ...FILES }] });
    expect((await oiseau('plan', none, '--edition', 'LP')).err).toBe(
      '--edition LP: the album file has no editions.\n',
    );
    const draft = await file('draft.json', {
      editions: [{ name: 'CD' }, { ...LP, draft: true }],
      deliverables: [
        { name: 'cd', ...FILES },
        { name: 'lp', ...FILES, edition: 'LP' },
      ],
    });
    // A draft is rendered only by its name.
    expect((await oiseau('plan', draft)).out).not.toContain('LP');
    expect((await oiseau('plan', draft, '--edition', 'LP')).out).toContain('lp (edition “LP”, tracks)');
    expect((await oiseau('plan', draft, '--only', 'lp')).status).toBe(2);
    const empty = await oiseau('plan', await both(), '--edition', 'CD', '--only', 'lp');
    expect(empty).toMatchObject({ status: 2, err: 'Edition “CD” has no such deliverables.\n' });
  });
});

import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeWords, wavHeader } from '@oiseau/audio/pcm';
import type { Proof } from '@oiseau/render';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runOiseau } from './testing.js';

const RATE = 44_100;
let folder: string;
/** Strokes at uneven times, `late` samples late. */
function strokes(late: number, loud = 0.5, seconds = 6): Buffer {
  const left = new Float64Array(seconds * RATE);
  let random = 4711;
  const next = (): number => (random = (random * 48_271) % 2_147_483_647) / 2_147_483_647;
  for (let at = late; at < left.length - RATE; at += Math.round((0.1 + 0.4 * next()) * RATE))
    for (let n = 0; n < 0.2 * RATE; n++)
      left[at + n] = (left[at + n] as number) + loud * Math.exp(-n / 800) * (next() - 0.5);
  return Buffer.concat([wavHeader('int16', RATE, left.length), encodeWords({ left, right: left }, 'int16')]);
}
const album = async (alternates: object, deliverables: object[], more: object = {}): Promise<string> => {
  const path = join(folder, 'album.json');
  const tracks = [
    { master: 'one.wav', title: 'Lamp', isrc: 'ZZOIS2600001', alternates },
    { master: 'two.wav', title: 'Ebb' },
  ];
  const file = { format: 'oiseau-album', version: 1, title: 'Tides', tracks, deliverables, ...more };
  await writeFile(path, JSON.stringify(file));
  return path;
};

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-cli-recordings-'));
  for (const [name, late, loud] of [
    ['one', 0, 0.5],
    ['two', 5000, 0.4],
    ['late', 220, 0.5],
    ['silent', 0, 0],
  ] as const)
    await writeFile(join(folder, `${name}.wav`), strokes(late, loud));
  await writeFile(join(folder, 'short.wav'), strokes(0, 0.5, 5));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const oiseau = (...args: string[]) => runOiseau(args);
const found = async (...args: string[]): Promise<{ status: number; of: (code: string) => object[] }> => {
  const { status, out } = await oiseau('check', ...args, '--json');
  const all = JSON.parse(out) as { code: string }[];
  return { status, of: (code) => all.filter((each) => each.code === code) };
};

describe('oiseau check of other recordings', () => {
  it('tells by measuring how much one is late, and that one is silent', async () => {
    const late = await found(await album({ tv: 'late.wav' }, []), '--measure');
    expect(late.of('alternate-shifted')).toMatchObject([
      {
        ...{ severity: 'warning', part: 1, track: 1, alternate: 'tv', samples: 220, accepted: null },
        message: '“tv” is 220 samples (4.99 ms) later than the master.',
      },
    ]);
    const lined = await album({ tv: { master: 'late.wav', shift: 220 / RATE } }, []);
    expect((await found(lined, '--measure')).of('alternate-shifted')).toEqual([]);
    const silent = await found(await album({ tv: 'silent.wav' }, []), '--measure');
    expect([silent.status, silent.of('alternate-silent').length]).toEqual([1, 1]);
    // Without measuring it is unknown.
    expect((await found(await album({ tv: 'silent.wav' }, []))).status).toBe(0);
  });

  it('names one that ends early, and one that nobody has', async () => {
    const files = { name: 'files', kind: 'tracks', alternates: ['main', 'clean'] };
    const short = await found(await album({ tv: 'short.wav' }, [files]));
    expect(short.status).toBe(1);
    expect([short.of('alternate-short').length, short.of('alternate-unknown').length]).toEqual([1, 1]);
    expect((await oiseau('check', await album({ tv: 'gone.wav' }, []))).err).toMatch(
      /gone\.wav: the master is missing/,
    );
  });

  it('belongs to check alone', async () => {
    expect(await oiseau('render', 'x.json', '--out', 'y', '--measure')).toMatchObject({
      status: 2,
      err: expect.stringContaining("Unknown option '--measure'") as string,
    });
  });
});

it('a master of another sum is not the one that the album file means', async () => {
  const path = join(folder, 'summed.json');
  const sum = createHash('sha256').update(strokes(0)).digest('hex');
  const check = async (masterSha256: string) => {
    const tracks = [{ master: 'one.wav', masterSha256, title: 'Lamp' }];
    await writeFile(path, JSON.stringify({ format: 'oiseau-album', version: 1, title: 'Tides', tracks }));
    return oiseau('check', path);
  };
  expect((await check(sum)).status).toBe(0);
  expect(await check('0'.repeat(64))).toMatchObject({
    status: 2,
    err: expect.stringMatching(/^one\.wav: this isn’t the master/) as string,
  });
});

describe('oiseau render', () => {
  it('writes files of other recordings beside those of the masters, and a cutting room’s sheet', async () => {
    const parts = [
      { medium: 'vinyl-7-45', first: 1 },
      { medium: 'vinyl-7-45', first: 2 },
    ];
    const deliverables = [
      { name: 'files', kind: 'tracks', alternates: ['main', 'tv'], pattern: '{position} {title}' },
      { name: 'lathe', kind: 'cutting-room', alternate: 'tv' },
    ];
    const path = await album({ tv: 'late.wav' }, deliverables, { parts });
    const out = join(folder, 'out');
    const rendered = await oiseau('render', path, '--out', out);
    expect([rendered.status, rendered.err]).toEqual([
      0,
      expect.stringContaining('lathe: verified') as string,
    ]);
    const proof = async (name: string): Promise<Proof> =>
      JSON.parse(await readFile(join(out, name, 'proof.json'), 'utf8')) as Proof;
    expect((await proof('files')).files.map(({ path: file, frames }) => [file, frames])).toEqual([
      ['side-A/A1 Lamp.wav', 6 * RATE],
      ['side-A/A1 Lamp (tv).wav', 6 * RATE],
      ['side-B/B1 Ebb.wav', 6 * RATE],
      ['SHA256SUMS', null],
    ]);
    expect((await proof('lathe')).files.map(({ path: file }) => file)).toEqual([
      ...['side-A.wav', 'side-B.wav', 'cutting-sheet.csv', 'cutting-sheet.pdf', 'SHA256SUMS'],
    ]);
    const pdf = await readFile(join(out, 'lathe', 'cutting-sheet.pdf'));
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    // A second render has the same bytes, the sheet for print among them.
    const before = (await proof('lathe')).files.map(({ sha256 }) => sha256);
    await oiseau('render', path, '--out', out, '--only', 'lathe');
    expect((await proof('lathe')).files.map(({ sha256 }) => sha256)).toEqual(before);
  });
});

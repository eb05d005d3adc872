import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deliverableSchema, newAlbum, newSong, type Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { planDeliverable } from '@oiseau/render';
import type { PcmSource } from '@oiseau/audio/pcm';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { decodeFile, renderToFolder, shopCover } from './index.js';

const RATE = 48_000;
/** 997 Hz on both sides at −20 dBFS: −20.0 LUFS [EBU Tech 3341: 0 dBFS on two channels is 0 LUFS]. */
const master: PcmSource = {
  ...{ rate: RATE, length: 6 * RATE, format: 'float32' },
  read: (start, count) => {
    const left = Float64Array.from({ length: count }, (_, i) => {
      const n = start + i;
      return n < 0 || n >= 6 * RATE ? 0 : 0.1 * Math.sin((2 * Math.PI * 997 * n) / RATE);
    });
    return Promise.resolve({ left, right: left.slice() });
  },
};
const [first, second] = ['100 % Lamp', '潮騒'].map((title, i) => ({
  ...newSong(`t${i}`, 'm', title),
  isrc: `ZZOIS260000${i + 1}`,
}));
if (!first || !second) throw new Error('There are two songs.');
const album: Album = {
  ...newAlbum('Nine Tides'),
  ...{ performer: 'Marram Lamps', label: 'Low Light', upc: '2012345678903', releaseDate: '2026-11-09' },
  ...{ copyright: '2026 Low Light', phonogram: '2026 Low Light', composer: 'Wen Marrow', artwork: 'cover' },
  songs: [
    { ...first, advisory: 'explicit' },
    { ...second, region: { ...second.region, sound: { ...second.region.sound, ride: 6 } } },
  ],
};

let folder: string;
let target: string;
let faults: unknown[];
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-package-'));
  const cover = join(folder, 'cover.png');
  const colour = { r: 20, g: 90, b: 120, alpha: 0.5 };
  await sharp({ create: { width: 3100, height: 3100, channels: 4, background: colour } })
    .png()
    .toFile(cover);
  target = join(folder, 'shop');
  const masters = new Map([['m', master]]);
  const parts = layOutAlbum(album, masters);
  const deliverable = deliverableSchema.parse({ name: 'shop', kind: 'package' });
  const plan = planDeliverable(deliverable, {
    album,
    parts,
    masters,
    revision: 4,
    revisionDate: '2026-11-09',
  });
  const picture = (form: 'jpeg' | 'png', pixels: number) => shopCover(cover, form, pixels);
  const input = { parts, masters, cover: null, picture };
  const proof = await renderToFolder(plan, input, 4, target, () => undefined);
  faults = proof.files.flatMap(({ tests }) => tests.filter(({ passed }) => !passed));
}, 60_000);
afterAll(() => rm(folder, { recursive: true, force: true }));

const text = (name: string): Promise<string> => readFile(join(target, name), 'utf8');
const sum = async (name: string): Promise<string> =>
  createHash('sha256')
    .update(await readFile(join(target, name)))
    .digest('hex');

describe('a package for a shop', () => {
  it('is proved, and holds a bag', async () => {
    expect(faults).toEqual([]);
    expect((await readdir(target)).sort()).toEqual([
      ...['SHA256SUMS', 'bag-info.txt', 'bagit.txt', 'data', 'manifest-sha256.txt', 'proof.json'],
      'tagmanifest-sha256.txt',
    ]);
    expect((await readdir(join(target, 'data'))).sort()).toEqual([
      ...['01 100 % Lamp.flac', '02 潮騒.flac', 'cover.jpg', 'label-copy.csv', 'label-copy.pdf'],
      ...['loudness.csv', 'loudness.pdf', 'release.json'],
    ]);
    execFileSync('sha256sum', ['-c', '--quiet', '--strict', 'SHA256SUMS'], { cwd: target });
    expect(await text('bagit.txt')).toBe('BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n');
  });

  it('has manifests of every file of its payload and of its tag files, a per cent sign encoded', async () => {
    const payload = (await readdir(join(target, 'data'))).map((name) => `data/${name}`);
    const wanted = await Promise.all(
      payload.map(async (name) => `${await sum(name)}  ${name.replace('%', '%25')}`),
    );
    expect((await text('manifest-sha256.txt')).trimEnd().split('\n').sort()).toEqual(wanted.sort());
    const tags = ['bagit.txt', 'bag-info.txt', 'manifest-sha256.txt'];
    const tagged = await Promise.all(tags.map(async (name) => `${await sum(name)}  ${name}\n`));
    expect(await text('tagmanifest-sha256.txt')).toBe(tagged.join(''));
    const sizes = await Promise.all(payload.map(async (name) => (await stat(join(target, name))).size));
    expect((await text('bag-info.txt')).split('\n')).toContain(
      `Payload-Oxum: ${sizes.reduce((a, b) => a + b, 0)}.8`,
    );
  });

  it('tells a shop all that it must know', async () => {
    const track = (number: number, title: string, name: string) => ({
      ...{ number, position: `1-0${number}`, title, performer: 'Marram Lamps' },
      ...{ isrc: `ZZOIS260000${number}`, language: 'en' },
      contributors: [{ role: 'composer', name: 'Wen Marrow' }],
      // The first lasts to the start mark of the second, two seconds after it.
      audio: { path: name, format: 'flac', rate: RATE, bits: 24, samples: (number === 1 ? 8 : 6) * RATE },
    });
    expect(JSON.parse(await text('data/release.json'))).toEqual({
      ...{ format: 'oiseau-release', version: 1, revision: 4 },
      album: {
        ...{ title: 'Nine Tides', performer: 'Marram Lamps', label: 'Low Light', catalogNumber: '' },
        ...{ upc: '2012345678903', releaseDate: '2026-11-09', genre: '', language: 'en' },
        ...{ copyright: '2026 Low Light', phonogram: '2026 Low Light', advisory: 'explicit' },
        cover: { path: 'cover.jpg', mediaType: 'image/jpeg', width: 3000, height: 3000 },
      },
      parts: [
        {
          ...{ number: 1, medium: 'cd', title: 'Nine Tides' },
          tracks: [
            { ...track(1, '100 % Lamp', '01 100 % Lamp.flac'), advisory: 'explicit' },
            { ...track(2, '潮騒', '02 潮騒.flac'), advisory: 'none' },
          ],
        },
      ],
    });
  });

  it('has the picture as shops take it, and audio that decodes to 24 bits', async () => {
    const { width, height, channels, space, format } = await sharp(
      join(target, 'data', 'cover.jpg'),
    ).metadata();
    expect([width, height, channels, space, format]).toEqual([3000, 3000, 3, 'srgb', 'jpeg']);
    expect(await decodeFile(join(target, 'data', '02 潮騒.flac'))).toMatchObject({
      ...{ rate: RATE, format: 'int24', codec: 'flac' },
    });
  });

  it('reports loudness after and before what is done to the sound', async () => {
    const rows = (await text('data/loudness.csv'))
      .trimEnd()
      .split('\r\n')
      .map((line) => line.split(','));
    // Integrated, momentary, short-term and peak; a steady tone has a range of 0.
    expect(rows[1]?.slice(0, 4)).toEqual(['1', '100 % Lamp', '0:06.0', '-20.0']);
    expect(rows[2]?.slice(3)).toEqual([
      ...['-14.0', '0.0', '-14.0', '-14.0', '-14.0'],
      ...['-20.0', '0.0', '-20.0', '-20.0', '-20.0'],
    ]);
    expect(rows[3]?.slice(0, 2)).toEqual(['', 'The album as a whole']);
  });
});

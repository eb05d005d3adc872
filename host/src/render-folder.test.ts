import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deliverableSchema, newAlbum, newSong, type Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { encodeWords, type PcmSource } from '@oiseau/audio/pcm';
import { planDeliverable, type Proof } from '@oiseau/render';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CodecError, decodeFile, renderToFolder } from './index.js';
import { partialFolder } from './target-folder.js';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-host-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

/** 24-bit words that look like noise, other ones on each side. */
const word = (n: number): number => (((n * 48_271) % 8_000_000) - 4_000_000) / 8_388_608;
const master: PcmSource = {
  rate: 48_000,
  length: 48_000 * 6,
  format: 'int24',
  read: (start, count) => {
    const left = Float64Array.from({ length: count }, (_, i) => word(start + i));
    return Promise.resolve({ left, right: left.map((v) => -v / 2) });
  },
};
const album: Album = {
  ...newAlbum('Nine Tides'),
  performer: 'Marram Lamps',
  upc: '2012345678903',
  releaseDate: '2026-11-09',
  songs: ['Lamp; "Lit"', '-dash & $(echo) é 潮'].map((title, i) => ({
    ...newSong(`t${i}`, 'm', title),
    isrc: `ZZOIS260000${i}`,
  })),
};

async function render(settings: object, target: string, stopAt = Infinity): Promise<Proof> {
  const masters = new Map([['m', master]]);
  const parts = layOutAlbum(album, masters);
  const deliverable = deliverableSchema.parse({ name: 'd', ...settings });
  const plan = planDeliverable(deliverable, {
    album,
    parts,
    masters,
    revision: 3,
    revisionDate: '2026-11-09',
  });
  return renderToFolder(plan, { parts, masters, cover: null }, 3, target, (phase, seconds) => {
    if (phase === 'render' && seconds >= stopAt) throw new Error('stopped by a person');
  });
}

describe('FLAC through FFmpeg', () => {
  it('holds the master’s samples bit for bit, and every tag as typed', async () => {
    const target = join(folder, 'files');
    const proof = await render({ kind: 'tracks', format: 'flac', bits: 24 }, target);
    expect(proof.proved).toBe(true);
    expect((await readdir(target)).sort()).toEqual([
      '01 Lamp; -Lit-.flac',
      '02 -dash & $(echo) é 潮.flac',
      'SHA256SUMS',
      'proof.json',
    ]);
    const stream = await decodeFile(join(target, '02 -dash & $(echo) é 潮.flac'));
    expect(stream).toMatchObject({ rate: 48_000, format: 'int24', channels: 2, codec: 'flac' });
    expect(stream.tags).toMatchObject({
      TITLE: '-dash & $(echo) é 潮',
      ARTIST: 'Marram Lamps',
      ALBUM: 'Nine Tides',
      ISRC: 'ZZOIS2600001',
      BARCODE: '2012345678903',
      DATE: '2026-11-09',
    });
    const found = createHash('sha256');
    let length = 0;
    for await (const words of stream.words()) {
      found.update(words);
      length += words.length / 6;
    }
    const wanted = createHash('sha256').update(encodeWords(await master.read(0, master.length), 'int24'));
    expect(length).toBe(master.length);
    expect(found.digest('hex')).toBe(wanted.digest('hex'));
  });

  it('gives the same bytes each time', async () => {
    const sums = async (name: string): Promise<string[]> =>
      (await render({ kind: 'tracks', format: 'flac', bits: 16 }, join(folder, name))).files.map(
        ({ sha256 }) => sha256,
      );
    expect(await sums('one')).toEqual(await sums('two'));
  });

  it('says what is no audio', async () => {
    const path = join(folder, 'words.flac');
    await writeFile(path, 'only words');
    await expect(decodeFile(path)).rejects.toThrow(CodecError);
  });
});

describe('a deliverable’s folder', () => {
  it('appears whole, with its proof and nothing beside it', async () => {
    const target = join(folder, 'image');
    await mkdir(partialFolder(target));
    for (const name of ['.oiseau-render', 'left by a killed render'])
      await writeFile(join(partialFolder(target), name), '');
    const proof = await render({ kind: 'cue' }, target);
    expect((await readdir(target)).sort()).toEqual(['SHA256SUMS', 'image.cue', 'image.wav', 'proof.json']);
    expect(await readdir(folder)).toEqual(['image']);
    expect(JSON.parse(await readFile(join(target, 'proof.json'), 'utf8'))).toEqual(proof);
    expect(proof).toMatchObject({ deliverable: 'd', revision: 3, proved: true });
    const bytes = await readFile(join(target, 'image.wav'));
    expect(proof.files[0]).toMatchObject({
      bytes: bytes.length,
      sha256: createHash('sha256').update(bytes).digest('hex'),
    });
  });

  it('stays as it was when a render is stopped, and nothing half-done is left', async () => {
    const target = join(folder, 'files');
    await mkdir(target);
    await writeFile(join(target, 'older'), 'kept');
    await writeFile(join(target, 'proof.json'), '{"files":[{"path":"older"}]}');
    await expect(render({ kind: 'tracks', format: 'flac' }, target, 2)).rejects.toThrow(
      'stopped by a person',
    );
    expect(await readdir(folder)).toEqual(['files']);
    expect(await readdir(target)).toEqual(['older', 'proof.json']);
  });
});

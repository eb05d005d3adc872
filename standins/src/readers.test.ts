import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { subcodeQ } from './drive-subcode.js';
import { isEan, isIsrc, msf } from './readers/codes.js';
import { titlesOf } from './readers/cd-text.js';
import { crc16 } from './readers/bytes.js';
import { discFaults, type DiscMark } from './readers/disc.js';
import { pictureOf } from './readers/picture.js';
import { soundOf } from './readers/sound.js';
import { isPlainPath } from './shipment.js';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-readers-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const file = async (bytes: Uint8Array | string): Promise<string> => {
  const path = join(folder, String(Math.random()));
  await writeFile(path, bytes);
  return path;
};

describe('a stand-in reads by itself', () => {
  it('codes', () => {
    // 2 + 3·0 + 2 + 3·6 + 1 + 3·1 + 0 + 3·9 + 0 + 3·0 + 0 + 3·1 = 56: the check digit is 4.
    expect([isEan('2026110900014'), isEan('2026110900015'), isEan('202611090001')]).toEqual([
      true,
      false,
      false,
    ]);
    expect([isIsrc('ZZOIS2600001'), isIsrc('ZZ-OIS-26-00001'), isIsrc('ZZOIS260000')]).toEqual([
      true,
      false,
      false,
    ]);
    expect(msf((47 * 60 + 5) * 75 + 9)).toBe('47:05:09');
  });

  it('the checksum of a pack as its standard says', () => {
    // The CCITT check value of “123456789” begun at 0 is 0x31C3; turned over it is 0xCE3C.
    expect(crc16(Buffer.from('123456789'))).toBe(0xce3c);
  });

  it('the heads of audio files', async () => {
    const flac = Buffer.alloc(42);
    flac.write('fLaC');
    flac.writeUInt8(0, 4);
    // 48000 Hz in 20 bits, 2 channels less one in 3, 24 bits less one in 5, 123456 samples in 36.
    flac.writeBigUInt64BE((48_000n << 44n) | (1n << 41n) | (23n << 36n) | 123_456n, 18);
    expect(await soundOf(await file(flac))).toMatchObject({
      ...{ form: 'flac', rate: 48_000, channels: 2, bits: 24, samples: 123_456 },
    });
    const wav = Buffer.alloc(44 + 8 + 4);
    wav.write('RIFF', 0).toString();
    wav.write('WAVEfmt ', 8);
    wav.writeUInt32LE(16, 16);
    wav.writeUInt16LE(1, 20);
    wav.writeUInt16LE(2, 22);
    wav.writeUInt32LE(44_100, 24);
    wav.writeUInt16LE(16, 34);
    wav.write('data', 36);
    wav.writeUInt32LE(12, 40);
    expect(await soundOf(await file(wav))).toMatchObject({
      form: 'wav',
      rate: 44_100,
      bits: 16,
      samples: 3,
      offset: 44,
    });
    expect(await soundOf(await file('only words'))).toBeNull();
  });

  it('the heads of pictures', async () => {
    const png = Buffer.alloc(33);
    png.write('\x89PNG', 0, 'latin1');
    png.writeUInt32BE(3000, 16);
    png.writeUInt32BE(2999, 20);
    png.writeUInt8(2, 25);
    expect(await pictureOf(await file(png))).toEqual({
      mediaType: 'image/png',
      width: 3000,
      height: 2999,
      colours: 3,
    });
    const jpeg = Buffer.from('ffd8ffe000040102ffc000110801000200030122000211010311', 'hex');
    expect(await pictureOf(await file(jpeg))).toMatchObject({ width: 512, height: 256, colours: 3 });
    expect(await pictureOf(await file('GIF89a'))).toBeNull();
  });

  it('titles of CD-Text across packs', () => {
    const pack = (track: number, sequence: number, text: string): number[] => [
      ...[0x80, track, sequence, 0],
      ...Buffer.from(text.padEnd(12, '\0')),
      ...[0, 0],
    ];
    const packs = Uint8Array.from([...pack(0, 0, 'Nine Tides\0L'), ...pack(1, 1, 'amp\0Ebb\0')]);
    expect(titlesOf(packs)).toEqual(['Nine Tides', 'Lamp', 'Ebb']);
    expect(titlesOf(new Uint8Array())).toEqual([]);
  });

  it('paths that lead nowhere else', () => {
    expect(['a/b.flac', 'ä'].map(isPlainPath)).toEqual([true, true]);
    for (const path of ['/etc', '../a', 'a/../b', 'a//b', './a', 'a\\b', ''])
      expect([path, isPlainPath(path)]).toEqual([path, false]);
  });
});

describe('marks that are no disc', () => {
  const mark = (track: number, index: number, at: number, isrc = ''): DiscMark => ({
    track,
    index,
    at,
    isrc,
    control: 0,
  });
  const codes = (marks: DiscMark[], leadOut: number, upc = ''): string[] =>
    discFaults({ upc, marks, leadOut }, 'PQDESCR').map(({ code }) => code);
  const two = [mark(1, 0, 0), mark(1, 1, 150, 'ZZOIS2600001'), mark(2, 0, 500), mark(2, 1, 600)];

  it.each<[string, DiscMark[], number, string, string[]]>([
    ['all right', two, 900, '2026110900014', []],
    ['a wrong check digit', two, 900, '2026110900015', ['upc']],
    ['a short last track', two, 899, '', ['track-length']],
    ['a short first pause', [mark(1, 0, 0), mark(1, 1, 149)], 900, '', ['first-pause']],
    ['marks that don’t rise', [...two, mark(2, 2, 600)], 900, '', ['marks']],
    ['a code twice', [...two.slice(0, 3), mark(2, 1, 600, 'ZZOIS2600001')], 900, '', ['isrc']],
    ['a disc of 80 minutes', two, 80 * 60 * 75, '', ['length']],
    ['no track', [mark(1, 0, 0)], 900, '', ['tracks', 'first-pause']],
  ])('%s', (_, marks, leadOut, upc, wanted) => expect(codes(marks, leadOut, upc)).toEqual(wanted));
});

it('a drive writes subcode with every code in each hundred sectors', () => {
  const disc = {
    upc: '2026110900014',
    marks: [
      { track: 1, index: 0, at: 0, isrc: '', control: 2 },
      { track: 1, index: 1, at: 150, isrc: 'ZZOIS2600001', control: 2 },
    ],
    leadOut: 1000,
  };
  const heads = Array.from({ length: 100 }, (_, i) => (subcodeQ(disc, 200 + i)[0] ?? 0) & 15);
  expect([1, 2, 3].map((kind) => heads.filter((head) => head === kind).length)).toEqual([98, 1, 1]);
  // Two seconds less one sector before its start: 00:01:74 of track 1, index 0.
  expect([...subcodeQ(disc, 1)].slice(0, 10)).toEqual([0x21, 1, 0, 0, 1, 0x74, 0, 0, 0, 1]);
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memorySource } from '@oiseau/audio/pcm';
import { FIRST_PAUSE_FRAMES, frames, SECTOR_BYTES } from '@oiseau/audio/time';
import { checksumLines, DDP_SUMS, ddpBytes, ddpNames, type DdpDisc } from './ddp.js';
import { DdpError, readDdp, type DdpFound } from './ddp-read.js';

const disc: DdpDisc = {
  upc: '2012345678903',
  masterId: 'LL-7',
  marks: [
    { track: 1, index: 0, frames: frames(0), control: 2, isrc: 'ZZOIS2600001' },
    { track: 1, index: 1, frames: FIRST_PAUSE_FRAMES, control: 2, isrc: 'ZZOIS2600001' },
    // 3 min 25 s 12 frames: 205 · 75 + 12 = 15387
    { track: 2, index: 0, frames: frames(15_387), control: 1, isrc: '' },
    { track: 2, index: 1, frames: frames(15_537), control: 1, isrc: '' },
    { track: 2, index: 2, frames: frames(16_000), control: 1, isrc: '' },
  ],
  // 4 min 0 s 74 frames
  leadOut: frames(18_074),
  cdText: [],
};
const text = (bytes: Uint8Array | undefined): string => Buffer.from(bytes ?? []).toString('latin1');
/** Every file that describes a disc, but for its checksums. */
const described = (of: DdpDisc): Map<string, Uint8Array> =>
  new Map(ddpNames(of).flatMap((name) => (name === DDP_SUMS ? [] : [[name, ddpBytes(name, of)] as const])));
const fileOf = (of: DdpDisc, path: string): string => text(described(of).get(path));
const blank = (n: number): string => ' '.repeat(n);

describe('a disc description (DDP 2.00), laid out by hand', () => {
  it('identifies the disc in 128 bytes', () => {
    expect(fileOf(disc, 'DDPID')).toBe(
      `DDP 2.002012345678903${blank(17)}LL-7${blank(44)} CD1010${blank(35)}`,
    );
    expect(fileOf(disc, 'DDPID')).toHaveLength(128);
  });
  it('maps the audio, then the marks', () => {
    const map = fileOf(disc, 'DDPMS');
    expect(map).toHaveLength(2 * 128);
    expect(map.slice(0, 128)).toBe(
      // 18074 sectors; mode DA, storage 0, not scrambled; 150 sectors of pregap.
      `VVVMD0${blank(8)}00018074${blank(8)}${blank(8)}DA00${blank(4)}0150${blank(21)}017IMAGE.DAT${blank(8)}${blank(37)}`,
    );
    // Seven packets of 64 bytes: lead-in, five marks, lead-out.
    expect(map.slice(128)).toBe(
      `VVVMS0${blank(8)}00000448${blank(8)}PQ DESCR${blank(4)}${blank(8)}${blank(21)}017PQDESCR${blank(10)}${blank(37)}`,
    );
  });
  it('lists every mark in 64 bytes, the codes where they belong', () => {
    const marks = fileOf(disc, 'PQDESCR');
    const packets = Array.from({ length: marks.length / 64 }, (_, i) => marks.slice(64 * i, 64 * (i + 1)));
    const tail = (isrc: string, upc: string): string => isrc.padEnd(12) + upc.padEnd(13) + blank(19);
    expect(packets).toEqual([
      `VVVS0001000000000100${tail('', '2012345678903')}`,
      `VVVS0100000000002100${tail('', '')}`,
      `VVVS0101000002002100${tail('ZZOIS2600001', '')}`,
      `VVVS0200000325121100${tail('', '')}`,
      // 15537 = 207 s and 12 frames; 16000 = 213 s and 25 frames.
      `VVVS0201000327121100${tail('', '')}`,
      `VVVS0202000333251100${tail('', '')}`,
      `VVVSAA01000400740100${tail('', '')}`,
    ]);
  });
  it('names the text and its length in bytes when there is one', () => {
    const spoken: DdpDisc = {
      ...disc,
      cdText: [
        {
          charset: 'iso-8859-1',
          language: 9,
          firstTrack: 1,
          lastTrack: 2,
          texts: { title: ['Nine Tides', 'A', 'B'] },
          discId: '',
          genre: { code: 0, text: '' },
          codes: null,
        },
      ],
    };
    expect(ddpNames(spoken)).toEqual(['DDPID', 'DDPMS', 'PQDESCR', 'CDTEXT.BIN', 'MD5SUMS']);
    expect(ddpNames(disc)).toEqual(['DDPID', 'DDPMS', 'PQDESCR', 'MD5SUMS']);
    // “Nine Tides” NUL A NUL B NUL: 15 bytes, two packs, and three packs of sizes: 5 · 18 bytes.
    expect(fileOf(spoken, 'DDPMS').slice(256, 256 + 46)).toBe(
      `VVVMS0${blank(8)}00000090${blank(8)}CDTEXT  ${blank(4)}${blank(4)}`,
    );
    expect(fileOf(spoken, 'CDTEXT.BIN')).toHaveLength(90);
  });
  it('refuses what does not fit into its fields', () => {
    expect(() => ddpBytes('DDPID', { ...disc, masterId: 'é' })).toThrow(/ASCII/);
    expect(() => ddpBytes('DDPID', { ...disc, masterId: 'x'.repeat(49) })).toThrow(/48/);
  });
  it('has checksums as md5sum writes them', () => {
    expect(checksumLines([{ path: 'DDPID', md5: 'ab'.repeat(16) }])).toBe(`${'ab'.repeat(16)}  DDPID\n`);
  });
});

/** Reads a description whose files lie in memory, the image only by its size. */
async function read(
  of: DdpDisc,
  change: (files: Map<string, Uint8Array>) => void = () => undefined,
): Promise<DdpFound> {
  const files = described(of);
  change(files);
  const image = { size: of.leadOut * SECTOR_BYTES, read: () => Promise.resolve(new Uint8Array()) };
  return readDdp({
    open: (path) => {
      const bytes = files.get(path);
      return Promise.resolve(path === 'IMAGE.DAT' ? image : bytes ? memorySource(bytes) : null);
    },
    md5: () => Promise.resolve('0'.repeat(32)),
  });
}
const put = (path: string, at: number, words: string) => (files: Map<string, Uint8Array>) =>
  files.get(path)?.set(Buffer.from(words, 'latin1'), at);

describe('reading a disc description', () => {
  it('gives back what was written, whatever the disc', async () => {
    const isrc = fc
      .tuple(fc.integer({ min: 0, max: 99 }), fc.integer({ min: 0, max: 99_999 }))
      .map(([year, n]) => `ZZOIS${String(year).padStart(2, '0')}${String(n).padStart(5, '0')}`);
    const track = fc.record({
      pause: fc.integer({ min: 0, max: 400 }),
      length: fc.integer({ min: 300, max: 3000 }),
      indexes: fc.uniqueArray(fc.integer({ min: 1, max: 299 }), { maxLength: 4 }),
      control: fc.integer({ min: 0, max: 3 }),
      isrc: fc.option(isrc, { nil: '' }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(track, { minLength: 1, maxLength: 99 }), async (tracks) => {
        let at = 0;
        const marks = tracks.flatMap(({ pause, length, indexes, control, isrc: code }, i) => {
          const open = i === 0 ? 150 : pause;
          const own = { track: i + 1, control, isrc: code };
          const start = at + open;
          const list = open > 0 ? [{ ...own, index: 0, frames: frames(at) }] : [];
          list.push({ ...own, index: 1, frames: frames(start) });
          indexes
            .toSorted((a, b) => a - b)
            .forEach((offset, n) => list.push({ ...own, index: n + 2, frames: frames(start + offset) }));
          at = start + length;
          return list;
        });
        const whole: DdpDisc = { ...disc, marks, leadOut: frames(at) };
        const found = await read(whole);
        expect(found.problems).toEqual([]);
        expect(found).toMatchObject({ upc: whole.upc, masterId: 'LL-7', leadOut: at, sectors: at });
        expect(found.marks).toEqual(
          marks.map(({ control, isrc: code, ...mark }) => ({
            ...mark,
            isrc: mark.index === 1 ? code : '',
            preEmphasis: control % 2 === 1,
            copyPermitted: control >= 2,
          })),
        );
      }),
    );
  });
  it.each([
    ['a later level', put('DDPID', 4, '9.99'), /level “DDP 9\.99”/],
    ['a wrong code', put('DDPID', 20, '4'), /2012345678904 isn’t a valid UPC/],
    ['an image of another length', put('DDPMS', 14, '00018075'), /has 18074 sectors; DDPMS says 18075/],
    [
      'a lead-out elsewhere',
      put('PQDESCR', 6 * 64 + 14, '73'),
      /has 18074 sectors, but the lead-out is at 18073/,
    ],
    ['a mark out of order', put('PQDESCR', 5 * 64 + 12, '20'), /Track 2 index 2 does not come after/],
    [
      'an early start',
      put('PQDESCR', 2 * 64 + 12, '01'),
      /Track 1 starts at 00:01:00; the minimum is 00:02:00/,
    ],
    ['a code that is none', put('PQDESCR', 2 * 64 + 20, '11'), /Track 1: 11OIS2600001 isn’t a valid ISRC/],
    ['no lead-in', put('PQDESCR', 4, '05'), /no lead-in/],
    ['a packet of something else', put('PQDESCR', 64, 'XXXX'), /Packet 2 of the marks can't be read/],
    ['no marks', (files: Map<string, Uint8Array>) => files.delete('PQDESCR'), /PQDESCR is missing/],
    [
      'a wrong checksum',
      (files: Map<string, Uint8Array>) =>
        files.set('MD5SUMS', Buffer.from(`${'1'.repeat(32)}  DDPID\n${'0'.repeat(32)}  GONE\n`)),
      /checksum of DDPID differs from MD5SUMS.*GONE, which is missing/,
    ],
  ])('tells of %s', async (_, change, words) => {
    expect((await read(disc, change as (files: Map<string, Uint8Array>) => void)).problems.join(' ')).toMatch(
      words,
    );
  });
  it('refuses what is none, and a map that leads out of its folder', async () => {
    await expect(read(disc, (files) => files.delete('DDPID'))).rejects.toThrow(DdpError);
    await expect(read(disc, put('DDPID', 0, 'XXX '))).rejects.toThrow(/does not begin with “DDP”/);
    await expect(read(disc, put('DDPMS', 74, '../../../etc/pass'))).rejects.toThrow(/outside its folder/);
  });
});

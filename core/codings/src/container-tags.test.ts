import { describe, expect, it } from 'vitest';
import { memorySource } from '@oiseau/audio/pcm';
import { containerTags, reportedTag } from './container-tags.js';
import { flacMetadata, flacTextBytes, readFlacBlocks, type FlacText } from './flac-blocks.js';
import { id3Tag } from './id3.js';

const tags = {
  TITLE: 'Lamp Lit',
  TRACKNUMBER: '3',
  TRACKTOTAL: '9',
  DATE: '2026-11-09',
  ISRC: 'ZZOIS2600003',
  LABEL: 'Low Light',
  PUBLISHER: 'Dune Songs',
  LANGUAGE: 'de-AT',
  ADVISORY: 'explicit',
  MOOD: 'calm',
};
const pairs = (container: Parameters<typeof containerTags>[1]): string[] =>
  containerTags(tags, container).map(({ key, value }) => `${key}=${value}`);

describe('tags of a container (docs/rules.md 9.2)', () => {
  it('are frames of ID3v2.3, the day apart from the year, what has no frame as TXXX', () => {
    expect(pairs('id3')).toEqual([
      'TIT2=Lamp Lit',
      'TRCK=3/9',
      'TYER=2026',
      'TDAT=0911',
      'TSRC=ZZOIS2600003',
      'TPUB=Low Light',
      'TXXX:MUSICPUBLISHER=Dune Songs',
      'TLAN=ger',
      'TXXX:ADVISORY=explicit',
      'TXXX:MOOD=calm',
    ]);
  });
  it('are items of MP4, what has no name of its own in a free form', () => {
    expect(pairs('mp4')).toEqual([
      '©nam=Lamp Lit',
      'trkn=3/9',
      '©day=2026-11-09',
      '----:ISRC=ZZOIS2600003',
      '----:LABEL=Low Light',
      '----:MUSICPUBLISHER=Dune Songs',
      '----:LANGUAGE=de-AT',
      'rtng=1',
      '----:MOOD=calm',
    ]);
  });
  it('are LIST INFO of RIFF where that has a place for them', () => {
    expect(pairs('riff')).toEqual(['INAM=Lamp Lit', 'ITRK=3', 'ICRD=2026-11-09', 'axml ISRC=ZZOIS2600003']);
  });
  it('are Vorbis comments by their own names', () => {
    expect(pairs('vorbis')).toEqual(Object.entries(tags).map(([key, value]) => `${key}=${value}`));
  });
  it('keep a date that is none, and a language without a code, as they are', () => {
    expect(containerTags({ DATE: 'in autumn', LANGUAGE: 'tlh' }, 'id3')).toEqual([
      { key: 'TXXX:DATE', value: 'in autumn' },
      { key: 'TXXX:LANGUAGE', value: 'tlh' },
    ]);
  });
  it('are found again under the names that a reader reports', () => {
    const reported = { TRACK: '3/9', DATE: '2026-11-09', MOOD: 'calm' };
    expect(reportedTag(reported, 'TRCK', 'id3')).toBe('3/9');
    expect(reportedTag(reported, 'TYER', 'id3')).toBe('2026');
    expect(reportedTag(reported, 'TDAT', 'id3')).toBe('0911');
    expect(reportedTag(reported, '----:MOOD', 'mp4')).toBe('calm');
    expect(reportedTag(reported, 'INAM', 'riff')).toBeUndefined();
  });
});

describe('an ID3v2.3 tag', () => {
  it('is laid out as the standard has it', () => {
    const bytes = id3Tag(
      {
        tags: [
          { key: 'TIT2', value: 'é' },
          { key: 'TXXX:M', value: 'a' },
        ],
        ...{ picture: null, chapters: [] },
      },
      2.3,
    );
    expect([...bytes]).toEqual([
      // “ID3”, version 3.0, no flags, size 15 + 21 = 36 in four times seven bits
      ...[0x49, 0x44, 0x33, 3, 0, 0, 0, 0, 0, 36],
      // TIT2, 5 bytes, no flags: UTF-16 with its mark, é
      ...[0x54, 0x49, 0x54, 0x32, 0, 0, 0, 5, 0, 0, 1, 0xff, 0xfe, 0xe9, 0],
      // TXXX, 11 bytes: description “M”, two zeros, value “a”
      ...[0x54, 0x58, 0x58, 0x58, 0, 0, 0, 11, 0, 0, 1, 0xff, 0xfe, 0x4d, 0, 0, 0, 0xff, 0xfe, 0x61, 0],
    ]);
  });
  it('counts its size in sevens', () => {
    const picture = { mediaType: 'image/jpeg', width: 1, height: 1, bytes: new Uint8Array(300) } as const;
    // Frame head 10, encoding 1, “image/jpeg” and zero 11, type 1, description 1, 300 bytes: 324 = 2 · 128 + 68
    expect([...id3Tag({ tags: [], picture, chapters: [] }, 2.3).subarray(6, 10)]).toEqual([0, 0, 2, 68]);
  });
});

describe('an ID3v2.4 tag', () => {
  it('has UTF-8, sizes in sevens, one date and a frame for the ℗ line', () => {
    expect(
      containerTags({ DATE: '2026-11-09', PHONOGRAM: '2026 Low Light', LANGUAGE: 'de', BPM: '92' }, 'id3v4'),
    ).toEqual([
      { key: 'TDRC', value: '2026-11-09' },
      { key: 'TPRO', value: '2026 Low Light' },
      { key: 'TLAN', value: 'ger' },
      { key: 'TBPM', value: '92' },
    ]);
    const tags = [{ key: 'TPRO', value: `é${'x'.repeat(200)}` }];
    const bytes = id3Tag({ tags, picture: null, chapters: [] }, 2.4);
    // Encoding 1 and 202 bytes of UTF-8: 203 = 1 · 128 + 75; the tag 10 more.
    expect([...bytes.subarray(0, 24)]).toEqual([
      ...[0x49, 0x44, 0x33, 4, 0, 0, 0, 0, 1, 85],
      ...[0x54, 0x50, 0x52, 0x4f, 0, 0, 1, 75, 0, 0, 3, 0xc3, 0xa9, 0x78],
    ]);
  });
  it('keeps the ℗ line of ID3v2.3 and MP4 in a free form', () => {
    expect(containerTags({ PHONOGRAM: 'P' }, 'id3')).toEqual([{ key: 'TXXX:PHONOGRAM', value: 'P' }]);
    expect(containerTags({ PHONOGRAM: 'P' }, 'mp4')).toEqual([{ key: '----:PHONOGRAM', value: 'P' }]);
  });
});

describe('chapters of ID3', () => {
  it('stand in one list in order, each with its times and its name', () => {
    const chapters = [
      { startMs: 0, endMs: 1500, title: 'A' },
      { startMs: 1500, endMs: 4000, title: 'B' },
    ];
    const bytes = id3Tag({ tags: [], picture: null, chapters }, 2.3);
    // CTOC: “toc” and its zero, flags (top, in order), two entries, “ch1” and “ch2” with their zeros: 14
    expect([...bytes.subarray(10, 34)]).toEqual([
      ...[0x43, 0x54, 0x4f, 0x43, 0, 0, 0, 14, 0, 0],
      ...[0x74, 0x6f, 0x63, 0, 3, 2, 0x63, 0x68, 0x31, 0, 0x63, 0x68, 0x32, 0],
    ]);
    // CHAP: “ch1”, start 0, end 1500 = 0x5dc, no offsets, then TIT2 “A”
    expect([...bytes.subarray(34, 79)]).toEqual([
      ...[0x43, 0x48, 0x41, 0x50, 0, 0, 0, 35, 0, 0],
      ...[0x63, 0x68, 0x31, 0, 0, 0, 0, 0, 0, 0, 0x05, 0xdc],
      ...[0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff],
      ...[0x54, 0x49, 0x54, 0x32, 0, 0, 0, 5, 0, 0, 1, 0xff, 0xfe, 0x41, 0],
    ]);
  });
});

describe('the head of a FLAC file', () => {
  const text: FlacText = {
    tags: [{ key: 'TITLE', value: 'é' }],
    picture: null,
    marks: [
      { at: 0, track: 1, index: 1, name: 'A', isrc: 'ZZOIS2600001' },
      { at: 44_100, track: 2, index: 0, name: 'B', isrc: '' },
      { at: 132_300, track: 2, index: 1, name: 'B', isrc: '' },
    ],
    upc: '2012345678903',
    length: 441_000,
  };
  const stream = [...Buffer.from('fLaC'), 0, 0, 0, 34, ...new Uint8Array(34)];
  it('has its comments little-endian, and exactly the space that is there', () => {
    const space = flacTextBytes(text);
    const head = flacMetadata(text, space);
    expect(head.length).toBe(space);
    // Comments: “Oiseau”, one pair of 8 bytes (TITLE= and two of é): 4+6+4+4+8 = 26
    expect([...head.subarray(0, 4)]).toEqual([4, 0, 0, 26]);
    expect([...head.subarray(4, 14)]).toEqual([6, 0, 0, 0, ...Buffer.from('Oiseau')]);
    expect([...head.subarray(18, 22)]).toEqual([8, 0, 0, 0]);
    expect(() => flacMetadata(text, 100)).toThrow(/do not fit/);
  });
  it('has a cue sheet that is read back', async () => {
    const space = flacTextBytes(text);
    const found = await readFlacBlocks(
      memorySource(Uint8Array.from([...stream, ...flacMetadata(text, space)])),
    );
    expect(found).toEqual({
      at: 42,
      space,
      marks: [
        { at: 0, track: 1, index: 1 },
        { at: 44_100, track: 2, index: 0 },
        { at: 132_300, track: 2, index: 1 },
      ],
    });
    await expect(readFlacBlocks(memorySource(Buffer.from('RIFFxxxx')))).rejects.toThrow(/no FLAC/);
  });
});

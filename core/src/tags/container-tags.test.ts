import { describe, expect, it } from 'vitest';
import { memorySource } from '../pcm/bytes.js';
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
      [
        { key: 'TIT2', value: 'é' },
        { key: 'TXXX:M', value: 'a' },
      ],
      null,
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
    expect([...id3Tag([], picture).subarray(6, 10)]).toEqual([0, 0, 2, 68]);
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

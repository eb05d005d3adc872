import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readId3 } from './id3-read.js';

const latin1 = (text: string): number[] => Array.from(text, (char) => char.charCodeAt(0));
/** A frame of ID3v2.3 or 2.4, of less than 128 bytes. */
const frame = (id: string, content: readonly number[], flags = [0, 0]): number[] => [
  ...latin1(id),
  ...[0, 0, 0, content.length],
  ...flags,
  ...content,
];
const tag = (version: number, frames: readonly number[], flags = 0): Uint8Array =>
  Uint8Array.from([...latin1('ID3'), version, 0, flags, 0, 0, 0, frames.length, ...frames]);

describe('an ID3v2 tag', () => {
  it('is read in every encoding that a version has', () => {
    expect(
      readId3(tag(3, [...frame('TIT2', [0, 0x4d, 0xf6]), ...frame('TPE1', [1, 0xfe, 0xff, 0, 0x4d])])),
    ).toEqual({
      tags: { TITLE: 'Mö', ARTIST: 'M' },
      ...{ picture: null, chapters: [] },
    });
    expect(
      readId3(tag(4, [...frame('TIT2', [3, 0xc3, 0xb6, 0]), ...frame('TSRC', [2, 0, 0x5a, 0, 0x5a])]))?.tags,
    ).toEqual({
      TITLE: 'ö',
      TSRC: 'ZZ',
    });
    // ID3v2.2: three letters, three bytes of size.
    expect(readId3(tag(2, [...latin1('TT2'), 0, 0, 2, 0, 0x41]))?.tags).toEqual({ TITLE: 'A' });
  });
  it('joins year and day, and keeps user texts and comments by their names', () => {
    const frames = [
      ...frame('TDAT', [0, ...latin1('0911')]),
      ...frame('TYER', [0, ...latin1('2026')]),
      ...frame('TXXX', [0, ...latin1('Mood'), 0, ...latin1('calm')]),
      ...frame('COMM', [0, ...latin1('eng'), 0, ...latin1('low tide')]),
    ];
    expect(readId3(tag(3, frames))?.tags).toEqual({ DATE: '2026-11-09', MOOD: 'calm', COMMENT: 'low tide' });
  });
  it('gives the front cover before any other picture', () => {
    const picture = (kind: number, byte: number): number[] =>
      frame('APIC', [0, ...latin1('image/png'), 0, kind, 0, byte, byte]);
    expect(readId3(tag(3, [...picture(4, 1), ...picture(3, 2)]))?.picture).toEqual({
      mediaType: 'image/png',
      bytes: Uint8Array.of(2, 2),
    });
  });
  it('takes the zeros behind 0xFF out, passes over packed frames, and stops where it is damaged', () => {
    expect(readId3(tag(3, frame('TIT2', [1, 0xff, 0, 0xfe, 0x41, 0]), 0x80))?.tags).toEqual({ TITLE: 'A' });
    expect(
      readId3(tag(3, [...frame('TIT2', [0, 0x41], [0, 0x80]), ...frame('TPE1', [0, 0x42])]))?.tags,
    ).toEqual({
      ARTIST: 'B',
    });
    expect(readId3(tag(3, [...frame('TPE1', [0, 0x42]), 0, 0, 0, 0, 0]))?.tags).toEqual({ ARTIST: 'B' });
    // A picture without an end of its type, and a frame that is cut off, leave what stands before them.
    expect(
      readId3(tag(3, [...frame('TPE1', [0, 0x42]), ...frame('APIC', [0, 0x69]), ...latin1('TIT2'), 0, 0]))
        ?.tags,
    ).toEqual({ ARTIST: 'B' });
    expect(
      readId3(tag(3, [...frame('APIC', [0]), ...frame('CHAP', [0x61]), ...frame('TPE1', [0, 0x42])]))?.tags,
    ).toEqual({ ARTIST: 'B' });
    expect(readId3(Uint8Array.of(1, 2, 3))).toBeNull();
    expect(readId3(Uint8Array.from(latin1('ID3')))).toBeNull();
  });
  it('never fails, whatever stands in it', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(2, 3, 4),
        fc.array(
          fc.record({
            id: fc.constantFrom('TIT2', 'APIC', 'CHAP', 'COMM', 'TXXX', 'TT2', 'PIC', 'TDAT'),
            content: fc.uint8Array({ maxLength: 60 }),
            flags: fc.tuple(fc.nat(255), fc.nat(255)),
          }),
          { maxLength: 6 },
        ),
        fc.nat(255),
        fc.uint8Array({ maxLength: 20 }),
        (version, all, flags, rest) => {
          const body = all.flatMap((each) => frame(each.id, [...each.content], each.flags)).slice(0, 127);
          const found = readId3(Uint8Array.from([...tag(version, body, flags), ...rest]));
          expect(found === null || typeof found.tags === 'object').toBe(true);
        },
      ),
    );
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeCdText, encodeCdText, misfits, plainText } from '@oiseau/codings';
import {
  CdTextError,
  packCdText,
  packCount,
  crc16,
  unpackCdText,
  type CdTextBlock,
} from './cd-text-packs.js';

const hex = (bytes: Uint8Array): string =>
  Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
const packsOf = (bytes: Uint8Array): string[] => hex(bytes).match(/.{36}/g) ?? [];
const block = (change: Partial<CdTextBlock> = {}): CdTextBlock => ({
  charset: 'iso-8859-1',
  language: 0x09,
  firstTrack: 1,
  lastTrack: 2,
  texts: { title: ['Nine Tides', 'Lamp Lit', 'Neap'] },
  discId: '',
  genre: { code: 0, text: '' },
  codes: ['2012345678903', 'ZZOIS2600001', 'ZZOIS2600002'],
  ...change,
});

describe('CD-Text packs (IEC 61866, MMC-3 annex J)', () => {
  it('have the checksum of the standard: the published check value of this CRC', () => {
    // CRC-16 with polynomial 0x1021, start 0 and inverted output gives 0xCE3C for “123456789”.
    expect(crc16(new TextEncoder().encode('123456789'))).toBe(0xce3c);
  });

  it('are those of an album of two tracks, laid out by hand', () => {
    // Each row: type, track of its first character, sequence, characters before it; 12 bytes; the checksum by another program.
    expect(packsOf(packCdText([block()]))).toEqual([
      '80000000' + '4e696e65205469646573004c' + '69a4', // Nine Tides␀L
      '80010101' + '616d70204c6974004e656170' + 'acea', // amp Lit␀Neap
      '80020204' + '000000000000000000000000' + '4938', // ␀
      '8e000300' + '323031323334353637383930' + 'd86f', // 201234567890
      '8e00040c' + '33005a5a4f49533236303030' + 'ca47', // 3␀ZZOIS26000
      '8e01050a' + '3031005a5a4f495332363030' + '4318', // 01␀ZZOIS2600
      '8e020609' + '303032000000000000000000' + 'fb91', // 002␀
      '8f000700' + '000102000300000000000000' + '3024', // ISO 8859-1, tracks 1 to 2, 3 titles
      '8f010800' + '000000000000040309000000' + 'd007', // 4 of codes, 3 of sizes; the last is 9
      '8f020900' + '000000000900000000000000' + '0a4e', // English
    ]);
  });

  it('number each language for itself, and tell of all of them in each', () => {
    const japanese = block({
      charset: 'ms-jis',
      language: 0x69,
      texts: { title: ['日本', '海', '波'] },
      codes: null,
    });
    const packs = packsOf(packCdText([block({ codes: null }), japanese]));
    expect(packs.length).toBe(3 + 3 + 2 + 3);
    // Two bytes a character and a terminator of two: 93fa 967b 0000 8a43 0000 9467, and 0000 in a pack more
    expect(packs[6]?.slice(0, 32)).toBe('80000090' + '93fa967b00008a4300009467');
    expect(packs[5]?.slice(8, 32)).toBe('00000000' + '0969000000000000');
    // The last sequence numbers of both: 5 and 4
    expect(packs[4]?.slice(24, 32)).toBe('05040000');
  });

  it('hold a genre by its code and in words, and a disc id', () => {
    const bytes = packCdText([block({ genre: { code: 11, text: 'Lighthouse folk' }, discId: 'ML-009' })]);
    expect(
      packsOf(bytes)
        .find((pack) => pack.startsWith('87'))
        ?.slice(8, 20),
    ).toBe('000b4c696768');
    expect(unpackCdText(bytes)[0]).toMatchObject({
      genre: { code: 11, text: 'Lighthouse folk' },
      discId: 'ML-009',
    });
  });

  it('are none for an album that says nothing', () => {
    expect(packCdText([block({ texts: {}, codes: null })]).length).toBe(0);
  });

  it('are refused when they are more than 256', () => {
    const long = block({ texts: { title: Array.from({ length: 3 }, () => 'x'.repeat(1100)) } });
    // 3 × 1101 bytes are 276 packs, 4 of codes, 3 of sizes.
    expect(packCount(long)).toBe(283);
    expect(() => packCdText([long])).toThrow('The text needs 283 packs; CD-Text holds 256 per language.');
  });

  it('give the words back, and every checksum is right', () => {
    const words = fc.string({ unit: fc.constantFrom(...'abcXYZ 0189&é!'), maxLength: 40 });
    const subject = fc.integer({ min: 1, max: 12 }).chain((tracks) => {
      const each = fc.array(words, { minLength: tracks + 1, maxLength: tracks + 1 });
      return fc.record({
        tracks: fc.constant(tracks),
        title: each,
        performer: fc.option(each, { nil: undefined }),
        message: fc.option(each, { nil: undefined }),
        language: fc.integer({ min: 1, max: 0x7f }),
      });
    });
    fc.assert(
      fc.property(fc.array(subject, { minLength: 1, maxLength: 3 }), (languages) => {
        const blocks = languages.map(({ tracks, title, performer, message, language }) =>
          block({
            lastTrack: tracks,
            language,
            texts: { title, ...(performer && { performer }), ...(message && { message }) },
            codes: null,
          }),
        );
        const bytes = packCdText(blocks);
        expect(unpackCdText(bytes)).toEqual(blocks);
        for (let at = 0; at < bytes.length; at += 18)
          expect(crc16(bytes.subarray(at, at + 16))).toBe(
            ((bytes[at + 16] as number) << 8) | (bytes[at + 17] as number),
          );
      }),
      { numRuns: 60 },
    );
  });

  it('are not read when a bit is wrong, one is missing or two are swapped', () => {
    const good = packCdText([block()]);
    const flipped = good.slice();
    flipped[25] = (flipped[25] as number) ^ 4;
    expect(() => unpackCdText(flipped)).toThrow('The checksum of pack 1 is wrong.');
    expect(() => unpackCdText(good.subarray(0, 20))).toThrow(CdTextError);
    expect(() => unpackCdText(good.subarray(18))).toThrow('Pack 0 of block 0 is numbered 1.');
    expect(() => unpackCdText(good.subarray(0, 9 * 18))).toThrow('Block 0 has no three size packs.');
  });
});

describe('character sets of CD-Text', () => {
  it.each([
    ['iso-8859-1', 'Keeper’s Round', "Keeper's Round"],
    ['iso-8859-1', 'Été à l’île … № 3', "Été à l'île ... No. 3"],
    ['ascii', 'Été à l’île', "Ete a l'ile"],
    ['ascii', 'Straße, Ærø, Łódź', 'Strasse, AEro, Lodz'],
    ['iso-8859-1', 'Łódź', 'Lódz'],
    ['iso-8859-1', '海', '?'],
  ] as const)('%s: “%s” has the plain form “%s”', (charset, text, plain) => {
    expect(plainText(text, charset)).toBe(plain);
    expect(misfits(plain, charset)).toEqual([]);
  });

  it('name each character that does not fit, by its place', () => {
    expect(misfits('a–b 😀 ’', 'iso-8859-1')).toEqual([
      { at: 1, length: 1, char: '–', plain: '-' },
      { at: 4, length: 2, char: '😀', plain: null },
      { at: 7, length: 1, char: '’', plain: "'" },
    ]);
    expect(misfits('Übermut', 'iso-8859-1')).toEqual([]);
    expect(misfits('Übermut', 'ascii').map(({ char }) => char)).toEqual(['Ü']);
    expect(() => encodeCdText('’', 'iso-8859-1')).toThrow(RangeError);
  });

  it('keep a text whatever it is, once it is plain', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        for (const charset of ['iso-8859-1', 'ascii'] as const) {
          const plain = plainText(text, charset);
          expect(decodeCdText(encodeCdText(plain, charset), charset)).toBe(plain);
        }
      }),
    );
  });

  it('write Japanese in two bytes each, Latin letters in their width', () => {
    // 日 93fa, 本 967b, Ａ 8260
    expect(hex(encodeCdText('日本A', 'ms-jis'))).toBe('93fa967b8260');
    expect(misfits('日本é', 'ms-jis').map(({ char }) => char)).toEqual(['é']);
  });
});

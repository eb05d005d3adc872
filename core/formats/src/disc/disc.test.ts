import { english, verbatim } from '@oiseau/messages';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { frames } from '@oiseau/audio/time';
import { readCueSheet, writeCueSheet, type CueSheet } from './cue-sheet.js';
import { eanCheckDigit, eanFault, parseEan } from './ean.js';
import { formatIsrc, isrcFault, isrcRun, nextIsrcNumber, parseIsrc } from './isrc.js';

describe('ISRC (ISO 3901)', () => {
  it.each(['ZZOIS2600001', 'zz-ois-26-00001', 'ISRC ZZ OIS 26 00001', ' ZZ‐OIS‐26‐00001 '])(
    '%s is kept in one form',
    (text) => {
      expect(parseIsrc(text)).toBe('ZZOIS2600001');
    },
  );
  it('is shown with hyphens', () => expect(formatIsrc('ZZOIS2600001')).toBe('ZZ-OIS-26-00001'));
  it.each([
    ['ZZOIS26', /7 of 12/],
    ['ZZOIS26000012', /13 characters/],
    ['1ZOIS2600001', /first two/],
    ['ZZO!S2600001', /3 to 5/],
    ['ZZOIS26000X1', /last seven/],
  ])('%s is refused with the reason', (text, why) => {
    expect(parseIsrc(text)).toBeUndefined();
    expect(english(isrcFault(text) ?? verbatim(''))).toMatch(why);
  });
  it('may be empty', () => expect(isrcFault('  ')).toBeUndefined());
  it('runs on from a first number', () => {
    expect(isrcRun('zz-ois', '26', 98, 3)).toEqual(['ZZOIS2600098', 'ZZOIS2600099', 'ZZOIS2600100']);
    expect(isrcRun('ZZ0I5', '07', 99_999, 1)).toEqual(['ZZ0I50799999']);
    expect(() => isrcRun('ZZOIS', '26', 99_998, 3)).toThrow(/0 to 99999/);
    // The next free one is after the highest of that prefix and year, wherever it stands.
    const given = ['ZZOIS2600042', 'ZZOIS2600007', 'ZZOIS2500900', 'ZZABC2600100'];
    expect(nextIsrcNumber('zz-ois', '26', given)).toBe(43);
    expect(nextIsrcNumber('ZZOIS', '27', given)).toBe(1);
    expect(nextIsrcNumber('', '26', given)).toBe(1);
    expect(() => isrcRun('ZZOI', '26', 1, 1)).toThrow(/prefix/);
    expect(() => isrcRun('ZZOIS', '2026', 1, 1)).toThrow(/two digits/);
  });
});

describe('UPC/EAN', () => {
  it('has the check digit of the standard', () => {
    // 2·1 + 0·3 + 1 + 2·3 + 3 + 4·3 + 5 + 6·3 + 7 + 8·3 + 9 + 0·3 = 87 → 3
    expect(eanCheckDigit('201234567890')).toBe(3);
    // The worked example of the GS1 General Specifications: 629104150021 → 3
    expect(eanCheckDigit('629104150021')).toBe(3);
  });
  it('reads 12 and 13 digits, widening 12', () => {
    expect(parseEan('2012345678903')).toBe('2012345678903');
    expect(parseEan('2 0123-45678903')).toBe('2012345678903');
    // 036000291452: the worked UPC-A example, 3·(0+6+0+2+1+5) + (3+0+0+9+4) = 58 → 2
    expect(parseEan('036000291452')).toBe('0036000291452');
  });
  it.each([
    ['2012345678904', /should be 3, not 4/],
    ['20123', /5 digits/],
    ['20123456789031', /14 digits/],
    ['2012345a78903', /only digits/],
  ])('%s is refused with the reason', (text, why) => {
    expect(parseEan(text)).toBeUndefined();
    expect(english(eanFault(text) ?? verbatim(''))).toMatch(why);
  });
});

describe('cue sheet', () => {
  const sheet: CueSheet = {
    catalog: '2012345678903',
    title: 'Nine Tides',
    performer: 'Marram Lamps',
    songwriter: '',
    file: 'image.wav',
    audio: 'WAVE',
    tracks: [
      {
        title: 'Lamp "Lit"',
        performer: 'Marram Lamps',
        songwriter: '',
        isrc: 'ZZOIS2600001',
        copyPermitted: true,
        preEmphasis: false,
        indexes: [{ index: 1, frames: frames(0) }],
      },
      {
        title: 'Ebb',
        performer: '',
        songwriter: 'Ida Fenn',
        isrc: '',
        copyPermitted: false,
        preEmphasis: true,
        indexes: [
          { index: 0, frames: frames(4_500) },
          { index: 1, frames: frames(4_650) },
        ],
      },
    ],
  };

  it('is written as docs/rules.md 9.1 has it', () => {
    expect(writeCueSheet(sheet).split('\r\n')).toEqual([
      'CATALOG 2012345678903',
      'PERFORMER "Marram Lamps"',
      'TITLE "Nine Tides"',
      'FILE "image.wav" WAVE',
      '  TRACK 01 AUDIO',
      '    FLAGS DCP',
      `    TITLE "Lamp 'Lit'"`,
      '    PERFORMER "Marram Lamps"',
      '    ISRC ZZOIS2600001',
      '    INDEX 01 00:00:00',
      '  TRACK 02 AUDIO',
      '    FLAGS PRE',
      '    TITLE "Ebb"',
      '    SONGWRITER "Ida Fenn"',
      '    INDEX 00 01:00:00',
      '    INDEX 01 01:02:00',
      '',
    ]);
  });

  it('reads back what was written, whatever the words', () => {
    const text = fc
      .string({ unit: 'grapheme' })
      .map((t) => t.replace(/["\r\n\t\u2028\u2029\v\f]/g, '').trim());
    fc.assert(
      fc.property(text, text, (title, performer) => {
        const made = {
          ...sheet,
          title,
          performer,
          tracks: sheet.tracks.map((track) => ({ ...track, title, performer })),
        };
        expect(readCueSheet(writeCueSheet(made))).toEqual(made);
      }),
    );
  });

  it.each([
    ['no file', 'TRACK 01 AUDIO\n', /names no FILE/],
    ['a track out of turn', 'FILE "a" WAVE\nTRACK 02 AUDIO', /Line 2.*TRACK 02 instead of 01/],
    ['a bad time', 'FILE "a" WAVE\nTRACK 01 AUDIO\nINDEX 01 00:00:99', /Line 3/],
    ['an unread type', 'FILE "a" TAPE', /TAPE; WAVE, BINARY, AIFF, MP3/],
  ])('refuses %s, naming the line', (_, text, words) => expect(() => readCueSheet(text)).toThrow(words));
});

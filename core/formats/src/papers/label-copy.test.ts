import { createTranslator, english, type Message } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import type { Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { album } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { wordPaper } from '../disc/paper.js';
import { labelCopy, labelPaper, labelRows } from './label-copy.js';

const facts = { rate: 44_100, length: 125 * 44_100 };
const masters = new Map([
  ['a', facts],
  ['b', facts],
]);
const words: Album = {
  ...album(
    {
      master: 'a',
      title: 'Lamp',
      isrc: 'zz-ois-26-00001',
      lyricist: 'Ida Quill',
      publisher: 'Low Light Music',
    },
    { master: 'b', title: '潮騒', performer: 'Guest', advisory: 'explicit', out: secondsToTicks(60) },
  ),
  ...{ title: 'Nine Tides', performer: 'Marram Lamps', composer: 'Wen Marrow', upc: '2012345678903' },
  ...{ label: 'Low Light', phonogram: '2026 Low Light', genre: '' },
};

const inEnglish = ([name, value]: readonly [Message, string]) => [english(name), value];

describe('a label copy', () => {
  it('has all words and codes, who is not named being the album’s', () => {
    const copy = labelCopy(words, layOutAlbum(words, masters));
    expect(copy.facts.map(inEnglish)).toEqual([
      ['Label', 'Low Light'],
      ['UPC/EAN', '2012345678903'],
      ['Language', 'en'],
      ['℗', '2026 Low Light'],
      ['Tracks', '2'],
    ]);
    expect(labelRows(copy).slice(-3)).toEqual([
      [
        ...['position', 'title', 'performer', 'songwriter', 'composer', 'arranger', 'lyricist', 'publisher'],
        ...['isrc', 'length', 'advisory'],
      ],
      // 125 s and 60 s.
      [
        ...['1', 'Lamp', 'Marram Lamps', '', 'Wen Marrow', '', 'Ida Quill', 'Low Light Music'],
        ...['ZZ-OIS-26-00001', '2:05', ''],
      ],
      ['2', '潮騒', 'Guest', '', 'Wen Marrow', '', '', '', '', '1:00', 'explicit'],
    ]);
    expect(
      wordPaper(labelPaper(copy), createTranslator('en', 'en-GB')).rows.map(({ cells }) => cells[3]),
    ).toEqual([
      'Wen Marrow (composer)\nIda Quill (lyricist)\nLow Light Music (publisher)',
      'Wen Marrow (composer)',
    ]);
  });

  it('tells of parts, and of a code that is a part’s own', () => {
    const parted: Album = {
      ...words,
      parts: (['t1', 't2'] as const).map((first, i) => ({
        ...{ medium: 'cd' as const, first, title: '', upc: i === 1 ? '2000000000008' : '', limit: null },
      })),
    };
    const copy = labelCopy(parted, layOutAlbum(parted, masters));
    expect(copy.facts.slice(-2).map(inEnglish)).toEqual([
      // Two seconds of first pause stand before each.
      ['Disc 1', expect.stringContaining('2:07') as string],
      ['Disc 2', expect.stringContaining('2000000000008') as string],
    ]);
    expect(copy.tracks.map(({ position }) => position)).toEqual(['1-01', '2-01']);
  });
});

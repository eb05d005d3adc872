import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { album, discOf, flat } from '@oiseau/album/testing';
import { frames } from '@oiseau/audio/time';
import { compareImage } from '../disc/compare-image.js';
import { imageOfCue, imageOfDdp, type DiscImage } from '../disc/disc-image.js';
import { readCueSheet } from '../disc/cue-sheet.js';
import { marksInOrder } from '../disc/marks.js';
import { albumFromImage, ImageUnusable } from './from-image.js';

const plain = { text: {}, isrc: '', copyPermitted: false, preEmphasis: false };
const image = (change: Partial<DiscImage>): DiscImage => ({
  ...{ kind: 'ddp', upc: '', masterId: '', marks: [], leadOut: frames(0), text: {}, problems: [] },
  audio: { path: 'IMAGE.DAT', from: frames(0) },
  tracks: [],
  ...change,
});

describe('an album made of a disc image', () => {
  it('has the marks and the end of the image, wherever they are', () => {
    const track = fc.record({
      pause: fc.integer({ min: 0, max: 300 }),
      length: fc.integer({ min: 300, max: 5000 }),
      index: fc.option(fc.integer({ min: 1, max: 299 }), { nil: null }),
    });
    fc.assert(
      fc.property(
        fc.array(track, { minLength: 1, maxLength: 30 }),
        fc.integer({ min: 150, max: 900 }),
        (tracks, firstPause) => {
          let at = 0;
          const marks = tracks.flatMap(({ pause, length, index }, i) => {
            const opens = at;
            const start = opens + (i === 0 ? firstPause : pause);
            at = start + length;
            const mark = (n: number, place: number) => ({ track: i + 1, index: n, frames: frames(place) });
            return [
              ...(start > opens ? [mark(0, opens)] : []),
              mark(1, start),
              ...(index === null ? [] : [mark(2, start + index)]),
            ];
          });
          const made = albumFromImage(
            image({ marks, leadOut: frames(at), tracks: tracks.map(() => plain) }),
            'm',
            (i) => `t${i}`,
          );
          const facts = new Map([['m', { rate: 44_100, length: at * 588 }]]);
          const { disc, sequence } = discOf(made, facts);
          // The first pause is the disc's own and has no mark.
          expect(marksInOrder(disc)).toEqual(marks.filter(({ track: n, index }) => n > 1 || index > 0));
          expect(disc.leadOut).toBe(at);
          // Sample for sample: each region begins where the one before ends.
          sequence.songs.forEach(({ region }, i) => {
            const next = sequence.songs[i + 1]?.region;
            if (next) expect(next.in).toBe(region.out);
          });
        },
      ),
    );
  });
  it('has the words and codes, those of the album once', () => {
    const made = albumFromImage(
      image({
        upc: '2012345678903',
        masterId: 'LL-7',
        leadOut: frames(1000),
        marks: [
          { track: 1, index: 0, frames: frames(0) },
          { track: 1, index: 1, frames: frames(150) },
          { track: 2, index: 1, frames: frames(500) },
        ],
        text: { title: 'Nine Tides', performer: 'Marram Lamps' },
        tracks: [
          {
            ...plain,
            text: { title: 'Lamp', performer: 'Marram Lamps' },
            isrc: 'ZZOIS2600001',
            preEmphasis: true,
          },
          { ...plain, text: { title: 'Ebb', performer: 'Ada' } },
        ],
      }),
      'm',
      (i) => `t${i}`,
    );
    expect(made).toMatchObject({
      title: 'Nine Tides',
      performer: 'Marram Lamps',
      upc: '2012345678903',
      catalogNumber: 'LL-7',
    });
    expect(made.songs.map((_, i) => flat(made, i))).toMatchObject([
      { title: 'Lamp', performer: '', isrc: 'ZZOIS2600001', preEmphasis: true },
      { title: 'Ebb', performer: 'Ada', isrc: '' },
    ]);
  });
  it('can be made of a cue sheet, whose image begins two seconds into the disc', () => {
    const sheet = readCueSheet(
      'TITLE "Ebb"\nFILE "a.wav" WAVE\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nTRACK 02 AUDIO\nINDEX 00 00:10:00\nINDEX 01 00:12:00\n',
    );
    const found = imageOfCue(sheet, [20 * 75]);
    expect(found).toMatchObject({ leadOut: 22 * 75, problems: [] });
    const { songs } = albumFromImage(found, 'm', (i) => `t${i}`);
    const second = 705_600_000;
    expect(songs.map(({ region }) => [region.in / second, (region.out ?? 0) / second])).toEqual([
      [0, 10],
      [10, 20],
    ]);
    expect(imageOfCue(sheet, [11 * 75]).problems).toEqual(['The last mark is not before the end of a.wav.']);
  });
  it('can be made of a cue sheet of several files, each counted from its own start', () => {
    const sheet = readCueSheet(
      'FILE "a.wav" WAVE\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nTRACK 02 AUDIO\nINDEX 00 00:08:00\nFILE "b.wav" WAVE\nINDEX 01 00:00:00\nFILE "c.wav" WAVE\nTRACK 03 AUDIO\nINDEX 01 00:01:00\n',
    );
    // a lasts 10 s, b 5 s, c 4 s; the image begins two seconds into the disc.
    const found = imageOfCue(sheet, [10 * 75, 15 * 75, 19 * 75]);
    expect(found).toMatchObject({
      ...{ leadOut: 21 * 75, problems: [] },
      audio: { path: 'a.wav', more: ['b.wav', 'c.wav'] },
    });
    expect(found.marks.map(({ track, index, frames }) => [track, index, frames / 75])).toEqual([
      [1, 1, 2],
      [2, 0, 10],
      [2, 1, 12],
      [3, 1, 18],
    ]);
  });
  it('is refused without audio, an end, a start mark or a track', () => {
    const make = (change: Partial<DiscImage>) => () => albumFromImage(image(change), 'm', (i) => `t${i}`);
    expect(make({ audio: null })).toThrow(ImageUnusable);
    expect(make({ leadOut: null })).toThrow(/no lead-out/);
    expect(make({})).toThrow(/no track/);
    expect(make({ tracks: [plain] })).toThrow(/Track 1 has no start mark/);
    const empty = imageOfDdp({
      ...{ upc: '', masterId: '', marks: [], leadOut: null, image: null, sectors: null, cdText: [] },
      problems: ['DDPMS names no audio.'],
    });
    expect(empty).toMatchObject({ audio: null, tracks: [], problems: ['DDPMS names no audio.'] });
  });
});

describe('an image laid against an album', () => {
  const subject = {
    ...album({ master: 'm', title: 'Lamp', isrc: 'ZZOIS2600001' }, { master: 'm', title: 'Ébb' }),
    upc: '2012345678903',
  };
  const disc = discOf(subject, new Map([['m', { rate: 44_100, length: 44_100 * 10 }]]));
  // 2 + 10 + 2 + 10 s
  const same = image({
    upc: '2012345678903',
    leadOut: frames(24 * 75),
    marks: [
      { track: 1, index: 0, frames: frames(0) },
      { track: 1, index: 1, frames: frames(150) },
      { track: 2, index: 0, frames: frames(900) },
      { track: 2, index: 1, frames: frames(1050) },
    ],
    text: { title: 'Nine Tides', performer: 'Marram Lamps' },
    tracks: [
      { ...plain, text: { title: 'Lamp', performer: 'Marram Lamps' }, isrc: 'ZZOIS2600001' },
      { ...plain, text: { title: 'Ébb', performer: 'Marram Lamps' } },
    ],
  });
  const told = (change: Partial<DiscImage>): string[] => compareImage(subject, disc, { ...same, ...change });
  it('is the same where every mark, word and code is', () => expect(told({})).toEqual([]));
  it('tells of marks', () => {
    const marks = same.marks.map((mark) => (mark.frames === 1050 ? { ...mark, frames: frames(1053) } : mark));
    expect(told({ marks })).toEqual(['track 2 starts 0.04 s too late']);
    expect(told({ marks: same.marks.filter(({ frames: at }) => at !== 900) })).toEqual([
      'the pause of track 2 is missing',
    ]);
    expect(told({ marks: [...same.marks, { track: 2, index: 2, frames: frames(1100) }] })).toEqual([
      'index 2 of track 2 is unexpected',
    ]);
    expect(told({ leadOut: frames(1799) })).toEqual(['the disc ends at 00:23:74 instead of 00:24:00']);
  });
  it('tells of words, codes, flags and tracks', () => {
    expect(told({ upc: '', text: { title: 'Nine Tide', performer: 'Marram Lamps' } })).toEqual([
      'album: title “Nine Tide” instead of “Nine Tides”',
      'album: UPC/EAN “” instead of “2012345678903”',
    ]);
    const [first, second] = same.tracks as [DiscImage['tracks'][number], DiscImage['tracks'][number]];
    expect(told({ tracks: [{ ...first, isrc: '', preEmphasis: true }, second] })).toEqual([
      'track 1: ISRC “” instead of “ZZOIS2600001”',
      'track 1: flags “pre-emphasis” instead of “”',
    ]);
    const wordless = same.tracks.map((track) => ({ ...track, text: {} }));
    expect(told({ text: {}, tracks: wordless })).toEqual(['the image has no text']);
    expect(told({ tracks: [first] })).toEqual(['the image has 1 track, the album 2']);
  });
});

import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { NO_ALBUM_TREATMENT, NO_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { album, withSong, type SongChange } from '../testing.js';
import type { Album } from '../model/album.js';
import { compareAlbums } from './compare.js';
import { deliverableSchema } from '../model/deliverable.js';
import { newEdition } from '../model/edition.js';
import { moveTrack } from '../edits/edit.js';
import type { Region } from '../model/region.js';
import type { Song, SongMarks } from '../model/song.js';

const facts = new Map([['m', { rate: 44_100, length: 44_100 * 10 }]]);
const three = album({ master: 'm' }, { master: 'm' }, { master: 'm' });
const change = (place: number, words: SongChange): Album => withSong(three, place, words);
const told = (after: Album): string[] => compareAlbums(three, after, facts).map(english);

describe('two states of an album in words', () => {
  it('are alike when nothing has changed', () => expect(told({ ...three })).toEqual([]));
  it('tell of times', () => {
    expect(told(change(1, { gapBefore: secondsToTicks(3) }))).toEqual([
      'track 2 starts 1.00 s later',
      'track 3 starts 1.00 s later',
      'the disc ends at 0:37.00 instead of 0:36.00',
    ]);
    expect(told(change(2, { out: secondsToTicks(8) }))).toEqual([
      'track 3 is 2.00 s shorter',
      'the disc ends at 0:34.00 instead of 0:36.00',
    ]);
  });
  it('tell of words and codes', () => {
    expect(told(change(0, { isrc: 'ZZOIS2600001', title: 'Ebb' }))).toEqual([
      'track 1: title “Song 1” → “Ebb”',
      'track 1: ISRC added',
    ]);
    expect(told({ ...three, performer: '', label: 'Low Light' })).toEqual([
      'album: performer removed',
      'album: label added',
    ]);
  });
  it('tell of the words, the code and the medium of a part', () => {
    const parted = (change: object): Album => ({
      ...three,
      parts: ['t1', 't2'].map((first, i) => ({
        ...{ medium: 'cd' as const, first, title: '', upc: '', limit: null },
        ...(i === 1 && change),
      })),
    });
    const between = (change: object): string[] =>
      compareAlbums(parted({}), parted(change), facts).map(english);
    expect(between({})).toEqual([]);
    expect(between({ title: 'The Ebb', upc: '2012345678903' })).toEqual([
      'disc 2: title added',
      'disc 2: UPC/EAN added',
    ]);
    expect(between({ medium: 'vinyl-7-45' })).toContain('side A: on 7 in, 45 instead of CD');
  });
  it('tell of order', () => {
    expect(told(moveTrack(three, 't1', 1)).slice(0, 2)).toEqual([
      '“Song 2” from track 2 to track 1',
      '“Song 1” from track 1 to track 2',
    ]);
    expect(told({ ...three, songs: three.songs.slice(0, 2) })).toEqual([
      '“Song 3” removed',
      'the disc ends at 0:24.00 instead of 0:36.00',
    ]);
  });
  it('tell of sound and flags', () => {
    expect(
      told(
        change(1, {
          gainDb: -1.5,
          copyPermitted: true,
          fadeOut: { length: secondsToTicks(4), shape: 'cosine' },
        }),
      ),
    ).toEqual([
      'track 2: gain 0.0 dB → −1.5 dB',
      'track 2: fade-out 0 s linear → 4 s cosine',
      'track 2: copy permitted set',
    ]);
    expect(told({ ...three, artwork: 'ab' })).toEqual(['album: cover replaced']);
  });
  it('tell nothing of what is selected for rendering at the moment', () => {
    expect(told({ ...three, unselected: ['files'] })).toEqual([]);
  });
  it('tell of deliverables', () => {
    const plant = deliverableSchema.parse({ name: 'plant', kind: 'ddp' });
    expect(told({ ...three, deliverables: [plant] })).toEqual([
      'deliverable “image” removed',
      'deliverable “files” removed',
      'deliverable “plant” added',
    ]);
  });
  it('tell of editions', () => {
    const lp = { ...newEdition('LP'), order: ['t2', 't1'] };
    expect(told({ ...three, editions: [lp] })).toEqual(['edition “LP” added']);
    const other = { ...three, editions: [{ ...lp, order: ['t1', 't2'], upc: '2012345678903' }] };
    expect(compareAlbums({ ...three, editions: [lp] }, other, facts).map(english)).toEqual([
      'edition “LP” changed: running order, UPC/EAN',
    ]);
    expect(compareAlbums(other, three, facts).map(english)).toEqual(['edition “LP” removed']);
  });
  // A field that is added to an album, a song or its marks breaks the build here until it has another value to be told of.
  const ofAlbum: {
    [
      Field in keyof Omit<Album, 'accepted' | 'songs' | 'parts' | 'deliverables' | 'unselected'>
    ]: Album[Field];
  } = {
    ...{ title: 'Ebb', performer: 'x', songwriter: 'x', composer: 'x', arranger: 'x', message: 'x' },
    ...{ genre: 'x', label: 'x', catalogNumber: 'x', upc: 'x', releaseDate: 'x', copyright: 'x' },
    ...{ phonogram: 'x', language: 'fr', discNumber: 2, discTotal: 3, genreCode: 4, comment: 'x' },
    ...{ tags: { MOOD: 'x' }, cdTextCharset: 'ascii', cdTextPlain: true, artwork: 'ab' },
    secondLanguage: { language: 'ja', charset: 'ms-jis', words: {} },
    markLead: secondsToTicks(1),
    endPause: secondsToTicks(1),
    sound: { ...NO_ALBUM_TREATMENT, limiter: { drive: 0, ceiling: -1, release: 80 } },
    editions: [newEdition('LP')],
  };
  it.each(Object.entries(ofAlbum))('tell of the album’s %s', (field, value) =>
    expect(told({ ...three, [field]: value })).not.toEqual([]),
  );
  const ofSong: { [Field in keyof Omit<Song, 'id' | 'numbered' | 'region' | 'marks'>]: Song[Field] } = {
    ...{ title: 'Ebb', performer: 'x', songwriter: 'x', composer: 'x', arranger: 'x', message: 'x' },
    ...{ isrc: 'x', copyPermitted: true, preEmphasis: true, lyricist: 'x', publisher: 'x' },
    ...{ comment: 'x', language: 'fr', advisory: 'clean', tags: { MOOD: 'x' }, secondWords: { title: 'x' } },
    alternates: { clean: { master: 'cd'.repeat(32), shift: ticks(0) } },
  };
  it.each(Object.entries(ofSong))('tell of a song’s %s', (field, value) =>
    expect(told(change(1, { [field]: value }))).not.toEqual([]),
  );
  const ofRegion: { [Field in keyof Omit<Region, 'master'>]: Region[Field] } = {
    ...{ in: secondsToTicks(1), out: secondsToTicks(8), gapBefore: secondsToTicks(3), gainDb: 1 },
    fadeIn: { length: secondsToTicks(1), shape: 'linear' },
    fadeOut: { length: secondsToTicks(1), shape: 'linear' },
    sound: { ...NO_TREATMENT, ride: -1 },
  };
  const ofMarks: { [Field in keyof Omit<SongMarks, 'tempo' | 'loudest'>]: SongMarks[Field] } = {
    indexes: [secondsToTicks(1)],
    markLead: secondsToTicks(1),
    pauseDelay: secondsToTicks(1),
  };
  it.each(Object.entries({ ...ofRegion, ...ofMarks }))('tell of %s', (field, value) =>
    expect(told(change(1, { [field]: value }))).not.toEqual([]),
  );
});

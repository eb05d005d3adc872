import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_ALBUM_TREATMENT, NO_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks } from '@oiseau/audio/time';
import { album } from '../testing.js';
import { hiddenSong, newAlbum, tracksOf } from '../model/album.js';
import { deliverableSchema } from '../model/deliverable.js';
import { hideFirstTrack } from '../edits/edit.js';
import {
  albumDocument,
  deliverableDocument,
  LaterDocument,
  readAlbumDocument,
  readDeliverableDocument,
} from './stored.js';

const SECOND = 705_600_000;
const [A, B] = ['a1'.repeat(32), 'b2'.repeat(32)];
const noFade = { length: 0, shape: 'linear' };
const words = { songwriter: '', composer: '', arranger: '', message: '' };

/** A track as the very first version kept it: no marks of its own, no tempo, no later words. */
const firstTrack = (id: string, change: object = {}) => ({
  ...{ id, master: A, in: 0, out: null, gapBefore: 2 * SECOND, gainDb: 0, fadeIn: noFade, fadeOut: noFade },
  ...{ indexes: [], title: `Song ${id}`, performer: '', ...words },
  ...{ isrc: '', copyPermitted: false, preEmphasis: false },
  ...change,
});
/** An album as the very first version kept it. */
const firstAlbum = {
  ...{ title: 'Nine Tides', performer: 'Marram Lamps', ...words, genre: 'Chamber', label: 'Low Light' },
  ...{
    catalogNumber: 'LL-009',
    upc: '2026110900014',
    releaseDate: '2026-11-09',
    copyright: '',
    phonogram: '',
  },
  ...{ language: 'en', discNumber: 1, discTotal: 1, artwork: null, markLead: 0, endPause: 0 },
  tracks: [
    firstTrack('t1'),
    firstTrack('t2', { in: SECOND, out: 5 * SECOND, gainDb: -1.5, indexes: [SECOND] }),
  ],
  deliverables: [{ name: 'image', kind: 'cue', audio: 'wav', dither: 'triangular' }],
};
/** An album as it was kept just before songs had one list: a hidden song, marks, a tempo, a finding accepted. */
const lastOfVersion1 = {
  ...firstAlbum,
  ...{ genreCode: 11, comment: '', tags: { MOOD: 'calm' }, cdTextCharset: 'ascii', cdTextPlain: true },
  secondLanguage: { language: 'ja', charset: 'ms-jis', words: { title: '九つの潮' } },
  accepted: [
    { code: 'long-silence', track: 'hush', reason: 'It is meant so.' },
    { code: 'upc-missing', track: null, reason: 'A demo.' },
  ],
  hidden: firstTrack('hush', { master: B, gapBefore: 0, markLead: null, pauseDelay: null, tempo: null }),
  tracks: [
    firstTrack('t1', {
      ...{ markLead: -SECOND, pauseDelay: SECOND, tempo: { bpm: 92.5, bar: 3, beat: 100 } },
      ...{ lyricist: 'Ada', publisher: '', comment: '', language: '', advisory: 'clean' },
      ...{ tags: { KEY: 'A' }, secondWords: { title: '灯' } },
    }),
  ],
};

describe('albums that earlier versions kept', () => {
  it('of the first version have what came later as it is when nobody has said anything', () => {
    const made = readAlbumDocument(JSON.parse(JSON.stringify(firstAlbum)));
    expect(hiddenSong(made)).toBeUndefined();
    expect(made).toMatchObject({ title: 'Nine Tides', accepted: [], parts: [], secondLanguage: null });
    expect(made.songs).toMatchObject([
      { id: 't1', numbered: true, title: 'Song t1', lyricist: '', region: { master: A, out: null } },
      {
        id: 't2',
        region: { in: SECOND, out: 5 * SECOND, gainDb: -1.5 },
        marks: { indexes: [SECOND], markLead: null, pauseDelay: null, tempo: null },
      },
    ]);
  });

  it('have the hidden song first, and every field where it belongs', () => {
    const made = readAlbumDocument(JSON.parse(JSON.stringify(lastOfVersion1)));
    expect(made.songs.map(({ id, numbered }) => [id, numbered])).toEqual([
      ['hush', false],
      ['t1', true],
    ]);
    expect(made.songs[0]?.region).toEqual({
      ...{ master: B, in: 0, out: null, gapBefore: 0, gainDb: 0, fadeIn: noFade, fadeOut: noFade },
      sound: NO_TREATMENT,
    });
    expect(made.sound).toEqual(NO_ALBUM_TREATMENT);
    expect(tracksOf(made)[0]).toMatchObject({
      marks: { markLead: -SECOND, pauseDelay: SECOND, tempo: { bpm: 92.5, bar: 3, beat: 100 } },
      ...{ lyricist: 'Ada', advisory: 'clean', tags: { KEY: 'A' }, secondWords: { title: '灯' } },
    });
    expect(made.accepted).toEqual([
      { code: 'long-silence', song: 'hush', reason: 'It is meant so.' },
      { code: 'upc-missing', song: null, reason: 'A demo.' },
    ]);
    expect(made.secondLanguage?.words.title).toBe('九つの潮');
  });

  it('with two tracks of one id open all the same', () => {
    const made = readAlbumDocument({ ...firstAlbum, tracks: [firstTrack('t1'), firstTrack('t1')] });
    expect(made.songs.map(({ id }) => id)).toEqual(['t1', 't1-2']);
  });

  it('come back as they went once they are kept by this version', () => {
    const song = fc.record({ gapBefore: fc.integer({ min: 0, max: 9 }).map(secondsToTicks) });
    fc.assert(
      fc.property(fc.array(song, { minLength: 2, maxLength: 5 }), fc.boolean(), (songs, hides) => {
        const plain = album(...songs.map((change) => ({ ...change, master: A })));
        const of = hides ? hideFirstTrack(plain) : plain;
        const kept: unknown = JSON.parse(JSON.stringify(albumDocument(of)));
        expect(kept).toMatchObject({ version: 7 });
        expect(readAlbumDocument(kept)).toEqual(of);
      }),
    );
  });

  it('have no knee wider than the documented 24 dB', () => {
    const kept = albumDocument(album({ master: A })) as { songs: { region: { sound: object } }[] };
    const compressor = { threshold: -20, ratio: 2, attack: 15, release: 150, knee: 40, makeup: 0 };
    const songs = kept.songs.map((song) => ({
      ...song,
      region: { ...song.region, sound: { ...song.region.sound, compressor } },
    }));
    const read = readAlbumDocument({ ...kept, songs, version: 5 });
    expect(read.songs[0]?.region.sound.compressor).toEqual({ ...compressor, knee: 24 });
    expect(() => readAlbumDocument({ ...kept, songs })).toThrow();
  });

  it('that are none, or of a later version, are refused', () => {
    expect(() => readAlbumDocument({ ...albumDocument(newAlbum('')), version: 8 })).toThrow(LaterDocument);
    expect(() => readAlbumDocument({ ...albumDocument(newAlbum('')), colour: 1 })).toThrow(/colour/);
    expect(() => readAlbumDocument(null)).toThrow();
    const doubled = album({ id: 'a', master: A }, { id: 'a', master: A });
    expect(() => readAlbumDocument(albumDocument(doubled))).toThrow(/same id/);
    const late = album({ master: A }, { master: A, numbered: false });
    expect(() => readAlbumDocument(albumDocument(late))).toThrow(/first track/);
  });
});

describe('settings of deliverables that earlier versions kept', () => {
  it('are read with and without a version', () => {
    const form = deliverableSchema.parse({ name: 'radio', kind: 'tracks', format: 'mp3' });
    expect(readDeliverableDocument({ ...form })).toEqual(form);
    expect(deliverableDocument(form)).toMatchObject({ version: 3 });
    expect(readDeliverableDocument(deliverableDocument(form))).toEqual(form);
    expect(() => readDeliverableDocument({ ...form, version: 4 })).toThrow(LaterDocument);
  });
});

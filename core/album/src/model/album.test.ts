import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks } from '@oiseau/audio/time';
import { album, flat } from '../testing.js';
import { albumSchema, hiddenSong, songOf, tracksOf, type Album } from './album.js';
import { bitrateOf, deliverableSchema } from './deliverable.js';
import {
  appendSongs,
  compareNames,
  editWords,
  hideFirstTrack,
  moveTrack,
  moveTracks,
  removeSongs,
  showHidden,
  titleFromFileName,
} from '../edits/edit.js';
import {
  AlbumFileError,
  albumFromFile,
  albumToFile,
  parseAlbumFile,
  sumsInFile,
  type AlbumFile,
} from '../file/file.js';
import { fillPattern, safeFileName, uniqueNames, unknownWords, type PatternWord } from './name-pattern.js';

const s = secondsToTicks;
const ids = (of: Album): string =>
  tracksOf(of)
    .map(({ id }) => id)
    .join(' ');
const gaps = ({ songs }: Album): number[] => songs.map(({ region }) => region.gapBefore);
const problems = (file: unknown): readonly string[] => {
  try {
    parseAlbumFile(JSON.stringify(file));
  } catch (error) {
    if (error instanceof AlbumFileError) return error.problems;
  }
  return [];
};
const smallest = { format: 'oiseau-album', version: 1, tracks: [{ master: 'one.wav' }] };

describe('edits', () => {
  it('move a track and leave the first pause where it is', () => {
    const before = album({ gapBefore: s(3) }, { gapBefore: s(1) }, { gapBefore: s(0.5) });
    const after = moveTrack(before, 't1', 2);
    expect(ids(after)).toBe('t2 t3 t1');
    expect(gaps(after)).toEqual([s(3), s(0.5), s(1)]);
    expect(flat(before, 0).gapBefore).toBe(s(3));
  });

  it('never make a first pause of an overlap, nor an overlap of the old first pause', () => {
    const after = moveTrack(album({ gapBefore: s(2) }, { gapBefore: s(-1) }), 't2', 0);
    expect(gaps(after)).toEqual([s(2), s(2)]);
  });

  it('remove, append and change tracks', () => {
    const start = album({}, {}, {});
    expect(ids(removeSongs(start, new Set(['t1', 't3'])))).toBe('t2');
    expect(ids(appendSongs(start, album({ id: 'new' }).songs))).toBe('t1 t2 t3 new');
    expect(songOf(editWords(start, 't2', { title: 'Lantern Oil' }), 't2')?.title).toBe('Lantern Oil');
    expect(moveTrack(start, 't1', 9)).toBe(start);
  });

  it('move several tracks together, as far as there is room', () => {
    const five = album({}, {}, {}, {}, {});
    const some = new Set(['t2', 't4']);
    expect(ids(moveTracks(five, some, -1))).toBe('t2 t1 t4 t3 t5');
    expect(ids(moveTracks(five, some, 1))).toBe('t1 t3 t2 t5 t4');
    expect(ids(moveTracks(five, new Set(['t2', 't3']), 1))).toBe('t1 t4 t2 t3 t5');
    expect(moveTracks(five, new Set(['t1', 't3']), -1)).toBe(five);
    expect(moveTracks(five, new Set(['t3', 't5']), 1)).toBe(five);
  });

  it('hide the first track, and show it again as it was', () => {
    const three = album({ gapBefore: s(3) }, { gapBefore: s(-1) }, {});
    const hidden = hideFirstTrack(three);
    expect([hiddenSong(hidden)?.id, ids(hidden)]).toEqual(['t1', 't2 t3']);
    // What was an overlap is none with the marks between.
    expect(flat(hidden, 1).gapBefore).toBe(0);
    expect(hideFirstTrack(hidden)).toBe(hidden);
    expect(hideFirstTrack(album({}))).toEqual(album({}));
    expect(hiddenSong(editWords(hidden, 't1', { title: 'Ebb' }))?.title).toBe('Ebb');
    expect(ids(showHidden(hidden))).toBe('t1 t2 t3');
    // Taken out, it leaves its first pause to the song that comes first then.
    const gone = removeSongs(hidden, new Set(['t1']));
    expect([hiddenSong(gone), ids(gone), flat(gone, 0).gapBefore]).toEqual([undefined, 't2 t3', s(3)]);
    // It stays where it is, whatever moves behind it.
    expect(moveTrack(hidden, 't1', 1)).toBe(hidden);
    expect(ids(moveTrack(hidden, 't3', 0))).toBe('t3 t2');
    expect(hiddenSong(moveTrack(hidden, 't3', 0))?.id).toBe('t1');
  });

  it('every order can be reached and loses no track', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(4), fc.nat(4))), (moves) => {
        const after = moves.reduce(
          (current, [from, to]) => moveTrack(current, tracksOf(current)[from]?.id ?? '', to),
          album({}, {}, {}, {}, {}),
        );
        expect(ids(after).split(' ').sort()).toEqual(['t1', 't2', 't3', 't4', 't5']);
      }),
    );
  });

  it.each([
    ['01 Lantern Oil.wav', 'Lantern Oil'],
    ['01_Lantern_Oil.WAV', 'Lantern Oil'],
    ['3 - The Long Groyne.wav', 'The Long Groyne'],
    ['1-07. Ebb.flac', 'Ebb'],
    ['Track 12 Salt.wav', 'Salt'],
    ['masters/02) Neap.wav', 'Neap'],
    ['1999.wav', '1999'],
    ['07.wav', '07'],
    ['Ebb 2.5.wav', 'Ebb 2.5'],
  ])('title of %s', (name, title) => expect(titleFromFileName(name)).toBe(title));

  it('sort names as people count', () => {
    expect(['10 b.wav', '9 a.wav', '1 c.wav'].sort(compareNames)).toEqual(['1 c.wav', '9 a.wav', '10 b.wav']);
  });
});

describe('album file', () => {
  it('gives everything but format, version and masters a default', () => {
    const file = parseAlbumFile(JSON.stringify(smallest));
    expect(file).toMatchObject({
      title: '',
      language: 'en',
      discNumber: 1,
      artwork: null,
      markLead: 0,
      deliverables: [],
    });
    expect(file.tracks[0]).toEqual({
      master: 'one.wav',
      masterSha256: null,
      in: 0,
      out: null,
      gapBefore: 2,
      gain: 0,
      fadeIn: { length: 0, shape: 'linear' },
      fadeOut: { length: 0, shape: 'linear' },
      sound: { ride: 0, equaliser: [], width: null, compressor: null, limiter: null },
      indexes: [],
      loudest: null,
      alternates: {},
      markLead: null,
      pauseDelay: null,
      tempo: null,
      title: '',
      performer: '',
      songwriter: '',
      composer: '',
      arranger: '',
      message: '',
      isrc: '',
      copyPermitted: false,
      preEmphasis: false,
      lyricist: '',
      publisher: '',
      comment: '',
      language: '',
      advisory: '',
      tags: {},
      secondWords: {},
    });
  });

  it.each<[string, unknown, RegExp]>([
    ['an unknown key', { ...smallest, titel: 'x' }, /^titel: unknown key/],
    [
      'an unknown key deep inside',
      { ...smallest, tracks: [{ master: 'a', fadeIn: { len: 1 } }] },
      /^tracks\[0\]\.fadeIn\.len: unknown key/,
    ],
    ['a wrong type', { ...smallest, tracks: [{ master: 'a', gain: 'loud' }] }, /^tracks\[0\]\.gain: /],
    ['a missing master', { ...smallest, tracks: [{}] }, /^tracks\[0\]\.master: /],
    ['another format', { ...smallest, format: 'other' }, /^format: /],
    ['a later version', { ...smallest, version: 2 }, /^version: /],
    ['no known kind', { ...smallest, deliverables: [{ name: 'plant', kind: 'tape' }] }, /“tape” is unknown/],
    [
      'no known format',
      { ...smallest, deliverables: [{ name: 'r', kind: 'tracks', format: 'wax' }] },
      /“wax” is unknown\. Use wav, aiff, flac, mp3, m4a, opus and ogg/,
    ],
    [
      'a rate that MP3 does not know',
      { ...smallest, deliverables: [{ name: 'r', kind: 'tracks', format: 'mp3', rate: 96_000 }] },
      /deliverables\[0\]\.rate: MP3 holds 44100 and 48000 Hz, not 96000/,
    ],
    [
      'a bit rate that MP3 does not know',
      { ...smallest, deliverables: [{ name: 'r', kind: 'continuous', format: 'mp3', bitrate: 200 }] },
      /deliverables\[0\]\.bitrate: MP3 knows .* not 200/,
    ],
    [
      'a bit rate that is too much',
      { ...smallest, deliverables: [{ name: 'r', kind: 'tracks', format: 'ogg', bitrate: 512 }] },
      /OGG takes 64 to 500 kbit/,
    ],
    [
      'a place that is no mark',
      { ...smallest, deliverables: [{ name: 'r', kind: 'continuous', from: 'song 3' }] },
      /deliverables\[0\]\.from/,
    ],
    [
      'FLAC in float',
      { ...smallest, deliverables: [{ name: 'r', kind: 'tracks', format: 'flac', bits: 'float' }] },
      /FLAC holds 16 or 24/,
    ],
    [
      'a name that climbs',
      { ...smallest, deliverables: [{ name: '../x', kind: 'cue' }] },
      /can’t be used as a folder name/,
    ],
    [
      'two of one name',
      {
        ...smallest,
        deliverables: [
          { name: 'a', kind: 'cue' },
          { name: 'A', kind: 'cue' },
        ],
      },
      /Two deliverables are named “A”/,
    ],
    [
      'an unknown word in a pattern',
      { ...smallest, deliverables: [{ name: 'a', kind: 'tracks', pattern: '{nummer}' }] },
      /\{nummer\} is unknown/,
    ],
  ])('names the fault of %s', (_, file, words) => {
    expect(problems(file)).toEqual([expect.stringMatching(words)]);
  });

  it('may name its schema, which means nothing, and the masters by their sums', () => {
    const sum = 'ab'.repeat(32);
    const file = { $schema: 'x', ...smallest, tracks: [{ master: 'one.wav', masterSha256: sum }] };
    expect(problems(file)).toEqual([]);
    const read = parseAlbumFile(JSON.stringify(file));
    expect([...sumsInFile(read)]).toEqual([['one.wav', sum]]);
    const made = albumFromFile(
      read,
      () => sum,
      (n) => `t${n}`,
    );
    expect(albumSchema.parse(made)).toEqual(made);
    expect(problems({ ...file, tracks: [{ master: 'one.wav', masterSha256: 'AB' }] })).toEqual([
      expect.stringMatching(/^tracks\[0\]\.masterSha256: /),
    ]);
  });

  it('says that text is not JSON', () => {
    expect(() => parseAlbumFile('{')).toThrow(/valid JSON/);
  });

  it('becomes an album and comes back the same', () => {
    const file = parseAlbumFile(
      JSON.stringify({
        ...smallest,
        title: 'Nine Tides',
        markLead: 0.2,
        tracks: [
          {
            master: 'one.wav',
            in: 0.25,
            out: 61.5,
            gapBefore: -0.5,
            gain: -1.5,
            fadeOut: { length: 3, shape: 'cosine' },
            indexes: [10],
            markLead: -0.2,
            pauseDelay: 0.4,
            tempo: { bpm: 92.5, bar: 3, beat: 0.125 },
          },
        ],
        hidden: { master: 'hush.wav', gain: -3 },
        secondLanguage: { language: 'ja', charset: 'ms-jis', words: { title: '九つの潮' } },
        accepted: [
          { code: 'long-tail', track: 1, reason: 'It is meant to fade into the sea.' },
          { code: 'upc-missing', track: null, reason: 'A demo.' },
        ],
        deliverables: [{ name: 'image', kind: 'cue', dither: 'shaped' }],
      }),
    );
    const made = albumFromFile(
      file,
      (name) => (name === 'hush.wav' ? 'ef' : 'cd').repeat(32),
      (i) => `t${i}`,
    );
    expect(albumSchema.parse(made)).toEqual(made);
    expect(flat(made, 0)).toMatchObject({ id: 't0', numbered: false, gainDb: -3 });
    expect(made.accepted.map(({ song }) => song)).toEqual(['t1', null]);
    expect(flat(made, 1)).toMatchObject({
      markLead: s(-0.2),
      pauseDelay: s(0.4),
      tempo: { bpm: 92.5, bar: 3, beat: s(0.125) },
    });
    expect(flat(made, 1)).toMatchObject({ in: s(0.25), out: s(61.5), gapBefore: s(-0.5), gainDb: -1.5 });
    // It says besides which masters it means.
    const summed = (track: AlbumFile['tracks'][number], sum: string) => ({
      ...track,
      masterSha256: sum.repeat(32),
    });
    expect(albumToFile(made, (master) => (master.startsWith('ef') ? 'hush.wav' : 'one.wav'), null)).toEqual({
      ...file,
      hidden: file.hidden && summed(file.hidden, 'ef'),
      tracks: file.tracks.map((track) => summed(track, 'cd')),
    });
  });
});

describe('deliverables', () => {
  it('fill in what docs/album-file.md 2.4 names as default', () => {
    expect(deliverableSchema.parse({ name: 'a', kind: 'cue' })).toEqual({
      name: 'a',
      kind: 'cue',
      alternate: 'main',
      audio: 'wav',
      dither: 'triangular',
    });
    expect(deliverableSchema.parse({ name: 'a', kind: 'tracks' })).toEqual({
      name: 'a',
      kind: 'tracks',
      alternates: ['main'],
      format: 'wav',
      bits: 24,
      rate: 'source',
      codec: 'aac',
      bitrate: null,
      quality: null,
      gaps: 'append',
      pattern: '{number} {title}',
      ...{ id3: 2.3, loudnessTags: false, tempoTags: false, playlist: false },
      select: null,
    });
    const usual = (settings: object): number | null => {
      const parsed = deliverableSchema.parse({ name: 'a', kind: 'continuous', ...settings });
      return parsed.kind === 'continuous' ? bitrateOf(parsed) : null;
    };
    expect(usual({ format: 'mp3' })).toBe(320);
    expect(usual({ format: 'm4a' })).toBe(256);
    expect(usual({ format: 'opus' })).toBe(160);
    expect(usual({ format: 'ogg' })).toBe(256);
    expect(usual({ format: 'mp3', quality: 2 })).toBeNull();
    expect(usual({ format: 'm4a', codec: 'alac' })).toBeNull();
  });
});

describe('file names', () => {
  const words = { number: '01', title: '../../etc/passwd', performer: 'A/B', alternate: '' } as Record<
    PatternWord,
    string
  >;
  it('never leave their folder', () => {
    expect(fillPattern('{number} {title}', words)).toBe('01 ..-..-etc-passwd');
    const clean = { ...words, alternate: 'cl/ean' };
    expect(fillPattern('{number}', clean)).toBe('01 (cl-ean)');
    expect(fillPattern('{alternate} {number}', clean)).toBe('cl-ean 01');
    // However long the title, the recording is told.
    const long = fillPattern('{title}', { ...clean, title: 'é'.repeat(400) });
    expect(long.endsWith('é (cl-ean)') && new TextEncoder().encode(long).length <= 240).toBe(true);
    expect(fillPattern('{performer}/{title}', words)).not.toMatch(/[/\\]/);
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const name = safeFileName(text);
        expect(name).toMatch(/^(?!\.)[^/\\:*?"<>|\p{Cc}]+$/u);
        expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(241);
      }),
    );
  });
  it('are never empty, a device, or the same twice', () => {
    expect(safeFileName(' ... ')).toBe('untitled');
    expect(safeFileName('CON')).toBe('CON-');
    expect(uniqueNames(['Intro', 'intro', 'Intro (2)', 'Intro'])).toEqual([
      'Intro',
      'intro (2)',
      'Intro (2) (2)',
      'Intro (3)',
    ]);
  });
  it('know their words', () => expect(unknownWords('{number} {x} {title} {}')).toEqual(['x', '']));
});

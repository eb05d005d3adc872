import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { samples, samplesToTicks, secondsToTicks, ticks } from '@oiseau/audio/time';
import { album, withSong } from '../testing.js';
import { albumSchema } from './album.js';
import {
  lineUpAlternate,
  removeAlternate,
  renameAlternate,
  setAlternate,
  takeAlternates,
} from '../edits/alternate-edits.js';
import { offerAlternates } from '../edits/alternate-offers.js';
import { alternateNames, lackingAtEnd, mastersPlayed, sequenceOfAlternate } from './alternates.js';
import { MAIN } from './alternate-schema.js';
import { compareAlbums } from '../compare/compare.js';
import { deliverableSchema } from './deliverable.js';
import { replaceMaster } from '../edits/edit.js';
import { AlbumFileError, albumFromFile, albumToFile, mastersInFile, parseAlbumFile } from '../file/file.js';
import { layOutAlbum } from '../layout/part.js';

const key = (letter: string): string => letter.repeat(64);
const facts = (...keys: string[]) =>
  new Map(keys.map((each) => [each, { rate: 44_100, length: 60 * 44_100 }]));
/** Three songs, the second with two other recordings. */
const two = setAlternate(
  setAlternate(
    album({ master: key('a') }, { master: key('b') }, { master: key('c') }),
    't2',
    'instrumental',
    key('d'),
  ),
  't2',
  'a cappella',
  key('e'),
);

describe('other recordings of a song', () => {
  it('play where a song has them, and share its region; the master plays elsewhere', () => {
    const [part] = layOutAlbum(two, facts(...mastersPlayed(two)));
    const played = (name: string) =>
      sequenceOfAlternate(part, name)
        .songs.map(({ region }) => region.master.slice(0, 1))
        .join('');
    expect([MAIN, 'instrumental', 'a cappella', 'constructor'].map(played)).toEqual([
      'abc',
      'adc',
      'aec',
      'abc',
    ]);
    const moved = lineUpAlternate(two, 't2', 'instrumental', ticks(1600));
    const [other] = layOutAlbum(moved, facts(...mastersPlayed(two)));
    const { region } = sequenceOfAlternate(other, 'instrumental').songs[1] ?? {};
    expect(region).toEqual({ ...part.sequence.songs[1]?.region, master: key('d'), shift: 1600 });
  });

  it('are told over the album, each once', () => {
    const more = setAlternate(two, 't3', 'a cappella', key('f'));
    expect(alternateNames(more)).toEqual(['instrumental', 'a cappella']);
    expect(
      mastersPlayed(more)
        .map((name) => name.slice(0, 1))
        .join(''),
    ).toBe('abdecf');
  });

  it('are changed, moved, called otherwise and taken off', () => {
    expect(removeAlternate(two, 't2', 'a cappella').songs[1]?.alternates).toEqual({
      instrumental: { master: key('d'), shift: 0 },
    });
    expect(removeAlternate(two, 't1', 'clean')).toBe(two);
    const asked = {
      ...two,
      deliverables: [
        deliverableSchema.parse({ name: 'f', kind: 'tracks', alternates: ['main', 'a cappella'] }),
        deliverableSchema.parse({ name: 'w', kind: 'continuous', alternate: 'a cappella' }),
      ],
    };
    const renamed = renameAlternate(asked, 'a cappella', 'voices');
    expect(Object.keys(renamed.songs[1]?.alternates ?? {})).toEqual(['instrumental', 'voices']);
    expect(renamed.deliverables).toMatchObject([{ alternates: ['main', 'voices'] }, { alternate: 'voices' }]);
    const newer = replaceMaster(lineUpAlternate(two, 't2', 'instrumental', ticks(5)), key('d'), key('f'));
    expect(newer.songs[1]?.alternates.instrumental).toEqual({ master: key('f'), shift: 5 });
    expect(compareAlbums(two, newer, facts(...mastersPlayed(two), key('f'))).map(english)).toEqual([
      'track 2: alternate version “instrumental” replaced',
    ]);
    expect(
      compareAlbums(two, removeAlternate(two, 't2', 'a cappella'), facts(...mastersPlayed(two))).map(english),
    ).toEqual(['track 2: alternate version “a cappella” removed']);
  });

  it('need names of their own', () => {
    const named = (name: string) =>
      albumSchema.safeParse(
        withSong(two, 0, { alternates: { [name]: { master: key('d'), shift: ticks(0) } } }),
      ).success;
    expect(['clean', 'Main', '', ' clean', 'x'.repeat(41)].map(named)).toEqual([
      true,
      false,
      false,
      false,
      false,
    ]);
    expect(JSON.parse('{"__proto__":1}')).toHaveProperty('__proto__');
    const both = {
      clean: two.songs[1]?.alternates.instrumental,
      Clean: two.songs[1]?.alternates.instrumental,
    };
    expect(albumSchema.safeParse({ ...two, songs: [{ ...two.songs[0], alternates: both }] }).success).toBe(
      false,
    );
  });

  it('may be a sample of their own short, and what lining up took', () => {
    const out = secondsToTicks(10);
    const master = { rate: 48_000, length: 480_000 };
    expect(lackingAtEnd(out, ticks(0), master)).toBe(0);
    // 441,001 samples at 44.1 kHz end less than a sample later.
    expect(
      lackingAtEnd(samplesToTicks(samples(441_001), 44_100), ticks(0), { ...master, length: 480_001 }),
    ).toBe(0);
    const one = samplesToTicks(samples(1), 48_000);
    expect(lackingAtEnd(out, ticks(0), { ...master, length: 479_999 })).toBe(one);
    expect(lackingAtEnd(out, ticks(40 * one), master)).toBe(0);
    expect(lackingAtEnd(out, ticks(40 * one), { ...master, length: 479_990 })).toBe(50 * one);
    expect(lackingAtEnd(out, secondsToTicks(2), master)).toBe(secondsToTicks(2));
  });
});

describe('what looks like another recording', () => {
  const master = (letter: string, name: string, seconds = 60) => ({ sha256: key(letter), name, seconds });
  const songs = album(
    { master: key('a'), title: 'Glass Ledger' },
    { master: key('b'), title: 'Été' },
    { master: key('c'), title: 'The Long Groyne' },
  );
  const own = [
    master('a', '01 Glass Ledger.wav'),
    master('b', '02 Ete.wav'),
    master('c', '03 groyne-v4.wav'),
  ];
  const offered = (...names: string[]): string[] =>
    names.map((name) => {
      const [found] = offerAlternates(songs, [...own, master('d', name)]);
      return found ? `${found.song} ${found.name}` : '–';
    });

  it('is told by its name', () => {
    expect(
      offered(
        'Glass Ledger (Instrumental).wav',
        'glass_ledger_acapella.wav',
        '01 Glass Ledger - Instrumental Mix.aif',
        '1-01 GLASS LEDGER [TV Track].flac',
        'Glass Ledger drums.wav',
        'Glass Ledger (Bass Stem).wav',
        'Glass Ledger (no vocals).wav',
        'ete inst.wav',
        'groyne-v4 clean version.wav',
        'The Long Groyne (Clean).wav',
      ),
    ).toEqual([
      't1 instrumental',
      't1 a cappella',
      't1 instrumental',
      't1 tv',
      't1 drums',
      't1 bass',
      't1 instrumental',
      't2 instrumental',
      't3 clean',
      't3 clean',
    ]);
  });

  it('is not told of other songs, nor of those that are longer or shorter', () => {
    expect(
      offered(
        'Instrumental.wav',
        'Glass.wav',
        'Glass Ledger 2.wav',
        'Salt (Instrumental).wav',
        'Glass Ledger.wav',
      ),
    ).toEqual(['–', '–', '–', '–', '–']);
    expect(offerAlternates(songs, [...own, master('d', 'Glass Ledger (Instrumental).wav', 63)])).toEqual([]);
    // Any other name in brackets may be another version of the song.
    expect(offered('Glass Ledger (Night Take).wav')).toEqual(['t1 night take']);
    expect(offerAlternates(songs, [...own, master('d', 'Glass Ledger (Night Take).wav', 60.2)])).toEqual([]);
  });

  it('takes tracks of its own out of the order', () => {
    const with4 = album(
      { master: key('a'), title: 'Glass Ledger' },
      { master: key('d'), title: 'Glass Ledger (Instrumental)' },
      { master: key('b'), title: 'Été' },
    );
    const offers = offerAlternates(with4, [
      master('a', 'Glass Ledger.wav'),
      master('d', 'Glass Ledger (Instrumental).wav'),
    ]);
    expect(offers).toEqual([{ song: 't1', name: 'instrumental', master: key('d') }]);
    const taken = takeAlternates(with4, offers);
    expect(taken.songs.map(({ id }) => id)).toEqual(['t1', 't3']);
    expect(taken.songs[0]?.alternates).toEqual({ instrumental: { master: key('d'), shift: 0 } });
    expect(
      offerAlternates(taken, [
        master('a', 'Glass Ledger.wav'),
        master('d', 'Glass Ledger (Instrumental).wav'),
      ]),
    ).toEqual([]);
  });
});

describe('alternates in the album file', () => {
  const file = (alternates: unknown, deliverables: unknown = []) =>
    JSON.stringify({
      ...{ format: 'oiseau-album', version: 1, deliverables },
      tracks: [{ master: 'a.wav', alternates }, { master: 'b.wav' }],
    });
  const problems = (text: string): readonly string[] => {
    try {
      parseAlbumFile(text);
      return [];
    } catch (error) {
      return error instanceof AlbumFileError ? error.problems : [String(error)];
    }
  };

  it('come and go, moved or not', () => {
    const read = parseAlbumFile(
      file({ instrumental: 'a (i).wav', clean: { master: 'a (c).wav', shift: -0.5 } }),
    );
    expect(mastersInFile(read)).toEqual(['a.wav', 'a (i).wav', 'a (c).wav', 'b.wav']);
    const made = albumFromFile(
      read,
      (name) => name,
      (n) => `t${n}`,
    );
    expect(made.songs[0]?.alternates.clean).toEqual({ master: 'a (c).wav', shift: secondsToTicks(-0.5) });
    expect(albumToFile(made, (name) => name, null)).toEqual(read);
  });

  it('are refused with their field', () => {
    expect(problems(file({ main: 'x.wav' }))[0]).toMatch(/^tracks\[0\]\.alternates/);
    expect(problems(file({ clean: 3 }))[0]).toMatch(/^tracks\[0\]\.alternates\.clean: /);
    expect(problems(file({ a: 'x.wav', A: 'y.wav' }))[0]).toMatch(/Two alternates are named “A”/);
    expect(problems(file({}, [{ name: 'f', kind: 'tracks', alternates: [] }]))[0]).toMatch(
      /^deliverables\[0\]\.alternates: /,
    );
    expect(problems(file({}, [{ name: 'f', kind: 'tracks', alternates: ['main', 'main'] }]))[0]).toMatch(
      /listed twice/,
    );
  });
});

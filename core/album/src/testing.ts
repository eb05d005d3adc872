import { NO_ALBUM_TREATMENT, NO_TREATMENT } from '@oiseau/audio/stages';

import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { newAlbum, type Album } from './model/album.js';
import { NO_FADE, type Region } from './model/region.js';
import { isDisc, layOutAlbum, type DiscPart } from './layout/part.js';
import type { MasterFactsByKey, Sequence, SequencedSong } from './model/sequence.js';
import { newSong, NO_MARKS, type Song, type SongMarks } from './model/song.js';

/** Makers of small albums and sources for tests; nothing in the product imports this. */

/** What a test changes of a song, wherever in it that stands. */
export type SongChange = Partial<Region & SongMarks & Omit<Song, 'region' | 'marks'>>;

/** A song with some of it changed. */
export function changed(song: Song, change: SongChange): Song {
  const within = <T extends object>(part: T): T => ({
    ...part,
    ...Object.fromEntries(Object.entries(change).filter(([field]) => field in part)),
  });
  const { region, marks, ...rest } = song;
  return { ...within(rest), region: within(region), marks: within(marks) };
}

/** A song of a sequence of so many seconds with two seconds before it. Its master is called `m`. */
export function sequenced(
  id: string,
  seconds: number,
  change: Partial<SequencedSong['region'] & SongMarks & Pick<SequencedSong, 'numbered'>> = {},
): SequencedSong {
  const { numbered = true, indexes, markLead, pauseDelay, tempo, loudest, ...region } = change;
  return {
    id,
    numbered,
    region: {
      master: 'm',
      in: ticks(0),
      out: secondsToTicks(seconds),
      gapBefore: secondsToTicks(2),
      gainDb: 0,
      fadeIn: NO_FADE,
      fadeOut: NO_FADE,
      sound: NO_TREATMENT,
      ...region,
    },
    marks: {
      indexes: indexes ?? NO_MARKS.indexes,
      markLead: markLead ?? null,
      pauseDelay: pauseDelay ?? null,
      tempo: tempo ?? null,
      loudest: loudest ?? null,
    },
  };
}

export function sequence(...songs: SequencedSong[]): Sequence {
  return { songs, markLead: ticks(0), endPause: ticks(0), sound: NO_ALBUM_TREATMENT };
}

/** An album of songs `t1`, `t2` …; a song that a test says is not numbered is the hidden one. */
export function album(...songs: SongChange[]): Album {
  return {
    ...newAlbum('Nine Tides'),
    performer: 'Marram Lamps',
    songs: songs.map((change, i) => changed(newSong(`t${i + 1}`, 'ab'.repeat(32), `Song ${i + 1}`), change)),
  };
}

/** Everything of a song at a place (from 0), on one level, to be looked at. */
export function flat(subject: Album, place: number): Omit<Song, 'region' | 'marks'> & Region & SongMarks {
  const song = subject.songs[place];
  if (!song) throw new RangeError(`no song at ${place}`);
  const { region, marks, ...rest } = song;
  return { ...rest, ...region, ...marks };
}

/** The album with its song at a place (from 0) changed. */
export const withSong = (subject: Album, place: number, change: SongChange): Album => ({
  ...subject,
  songs: subject.songs.map((song, i) => (i === place ? changed(song, change) : song)),
});

/** The first disc of an album, laid out. @param masters by key; without them every master lasts 60 s */
export function discOf(subject: Album, masters?: MasterFactsByKey): DiscPart {
  const minute = { rate: 44_100, length: 60 * 44_100 };
  const known = masters ?? new Map(subject.songs.map(({ region }) => [region.master, minute]));
  const disc = layOutAlbum(subject, known).find(isDisc);
  if (!disc) throw new RangeError('no disc');
  return disc;
}

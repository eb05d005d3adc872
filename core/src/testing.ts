import { NO_ALBUM_TREATMENT, NO_TREATMENT } from './process/treatment.js';
import { newAlbum, type Album } from './album/album.js';
import { NO_FADE, type Region } from './album/region.js';
import { isDisc, layOutAlbum, type DiscPart } from './album/part.js';
import type { MasterFactsByKey, Sequence, SequencedSong } from './album/sequence.js';
import { newSong, NO_MARKS, type Song, type SongMarks } from './album/song.js';
import type { PcmSource, WordFormat } from './pcm/block.js';
import { secondsToTicks, ticks } from './time/ticks.js';

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

/** A source whose sample n is `value(n)` on the left and its negative on the right. */
export function source(
  rate: number,
  seconds: number,
  value: (n: number) => number,
  format: WordFormat = 'int16',
): PcmSource {
  const length = Math.round(rate * seconds);
  return {
    rate,
    length,
    format,
    read: (start, count) => {
      const left = Float64Array.from({ length: count }, (_, i) =>
        start + i >= 0 && start + i < length ? value(start + i) : 0,
      );
      return Promise.resolve({ left, right: left.map((v) => -v) });
    },
  };
}

/** 16-bit words that look like noise and differ from sample to sample; never zero. */
export const words16 = (n: number): number => (((n * 7919) % 50_000) - 24_999.5 + 0.5 || 1) / 32_768;

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

/** Place of the first difference between two stretches of audio or bytes, or −1; one number is easier to read than a million. */
export function firstDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const length = Math.max(a.length, b.length);
  for (let i = 0; i < length; i++) if (a[i] !== b[i]) return i;
  return -1;
}

/** A source of samples in memory. @param right left out, both channels are alike */
export function sampleSource(left: Float64Array, rate: number, right = left): PcmSource {
  const cut = (audio: Float64Array, start: number, count: number): Float64Array =>
    Float64Array.from({ length: count }, (_, i) => audio[start + i] ?? 0);
  return {
    ...{ rate, length: left.length, format: 'float64' as const },
    read: (start, count) =>
      Promise.resolve({ left: cut(left, start, count), right: cut(right, start, count) }),
  };
}

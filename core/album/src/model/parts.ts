import { msg, type Message } from '@oiseau/messages';
import { frames, framesToTicks, secondsToTicks, type Ticks } from '@oiseau/audio/time';
import { ticksSchema } from './region.js';
import type { Song } from './song.js';
import * as z from '@oiseau/audio/z';

/** What a part of an album is pressed on, as the album file names it: a CD, or a side by diameter in inches and speed. */
export const MEDIA = [
  'cd',
  'vinyl-12-33',
  'vinyl-12-45',
  'vinyl-10-33',
  'vinyl-10-45',
  'vinyl-7-33',
  'vinyl-7-45',
] as const;
export type Medium = (typeof MEDIA)[number];

const minutes = (value: number): Ticks => secondsToTicks(60 * value);

/** What most plants take of a disc: 79:57:00 (docs/rules.md 2.4). */
export const COMMON_LIMIT = frames((79 * 60 + 57) * 75);

const MEDIUM_WORDS: Readonly<Record<Medium, Message>> = {
  cd: msg('CD'),
  'vinyl-12-33': msg('12 in, 33⅓'),
  'vinyl-12-45': msg('12 in, 45'),
  'vinyl-10-33': msg('10 in, 33⅓'),
  'vinyl-10-45': msg('10 in, 45'),
  'vinyl-7-33': msg('7 in, 33⅓'),
  'vinyl-7-45': msg('7 in, 45'),
};
/** A medium for people: “12 in, 33⅓”. */
export const mediumWords = (medium: Medium): Message => MEDIUM_WORDS[medium];

/** How long a part may be: what is easily held, or cuts well, and the most that is advisable (docs/rules.md 11.3). */
const LENGTHS: Readonly<Record<Medium, { readonly well: Ticks; readonly most: Ticks }>> = {
  cd: { well: framesToTicks(COMMON_LIMIT), most: framesToTicks(COMMON_LIMIT) },
  'vinyl-12-33': { well: minutes(18), most: minutes(24) },
  'vinyl-12-45': { well: minutes(12), most: minutes(15) },
  'vinyl-10-33': { well: minutes(12), most: minutes(15) },
  'vinyl-10-45': { well: minutes(9), most: minutes(12) },
  'vinyl-7-33': { well: minutes(6), most: minutes(7.5) },
  'vinyl-7-45': { well: minutes(4.5), most: minutes(6) },
};

/** The most that is advisable on a medium. */
export const mostOf = (medium: Medium): Ticks => LENGTHS[medium].most;
/** Up to which length a side can be cut loud; of a disc the most it holds. */
export const cutsWell = (medium: Medium): Ticks => LENGTHS[medium].well;

export const partSettingsSchema = z.strictObject({
  medium: z.enum(MEDIA),
  /** The id of the song that opens it; a part whose song is gone has gone with it. */
  first: z.string().min(1).max(40),
  /** Empty: the album's. */
  title: z.string().max(4000),
  /** As typed; empty: the album's. */
  upc: z.string().max(4000),
  /** How long it may be; null: what the medium takes. */
  limit: ticksSchema.nullable(),
});
export type PartSettings = z.output<typeof partSettingsSchema>;

/** A disc, or a side of a record, with its songs. */
export interface PartSongs {
  /** From 1. */
  readonly number: number;
  /** How many parts the album has. */
  readonly of: number;
  readonly medium: Medium;
  readonly kind: 'disc' | 'side';
  /** “1” of a disc, “A” of a side. */
  readonly label: string;
  /** What its own folder and its continuous file are called: `disc-1`, `side-A`. */
  readonly name: string;
  /** The disc's or the record's number, and how many there are. */
  readonly discNumber: number;
  readonly discTotal: number;
  readonly title: string;
  /** As typed. */
  readonly upc: string;
  readonly limit: Ticks;
  /** Everything that is heard of it, in order. */
  readonly songs: readonly Song[];
  /** Those with a number, which is their place here from 1. */
  readonly tracks: readonly Song[];
}

/** What of an album decides its parts. */
export interface AlbumOfParts {
  readonly songs: readonly Song[];
  readonly parts: readonly PartSettings[];
  readonly title: string;
  readonly upc: string;
  readonly discNumber: number;
  readonly discTotal: number;
}

/** Letters of sides: A, B … Z, AA. */
function letters(number: number): string {
  const last = String.fromCharCode(65 + ((number - 1) % 26));
  return number > 26 ? letters(Math.floor((number - 1) / 26)) + last : last;
}

/** The parts of an album, each with its songs; an album that names none is one CD. */
export function partsOf(album: AlbumOfParts): PartSongs[] {
  const { songs } = album;
  const settings = openParts(album);
  const kinds = settings.map(({ medium }) => kindOf(medium));
  const discs = kinds.filter((kind) => kind === 'disc').length;
  const records = Math.ceil((kinds.length - discs) / 2);
  return settings.map(({ medium, title, upc, limit, start, end }, i) => {
    const kind = kindOf(medium);
    const nth = kinds.slice(0, i + 1).filter((each) => each === kind).length;
    const label = kind === 'disc' ? String(nth) : letters(nth);
    const own = songs.slice(start, end);
    const alone = settings.length === 1;
    return {
      number: i + 1,
      of: settings.length,
      medium,
      kind,
      label,
      name: `${kind}-${label}`,
      discNumber: alone ? album.discNumber : kind === 'disc' ? nth : Math.ceil(nth / 2),
      discTotal: alone ? album.discTotal : kind === 'disc' ? discs : records,
      title: title || album.title,
      upc: upc || album.upc,
      limit: limit ?? mostOf(medium),
      songs: own,
      tracks: own.filter(({ numbered }) => numbered),
    };
  });
}

const kindOf = (medium: Medium): PartSongs['kind'] => (medium === 'cd' ? 'disc' : 'side');

/** Settings of each part with the places of its songs, `[start, end)`. */
function openParts({
  songs,
  parts,
}: AlbumOfParts): (Omit<PartSettings, 'first'> & { start: number; end: number })[] {
  const opened = parts
    .map((part) => ({ part, start: songs.findIndex(({ id }) => id === part.first) }))
    .filter(({ start }) => start >= 0)
    .sort((a, b) => a.start - b.start);
  if (opened.length === 0) return [{ ...ONE_CD, start: 0, end: songs.length }];
  return opened.map(({ part, start }, i) => ({
    ...part,
    // Whatever stands before the first part's opening song, a hidden one, belongs to it.
    start: i === 0 ? 0 : start,
    end: opened[i + 1]?.start ?? songs.length,
  }));
}

const ONE_CD = { medium: 'cd', title: '', upc: '', limit: null } as const;

/** `Disc 2`, `Side B` */
export const partName = ({ kind, label }: Pick<PartSongs, 'kind' | 'label'>): Message =>
  kind === 'disc' ? msg('Disc {label}', { label }) : msg('Side {label}', { label });

/** A track's place for people and file names: “1-01” on a disc, “A1” on a side. @param number from 1 */
export const positionOf = ({ kind, label }: PartSongs, number: number): string =>
  kind === 'disc' ? `${label}-${String(number).padStart(2, '0')}` : `${label}${number}`;

/** The number of a song in its part, from 1; null for a hidden one, or one that is not there. */
export function trackNumber({ tracks }: Pick<PartSongs, 'tracks'>, id: string): number | null {
  const place = tracks.findIndex((track) => track.id === id);
  return place < 0 ? null : place + 1;
}

/**
 * The same album with its songs in another order, or with others. A part goes on with the songs it had; songs that were `moved`, or are
 * new, belong to the part of the song they now follow. A part that is left without any is gone.
 */
export function withSongs<A extends AlbumOfParts>(
  album: A,
  songs: readonly Song[],
  moved: ReadonlySet<string> = new Set(),
): A {
  if (album.parts.length === 0) return { ...album, songs: [...songs] };
  const partOf = new Map(partsOf(album).flatMap((part, i) => part.songs.map(({ id }) => [id, i] as const)));
  const parts = album.parts.flatMap((part, i): PartSettings[] => {
    const opens = songs.find(({ id }) => partOf.get(id) === i && !moved.has(id));
    return opens ? [{ ...part, first: opens.id }] : [];
  });
  const [first] = songs;
  // The first part begins with whatever comes first.
  const opened = first && parts[0] ? [{ ...parts[0], first: first.id }, ...parts.slice(1)] : parts;
  return { ...album, songs: [...songs], parts: opened };
}

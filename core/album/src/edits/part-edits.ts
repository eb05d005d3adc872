import { ticks, type Ticks, FIRST_PAUSE_FRAMES, framesToTicks } from '@oiseau/audio/time';
import { tracksOf, type Album } from '../model/album.js';
import { editRegion, moveTrack } from './edit.js';
import { partsOf, withSongs, type Medium, type PartSettings } from '../model/parts.js';
import { outOf, type MasterFactsByKey } from '../model/sequence.js';
import type { Song } from '../model/song.js';

const settingsOf = (medium: Medium, first: string): PartSettings => ({
  ...{ medium, first, title: '', upc: '', limit: null },
});

/** The parts as an album has them in its document; of an album that names none, the one CD that it is. */
function namedParts(album: Album): readonly PartSettings[] {
  const [first] = album.songs;
  if (album.parts.length > 0 || !first) return album.parts;
  return [settingsOf('cd', first.id)];
}

/** A disc begins with a pause of two seconds at the least. */
function withFirstPause(album: Album, id: string, medium: Medium): Album {
  const song = album.songs.find((each) => each.id === id);
  const least = framesToTicks(FIRST_PAUSE_FRAMES);
  if (medium !== 'cd' || !song || song.region.gapBefore >= least) return album;
  return editRegion(album, id, { gapBefore: least });
}

/** Begins a new part before a song; the same album where one begins there already. */
export function beginPart(album: Album, id: string, medium: Medium): Album {
  const parts = namedParts(album);
  const place = album.songs.findIndex((song) => song.id === id);
  if (place < 1 || parts.some(({ first }) => first === id)) return album;
  const places = new Map(album.songs.map((song, i) => [song.id, i]));
  const at = (part: PartSettings): number => places.get(part.first) ?? 0;
  const all = [...parts, settingsOf(medium, id)].sort((a, b) => at(a) - at(b));
  return withFirstPause({ ...album, parts: all }, id, medium);
}

/** Takes the break before a part out: its songs go on the one before it. @param number from 1 */
export function joinPart(album: Album, number: number): Album {
  if (number < 2 || number > album.parts.length) return album;
  const parts = album.parts.filter((_, i) => i !== number - 1);
  const [only] = parts;
  // An album of one CD that is called and limited as the album is names no part.
  const isPlain =
    parts.length === 1 && only?.medium === 'cd' && !only.title && !only.upc && only.limit === null;
  return { ...album, parts: isPlain ? [] : parts };
}

/** Changes what a part is: its medium, title, UPC/EAN, limit. @param number from 1 */
export function editPart(album: Album, number: number, change: Partial<Omit<PartSettings, 'first'>>): Album {
  const parts = namedParts(album).map((part, i) => (i === number - 1 ? { ...part, ...change } : part));
  const changed = parts[number - 1];
  return changed ? withFirstPause({ ...album, parts }, changed.first, changed.medium) : album;
}

/**
 * Moves a track to another place of a part, its own or another; one that comes to stand first there opens it.
 * @param number of the part, from 1
 * @param to place that it has then among the tracks of the part, from 0
 */
export function moveInPart(album: Album, id: string, number: number, to: number): Album {
  const there = partsOf(album)[number - 1]?.tracks.filter((track) => track.id !== id);
  const [first] = there ?? [];
  if (!there || !first || to < 0 || to > there.length) return album;
  const others = tracksOf(album).filter((track) => track.id !== id);
  const before = there[to];
  const place = before ? others.indexOf(before) : others.indexOf(there[to - 1] as Song) + 1;
  const from = tracksOf(album).findIndex((track) => track.id === id);
  const own = partsOf(album).find(({ tracks }) => tracks.some((track) => track.id === id));
  if (from < 0 || (own?.number === number && own.tracks[to]?.id === id)) return album;
  // Over a border it may stay where it is among all tracks, and belong to another part.
  const moved = from === place ? withSongs(album, album.songs, new Set([id])) : moveTrack(album, id, place);
  // One that comes first follows the part before, and belongs to this one.
  const parts = moved.parts.map((each) =>
    to === 0 && each.first === first.id ? { ...each, first: id } : each,
  );
  return parts.reduce((changed, each) => withFirstPause(changed, each.first, each.medium), {
    ...moved,
    parts,
  });
}

/** How long a song is, and the gap before it, where it does not open a part. */
export interface SpreadSong {
  readonly id: string;
  readonly length: Ticks;
  readonly gapBefore: Ticks;
}

/** Songs spread over parts: what opens each, and how long each is; or the songs that are longer than the limit by themselves. */
export type Spread =
  | { readonly parts: readonly { readonly first: string; readonly length: Ticks }[] }
  | { readonly over: readonly string[] };

/**
 * Spreads songs over as few parts as a limit allows, in their order, and then makes the longest part as short as it can be (docs/rules.md 11.5).
 * @param medium decides what stands before the first song of a part: two seconds on a disc, nothing on a side
 * @param count how many parts there are to be at the least
 */
export function spreadOver(songs: readonly SpreadSong[], medium: Medium, limit: Ticks, count = 1): Spread {
  const lead = medium === 'cd' ? framesToTicks(FIRST_PAUSE_FRAMES) : ticks(0);
  const alone = (song: SpreadSong): number => lead + song.length;
  const over = songs.filter((song) => alone(song) > limit).map(({ id }) => id);
  if (over.length > 0) return { over };
  /** As much on each part as goes; null where that takes more than `most` parts. */
  const filled = (longest: number, most: number): { first: string; length: number }[] | null => {
    const parts: { first: string; length: number }[] = [];
    for (const song of songs) {
      const last = parts.at(-1);
      if (last && last.length + song.gapBefore + song.length <= longest)
        last.length += song.gapBefore + song.length;
      else parts.push({ first: song.id, length: alone(song) });
      if (parts.length > most) return null;
    }
    return parts;
  };
  const fewest = filled(limit, Infinity) ?? [];
  const wanted = Math.min(songs.length, Math.max(fewest.length, count));
  let [low, high] = [Math.max(0, ...songs.map(alone)), limit as number];
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    if (filled(middle, wanted)) high = middle;
    else low = middle + 1;
  }
  const best = filled(high, wanted) ?? fewest;
  return {
    parts: atLeast(best, songs, wanted, alone).map(({ first, length }) => ({ first, length: ticks(length) })),
  };
}

/** More parts where fewer were filled than are wanted: the longest that holds more than one song is broken near its middle. */
function atLeast(
  parts: readonly { first: string; length: number }[],
  songs: readonly SpreadSong[],
  wanted: number,
  alone: (song: SpreadSong) => number,
): readonly { first: string; length: number }[] {
  if (parts.length >= wanted) return parts;
  const starts = parts.map(({ first }) => songs.findIndex(({ id }) => id === first));
  const spans = parts.map((part, i) => ({
    ...part,
    from: starts[i] ?? 0,
    to: starts[i + 1] ?? songs.length,
  }));
  const longest = spans
    .filter(({ from, to }) => to - from > 1)
    .reduce<(typeof spans)[number] | undefined>((a, b) => (a && a.length >= b.length ? a : b), undefined);
  if (!longest) return parts;
  const lengthOf = (from: number, to: number): number =>
    songs
      .slice(from, to)
      .reduce((sum, song, i) => (i === 0 ? alone(song) : sum + song.gapBefore + song.length), 0);
  let best = longest.from + 1;
  const worse = (at: number): number => Math.max(lengthOf(longest.from, at), lengthOf(at, longest.to));
  for (let at = longest.from + 1; at < longest.to; at++) if (worse(at) < worse(best)) best = at;
  const broken = spans.flatMap(({ first, length, from, to }) =>
    from === longest.from
      ? [
          { first, length: lengthOf(from, best) },
          { first: songs[best]?.id ?? first, length: lengthOf(best, to) },
        ]
      : [{ first, length }],
  );
  return atLeast(broken, songs, wanted, alone);
}

/** An album with its parts as they were spread; a part that was there and begins with the same song keeps its title and UPC/EAN. */
export function withSpread(
  album: Album,
  spread: Extract<Spread, { parts: unknown }>,
  medium: Medium,
  limit: Ticks | null,
): Album {
  const known = new Map(album.parts.map((part) => [part.first, part]));
  const parts = spread.parts.map(({ first }) => ({
    ...settingsOf(medium, first),
    ...known.get(first),
    ...{ medium, limit },
  }));
  const [only] = parts;
  const isPlain = parts.length === 1 && only?.medium === 'cd' && limit === null;
  return parts.reduce(
    (changed, { first }, i) => (i === 0 ? changed : withFirstPause(changed, first, medium)),
    { ...album, parts: isPlain ? [] : parts },
  );
}

/** The songs of an album as they are spread; a hidden one goes with the song that it stands before. */
export function spreadSongs(album: Album, masters: MasterFactsByKey): SpreadSong[] {
  let hidden = 0;
  return album.songs.flatMap(({ id, numbered, region }): SpreadSong[] => {
    const length = outOf(region, masters) - region.in;
    if (!numbered) {
      hidden += length;
      return [];
    }
    const all = ticks(length + hidden);
    hidden = 0;
    return [{ id, gapBefore: region.gapBefore, length: all }];
  });
}

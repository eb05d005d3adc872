import { NO_TREATMENT, type Treatment } from '@oiseau/audio/stages';
import { ticks, type Ticks } from '@oiseau/audio/time';
import { mastersOfSong } from '../model/alternates.js';
import { hiddenSong, songOf, tracksOf, type Album } from '../model/album.js';
import { withSongs } from '../model/parts.js';
import type { Region } from '../model/region.js';
import { DEFAULT_GAP, type Song, type SongMarks } from '../model/song.js';

/** Every edit of an album: pure, the album it got is never changed. */

/** The song with `id` as `change` makes it; the same album when nothing is changed. */
export function changeSong(album: Album, id: string, change: (song: Song) => Song): Album {
  const song = songOf(album, id);
  const changed = song && change(song);
  if (!changed || changed === song) return album;
  return { ...album, songs: album.songs.map((each) => (each === song ? changed : each)) };
}

/** Changes what sounds of a song. */
export const editRegion = (album: Album, id: string, change: Partial<Region>): Album =>
  changeSong(album, id, (song) => ({ ...song, region: { ...song.region, ...change } }));

/**
 * Changes what is done to the sound of a song, or with null to that of the album, which has no ride.
 * @param change gets the treatment as it stands
 */
export function editSound(
  album: Album,
  id: string | null,
  change: (treatment: Treatment) => Treatment,
): Album {
  if (id !== null)
    return changeSong(album, id, (song) => ({
      ...song,
      region: { ...song.region, sound: change(song.region.sound) },
    }));
  const { ride: _none, ...sound } = change({ ...NO_TREATMENT, ...album.sound });
  return { ...album, sound };
}

/** Changes what is silent of a song. */
export const editMarks = (album: Album, id: string, change: Partial<SongMarks>): Album =>
  changeSong(album, id, (song) => ({ ...song, marks: { ...song.marks, ...change } }));

/** Changes words, codes and flags of a song. */
export const editWords = (
  album: Album,
  id: string,
  change: Partial<Omit<Song, 'id' | 'numbered' | 'region' | 'marks' | 'alternates'>>,
): Album => changeSong(album, id, (song) => ({ ...song, ...change }));

/** Every song that plays a master, or has it as an alternate, has another instead; trims, gaps and words stay. */
export const replaceMaster = (album: Album, from: string, to: string): Album => ({
  ...album,
  songs: album.songs.map((song) => {
    if (!mastersOfSong(song).includes(from)) return song;
    const { region, alternates } = song;
    return {
      ...song,
      region: region.master === from ? { ...region, master: to } : region,
      alternates: Object.fromEntries(
        Object.entries(alternates).map(([name, each]) => [
          name,
          each.master === from ? { ...each, master: to } : each,
        ]),
      ),
    };
  }),
});

const withTracks = (album: Album, tracks: readonly Song[], moved: ReadonlySet<string> = new Set()): Album => {
  const hidden = hiddenSong(album);
  const kept = keepFirstPause(tracksOf(album), tracks, tracksOf(album)[0]?.region.gapBefore ?? DEFAULT_GAP);
  return withSongs(album, hidden ? [hidden, ...kept] : kept, moved);
};

/**
 * Moves a track to another place; the first pause stays with the first place, not with the song. A hidden song stays where it is.
 * @param to place among the album's tracks, from 0
 */
export function moveTrack(album: Album, id: string, to: number): Album {
  const tracks = tracksOf(album);
  const from = tracks.findIndex((track) => track.id === id);
  const moved = tracks[from];
  if (!moved || from === to || to < 0 || to >= tracks.length) return album;
  const others = tracks.filter((track) => track !== moved);
  return withTracks(album, [...others.slice(0, to), moved, ...others.slice(to)], new Set([id]));
}

/** Moves several tracks up (−1) or down (1) by one place; as it was when one of them stands at that end already. */
export function moveTracks(album: Album, ids: ReadonlySet<string>, by: -1 | 1): Album {
  const tracks = tracksOf(album);
  const places = tracks.flatMap(({ id }, i) => (ids.has(id) ? [{ id, i }] : []));
  const end = by < 0 ? 0 : tracks.length - 1;
  if (places.some(({ i }) => i === end)) return album;
  // The one that goes first makes room for the next.
  return places
    .sort((a, b) => (a.i - b.i) * -by)
    .reduce((moved, { id, i }) => moveTrack(moved, id, i + by), album);
}

/** Takes songs out; the masters stay in the album. */
export function removeSongs(album: Album, ids: ReadonlySet<string>): Album {
  const hidden = hiddenSong(album);
  const shown = hidden && ids.has(hidden.id) ? showHidden(album) : album;
  return withTracks(
    shown,
    tracksOf(shown).filter(({ id }) => !ids.has(id)),
  );
}

/** Puts songs at the end, in the order given. */
export const appendSongs = (album: Album, added: readonly Song[]): Album =>
  withSongs(album, [...album.songs, ...added]);

/** Puts track 1 into the first pause, before the start mark of what was track 2 and is track 1 now. */
export function hideFirstTrack(album: Album): Album {
  const [first, second, ...rest] = tracksOf(album);
  if (!first || !second || hiddenSong(album)) return album;
  const gapBefore = ticks(Math.max(0, second.region.gapBefore));
  return withSongs(album, [
    { ...first, numbered: false },
    { ...second, region: { ...second.region, gapBefore } },
    ...rest,
  ]);
}

/** Makes the hidden song track 1. */
export function showHidden(album: Album): Album {
  const hidden = hiddenSong(album);
  return hidden ? changeSong(album, hidden.id, (song) => ({ ...song, numbered: true })) : album;
}

/**
 * What stands before track 1 is the disc's first pause, not a gap of that song: the track that comes first gets it, and
 * the song that was first gets the gap of the one that takes its place.
 */
function keepFirstPause(before: readonly Song[], after: readonly Song[], firstPause: Ticks): Song[] {
  const oldFirst = before[0];
  const newFirst = after[0];
  if (!oldFirst || !newFirst || oldFirst.id === newFirst.id) return [...after];
  const withGap = (song: Song, gapBefore: Ticks): Song => ({
    ...song,
    region: { ...song.region, gapBefore },
  });
  const { gapBefore } = newFirst.region;
  return after.map((song) => {
    if (song.id === newFirst.id) return withGap(song, firstPause);
    return song.id === oldFirst.id ? withGap(song, gapBefore < 0 ? DEFAULT_GAP : gapBefore) : song;
  });
}

/** A title from a file's name: folder, extension, leading numbers and underscores tidied away. */
export function titleFromFileName(name: string): string {
  const stem = name
    .slice(-1000)
    .replace(/^.*[/\\]/, '')
    .replace(/\.[a-z0-9]{1,5}$/i, '');
  const spaced = stem.replace(/_+/g, ' ').replace(/\s+/g, ' ').trim();
  const tidy = spaced
    .replace(/^(?:(?:track|disc|cd)\s*)?(?:\d{1,2}[-.](?=\d))?\d{1,3}(?:\s*[-–.)\]:]\s*|\s+)/i, '')
    .trim();
  return tidy || spaced || 'Untitled';
}

/** The order of names as people count: “2” before “10”. */
export function compareNames(a: string, b: string): number {
  return a.localeCompare(b, 'en', { numeric: true, sensitivity: 'base' });
}

/** Selects a deliverable for rendering, or leaves it out. */
export function selectDeliverable<A extends { readonly unselected: readonly string[] }>(
  album: A,
  name: string,
  isSelected: boolean,
): A {
  const others = album.unselected.filter((each) => each !== name);
  return { ...album, unselected: isSelected ? others : [...others, name] };
}

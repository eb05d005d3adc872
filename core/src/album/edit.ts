import { ticks, type Ticks } from '../time/ticks.js';
import { DEFAULT_GAP, type Album, type Track } from './album.js';

/** Every edit of an album: pure, the album it got is never changed. */

/** Moves the track at `from` so that it ends up at `to`; the first pause stays with the first place, not the track. */
export function moveTrack(album: Album, from: number, to: number): Album {
  const moved = album.tracks[from];
  if (!moved || from === to || to < 0 || to >= album.tracks.length) return album;
  const firstPause = album.tracks[0]?.gapBefore ?? DEFAULT_GAP;
  const others = album.tracks.filter((_, i) => i !== from);
  const tracks = [...others.slice(0, to), moved, ...others.slice(to)];
  return { ...album, tracks: keepFirstPause(album.tracks, tracks, firstPause) };
}

/** Moves several tracks up (−1) or down (1) by one place; as it was when one of them stands at that end already. */
export function moveTracks(album: Album, ids: ReadonlySet<string>, by: -1 | 1): Album {
  const places = album.tracks.flatMap(({ id }, i) => (ids.has(id) ? [i] : []));
  const end = by < 0 ? 0 : album.tracks.length - 1;
  if (places.includes(end)) return album;
  // The one that goes first makes room for the next.
  return places.sort((a, b) => (a - b) * -by).reduce((moved, i) => moveTrack(moved, i, i + by), album);
}

/** Takes tracks out; the masters stay in the album. */
export function removeTracks(album: Album, ids: ReadonlySet<string>): Album {
  if (album.hidden && ids.has(album.hidden.id)) return removeTracks(showHidden(album), ids);
  const tracks = album.tracks.filter(({ id }) => !ids.has(id));
  return {
    ...album,
    tracks: keepFirstPause(album.tracks, tracks, album.tracks[0]?.gapBefore ?? DEFAULT_GAP),
  };
}

/** Puts tracks at the end, in the order given. */
export function appendTracks(album: Album, added: readonly Track[]): Album {
  return { ...album, tracks: [...album.tracks, ...added] };
}

export function editTrack(album: Album, id: string, change: Partial<Omit<Track, 'id'>>): Album {
  const { hidden } = album;
  if (hidden?.id === id) return { ...album, hidden: { ...hidden, ...change } };
  return {
    ...album,
    tracks: album.tracks.map((track) => (track.id === id ? { ...track, ...change } : track)),
  };
}

/** The track at an index; the hidden song stands before track 1, at −1. */
export function trackAtIndex({ hidden, tracks }: Album, index: number): Track | undefined {
  return index === -1 ? (hidden ?? undefined) : tracks[index];
}

/** Puts track 1 into the first pause, before the start mark of what was track 2 and is track 1 now. */
export function hideFirstTrack(album: Album): Album {
  const [first, second, ...rest] = album.tracks;
  if (!first || !second || album.hidden) return album;
  const gapBefore = ticks(Math.max(0, second.gapBefore));
  return { ...album, hidden: first, tracks: [{ ...second, gapBefore }, ...rest] };
}

/** Makes the hidden song track 1. */
export function showHidden(album: Album): Album {
  const { hidden } = album;
  return hidden ? { ...album, hidden: null, tracks: [hidden, ...album.tracks] } : album;
}

/**
 * What stands before track 1 is the disc's first pause, not a gap of that song: whoever comes first gets it, and
 * the song that was first gets the gap of the one that takes its place.
 */
function keepFirstPause(before: readonly Track[], after: readonly Track[], firstPause: Ticks): Track[] {
  const oldFirst = before[0];
  const newFirst = after[0];
  if (!oldFirst || !newFirst || oldFirst.id === newFirst.id) return [...after];
  return after.map((track) => {
    if (track.id === newFirst.id) return { ...track, gapBefore: firstPause };
    return track.id === oldFirst.id
      ? { ...track, gapBefore: newFirst.gapBefore < 0 ? DEFAULT_GAP : newFirst.gapBefore }
      : track;
  });
}

/** A title from a file's name: folder, extension, leading numbers and underscores tidied away. */
export function titleFromFileName(name: string): string {
  const stem = name.replace(/^.*[/\\]/, '').replace(/\.[a-z0-9]{1,5}$/i, '');
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

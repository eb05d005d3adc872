import { type StageName, NO_ALBUM_TREATMENT, NO_TREATMENT, type AlbumTreatment } from '@oiseau/audio/stages';
import type { Sequence } from '../model/sequence.js';

/** A treatment without some of its stages. */
function withoutStages<T extends AlbumTreatment>(treatment: T, left: ReadonlySet<StageName>): T {
  const neutral = Object.entries(NO_TREATMENT).filter(
    ([name]) => left.has(name as StageName) && name in treatment,
  );
  return neutral.length === 0 ? treatment : { ...treatment, ...Object.fromEntries(neutral) };
}

/** A sequence in which some stages of a song (of the album: null) are left out for a moment. */
export function leavingOut(sequence: Sequence, id: string | null, left: ReadonlySet<StageName>): Sequence {
  if (left.size === 0) return sequence;
  if (id === null) return { ...sequence, sound: withoutStages(sequence.sound, left) };
  return {
    ...sequence,
    songs: sequence.songs.map((song) =>
      song.id === id
        ? { ...song, region: { ...song.region, sound: withoutStages(song.region.sound, left) } }
        : song,
    ),
  };
}

/**
 * A sequence as a song came in, with its gain and its fades and without anything that is done to its sound or to that of the album; with null, as
 * it is before what is done to the album.
 */
export function asItCame(sequence: Sequence, id: string | null): Sequence {
  const songs = sequence.songs.map((song) =>
    song.id === id ? { ...song, region: { ...song.region, sound: NO_TREATMENT } } : song,
  );
  return { ...sequence, songs, sound: NO_ALBUM_TREATMENT };
}

/** A sequence with its gains and fades, and nothing else done to its sound: what a loudness report tells of as “before”. */
export const untreated = (sequence: Sequence): Sequence => ({
  ...sequence,
  sound: NO_ALBUM_TREATMENT,
  songs: sequence.songs.map((song) => ({ ...song, region: { ...song.region, sound: NO_TREATMENT } })),
});

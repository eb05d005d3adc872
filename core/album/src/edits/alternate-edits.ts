import { ticks, type Ticks } from '@oiseau/audio/time';
import { alternateOf } from '../model/alternates.js';
import type { Album } from '../model/album.js';
import { changeSong, removeSongs } from './edit.js';
import type { Song } from '../model/song.js';

/** Edits of a song's other recordings: pure, the album they got is never changed. */

const withAlternates = (
  album: Album,
  id: string,
  change: (alternates: Song['alternates']) => Song['alternates'],
): Album =>
  changeSong(album, id, (song) => {
    const alternates = change(song.alternates);
    return alternates === song.alternates ? song : { ...song, alternates };
  });

/** Gives a song a recording under a name, in the place of the one that it had under it; unmoved. */
export const setAlternate = (album: Album, id: string, name: string, master: string): Album =>
  withAlternates(album, id, (alternates) => ({ ...alternates, [name]: { master, shift: ticks(0) } }));

/** Takes a recording off a song; its master stays in the album. */
export const removeAlternate = (album: Album, id: string, name: string): Album =>
  withAlternates(album, id, (alternates) => {
    const { [name]: gone, ...others } = alternates;
    return gone ? others : alternates;
  });

/** Moves a recording to line up: `shift` is how much later it has what the master has. */
export const lineUpAlternate = (album: Album, id: string, name: string, shift: Ticks): Album =>
  withAlternates(album, id, (alternates) => {
    const known = Object.hasOwn(alternates, name) ? alternates[name] : undefined;
    return known && known.shift !== shift ? { ...alternates, [name]: { ...known, shift } } : alternates;
  });

/**
 * Calls a kind of recording otherwise, in all songs and deliverables. Where a song has one of the new name already, it keeps both as they
 * are.
 */
export function renameAlternate(album: Album, from: string, to: string): Album {
  const renamed = (name: string): string => (name === from ? to : name);
  return {
    ...album,
    songs: album.songs.map((song) => {
      if (!alternateOf(song, from) || alternateOf(song, to)) return song;
      const entries = Object.entries(song.alternates).map(([name, each]) => [renamed(name), each] as const);
      return { ...song, alternates: Object.fromEntries(entries) };
    }),
    deliverables: album.deliverables.map((each) =>
      each.kind === 'package'
        ? each
        : each.kind === 'tracks'
          ? { ...each, alternates: [...new Set(each.alternates.map(renamed))] }
          : { ...each, alternate: renamed(each.alternate) },
    ),
  };
}

/** A recording that may belong to a song, by the song's id. */
export interface AlternateOffer {
  readonly song: string;
  readonly name: string;
  readonly master: string;
}

/** Makes recordings alternates of their songs; tracks that play them by themselves are taken out. */
export function takeAlternates(album: Album, offers: readonly AlternateOffer[]): Album {
  const masters = new Set(offers.map(({ master }) => master));
  const kept = new Set(offers.map(({ song }) => song));
  const tracks = album.songs.filter(({ id, region }) => masters.has(region.master) && !kept.has(id));
  const without = removeSongs(album, new Set(tracks.map(({ id }) => id)));
  return offers.reduce((taken, { song, name, master }) => setAlternate(taken, song, name, master), without);
}

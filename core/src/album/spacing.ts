import { ticks, type Ticks } from '../time/ticks.js';
import type { Album, Track } from './album.js';
import { editTrack } from './edit.js';
import { layOutAlbum, masterTicks, type MasterFacts } from './resolve.js';
import type { Fade, Layout } from './sequence.js';

type Facts = ReadonlyMap<string, MasterFacts>;

/** The shortest region that a trim leaves: 10 ms. */
const SHORTEST = ticks(7_056_000);

const clamp = (value: number, least: number, most: number): Ticks =>
  ticks(Math.round(Math.max(least, Math.min(most, value))));

const endOf = (track: Track, masters: Facts): Ticks => {
  const master = masters.get(track.master);
  return track.out ?? (master ? masterTicks(master) : track.in);
};

/** Fades of a region that became shorter: the one that was not touched keeps its length, then both fit. */
function fitted(track: Track, length: number): Pick<Track, 'fadeIn' | 'fadeOut'> {
  const fadeIn = { ...track.fadeIn, length: clamp(track.fadeIn.length, 0, length) };
  const fadeOut = { ...track.fadeOut, length: clamp(track.fadeOut.length, 0, length - fadeIn.length) };
  return { fadeIn, fadeOut };
}

/** Moves the out point, within the master and behind the in point. What follows moves along. */
export function setOut(album: Album, index: number, out: Ticks, masters: Facts): Album {
  const track = album.tracks[index];
  const master = track && masters.get(track.master);
  if (!track || !master) return album;
  const end = clamp(out, track.in + SHORTEST, masterTicks(master));
  return editTrack(album, track.id, { out: end, ...fitted(track, end - track.in) });
}

/** Moves the in point; the sound stays where it is on the disc, since the gap takes up the difference. */
export function trimIn(album: Album, index: number, start: Ticks, masters: Facts): Album {
  const track = album.tracks[index];
  if (!track) return album;
  const end = endOf(track, masters);
  const moved = clamp(start, 0, end - SHORTEST);
  const gapBefore = ticks(track.gapBefore + moved - track.in);
  return editTrack(album, track.id, { in: moved, gapBefore, ...fitted(track, end - moved) });
}

/** Sets the gap before a track; negative lets it begin while the one before still sounds. */
export function setGap(album: Album, index: number, gap: Ticks): Album {
  const track = album.tracks[index];
  if (!track) return album;
  return editTrack(album, track.id, { gapBefore: index === 0 ? ticks(Math.max(0, gap)) : gap });
}

/** Changes a fade; together the two never last longer than the track. */
export function setFade(
  album: Album,
  index: number,
  which: 'fadeIn' | 'fadeOut',
  change: Partial<Fade>,
  masters: Facts,
): Album {
  const track = album.tracks[index];
  if (!track) return album;
  const other = track[which === 'fadeIn' ? 'fadeOut' : 'fadeIn'];
  const fade = { ...track[which], ...change };
  const room = endOf(track, masters) - track.in - other.length;
  return editTrack(album, track.id, { [which]: { ...fade, length: clamp(fade.length, 0, room) } });
}

/**
 * A clean crossfade into a track: it overlaps the one before by `length`, both fade over just that stretch at equal power.
 * Shorter where one of the two is shorter.
 */
export function crossfade(album: Album, index: number, length: Ticks, masters: Facts): Album {
  const before = album.tracks[index - 1];
  const after = album.tracks[index];
  if (!before || !after) return album;
  const room = Math.min(
    endOf(before, masters) - before.in - before.fadeIn.length,
    endOf(after, masters) - after.in - after.fadeOut.length,
  );
  const fade = { length: clamp(length, 0, room), shape: 'equal-power' } as const;
  const faded = editTrack(album, before.id, { fadeOut: fade });
  return editTrack(faded, after.id, { fadeIn: fade, gapBefore: ticks(-fade.length) });
}

/**
 * Keeps a track and all that follow it where they were before an edit: its gap takes up what the edit moved.
 * @param before the layout before the edit
 */
export function holdFrom(album: Album, index: number, before: Layout, masters: Facts): Album {
  const track = album.tracks[index];
  const was = before.tracks[index];
  const now = layOutAlbum(album, masters).layout.tracks[index];
  if (!track || !was || !now) return album;
  return setGap(album, index, ticks(track.gapBefore - (now.audioStart - was.audioStart)));
}

import { ceilToFrame, FIRST_PAUSE_FRAMES, floorToFrame, frames, framesToTicks } from '../time/frames.js';
import { ticks, type Ticks } from '../time/ticks.js';
import type { Album, Track } from './album.js';
import { editTrack, trackAtIndex } from './edit.js';
import { beatLength } from './tempo.js';
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
  const track = trackAtIndex(album, index);
  const master = track && masters.get(track.master);
  if (!track || !master) return album;
  const end = clamp(out, track.in + SHORTEST, masterTicks(master));
  return editTrack(album, track.id, { out: end, ...fitted(track, end - track.in) });
}

/** Moves the in point; the sound stays where it is on the disc, since the gap takes up the difference. */
export function trimIn(album: Album, index: number, start: Ticks, masters: Facts): Album {
  const track = trackAtIndex(album, index);
  if (!track) return album;
  const end = endOf(track, masters);
  const moved = clamp(start, 0, end - SHORTEST);
  const gapBefore = ticks(track.gapBefore + moved - track.in);
  return editTrack(album, track.id, { in: moved, gapBefore, ...fitted(track, end - moved) });
}

/** Sets the gap before a track; negative lets it begin while the one before still sounds. */
export function setGap(album: Album, index: number, gap: Ticks): Album {
  const track = trackAtIndex(album, index);
  if (!track) return album;
  const first = index === (album.hidden ? -1 : 0);
  return editTrack(album, track.id, { gapBefore: first ? ticks(Math.max(0, gap)) : gap });
}

/** Moves a track so that its start mark stands at an absolute time: its gap takes up the difference. */
export function startAt(album: Album, index: number, time: Ticks, layout: Layout): Album {
  const track = album.tracks[index];
  const placed = layout.tracks[index];
  if (!track || !placed) return album;
  const lead = track.markLead ?? album.markLead;
  return setGap(album, index, ticks(track.gapBefore + time + lead - placed.audioStart));
}

/** Lets a track begin so many bars of the song before it later (or earlier), on the same beat; as it was without a tempo. */
export function waitBars(album: Album, index: number, bars: number): Album {
  const tempo = trackAtIndex(album, index - 1)?.tempo;
  const track = album.tracks[index];
  if (!tempo || !track) return album;
  return setGap(album, index, ticks(track.gapBefore + Math.round(bars * tempo.bar * beatLength(tempo))));
}

/**
 * Moves a track's start mark to an absolute time, on the frame at or before it: the track gets a mark lead of its own.
 * The mark of track 1 never stands before 00:02:00 (trade.md 3.2).
 */
export function setStartMark(album: Album, index: number, time: Ticks, layout: Layout): Album {
  const track = album.tracks[index];
  const placed = layout.tracks[index];
  if (!track || !placed) return album;
  const earliest = index === 0 ? FIRST_PAUSE_FRAMES : (layout.tracks[index - 1]?.startMark ?? 0) + 1;
  const mark = Math.max(earliest, Math.min(floorToFrame(time), floorToFrame(placed.audioEnd) - 1));
  return editTrack(album, track.id, { markLead: ticks(placed.audioStart - framesToTicks(frames(mark))) });
}

/** Moves a track's pause (index 00) to an absolute time, on the frame at or after it; at or after the start mark there is none. */
export function setPause(album: Album, index: number, time: Ticks, layout: Layout): Album {
  const track = album.tracks[index];
  const before = layout.tracks[index - 1];
  const placed = layout.tracks[index];
  if (!track || !before || !placed) return album;
  const pause = Math.max(before.startMark + 1, Math.min(ceilToFrame(time), placed.startMark));
  return editTrack(album, track.id, { pauseDelay: ticks(framesToTicks(frames(pause)) - before.audioEnd) });
}

/** Sets an index point at an absolute time, on the frame at or before it, among those that are there; at most 97 of them. */
export function addIndex(album: Album, index: number, time: Ticks, layout: Layout): Album {
  const track = album.tracks[index];
  const placed = layout.tracks[index];
  if (!track || !placed) return album;
  const after = ticks(framesToTicks(floorToFrame(time)) - framesToTicks(placed.startMark));
  if (after <= 0 || time >= placed.audioEnd || track.indexes.includes(after) || track.indexes.length >= 97)
    return album;
  return editTrack(album, track.id, { indexes: [...track.indexes, after].sort((a, b) => a - b) });
}

/** Changes a fade; together the two never last longer than the track. */
export function setFade(
  album: Album,
  index: number,
  which: 'fadeIn' | 'fadeOut',
  change: Partial<Fade>,
  masters: Facts,
): Album {
  const track = trackAtIndex(album, index);
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
  const before = trackAtIndex(album, index - 1);
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

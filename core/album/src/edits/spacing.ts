import {
  ceilToFrame,
  FIRST_PAUSE_FRAMES,
  floorToFrame,
  frames,
  framesToTicks,
  type Interval,
  ticks,
  TICKS_PER_SECOND,
  type Frames,
  type Ticks,
} from '@oiseau/audio/time';
import { songBefore, songOf, type Album } from '../model/album.js';
import type { TrackMarks } from '../layout/disc-marks.js';
import { editMarks, editRegion } from './edit.js';
import { layOutAlbum, type Part } from '../layout/part.js';
import type { Fade, Region } from '../model/region.js';
import { masterTicks, outOf, type MasterFactsByKey } from '../model/sequence.js';
import { beatLength, beatsBetween } from '../model/tempo.js';

/** The shortest region that a trim leaves: 10 ms. */
const SHORTEST = ticks(7_056_000);

const clamp = (value: number, least: number, most: number): Ticks =>
  ticks(Math.round(Math.max(least, Math.min(most, value))));

/** Fades of a region that became shorter: the one that was not touched keeps its length, then both fit. */
function fitted(region: Region, length: number): Pick<Region, 'fadeIn' | 'fadeOut'> {
  const fadeIn = { ...region.fadeIn, length: clamp(region.fadeIn.length, 0, length) };
  const fadeOut = { ...region.fadeOut, length: clamp(region.fadeOut.length, 0, length - fadeIn.length) };
  return { fadeIn, fadeOut };
}

/** Moves the out point, within the master and behind the in point. What follows moves along. */
export function setOut(album: Album, id: string, out: Ticks, masters: MasterFactsByKey): Album {
  const region = songOf(album, id)?.region;
  const master = region && masters.get(region.master);
  if (!region || !master) return album;
  const end = clamp(out, region.in + SHORTEST, masterTicks(master));
  return editRegion(album, id, { out: end, ...fitted(region, end - region.in) });
}

/** Moves the in point; the sound stays where it is on the disc, since the gap takes up the difference. */
export function trimIn(album: Album, id: string, start: Ticks, masters: MasterFactsByKey): Album {
  const region = songOf(album, id)?.region;
  if (!region) return album;
  const end = outOf(region, masters);
  const moved = clamp(start, 0, end - SHORTEST);
  const gapBefore = ticks(region.gapBefore + moved - region.in);
  return editRegion(album, id, { in: moved, gapBefore, ...fitted(region, end - moved) });
}

/** Sets the gap before a song; negative lets it begin while the one before still sounds. */
export function setGap(album: Album, id: string, gap: Ticks): Album {
  const isFirst = album.songs[0]?.id === id;
  return editRegion(album, id, { gapBefore: isFirst ? ticks(Math.max(0, gap)) : gap });
}

/** A track of a disc where it lies. */
interface Placed {
  readonly region: Region;
  readonly audio: Interval<Ticks>;
  readonly marks: TrackMarks;
  /** Start mark and end of the audio of the song before it, as far as there are such. */
  readonly before: { readonly start: Frames | undefined; readonly end: Ticks } | undefined;
}

/** Where a track lies on its disc; undefined for a song that no disc marks. */
function placedOn(part: Part, id: string): Placed | undefined {
  const { placement, disc } = part;
  const song = songOf(part, id);
  const audio = placement.songs.get(id);
  const marks = disc?.tracks.get(id);
  if (!song || !audio || !marks) return undefined;
  const earlier = songBefore(part, id)?.id ?? '';
  const end = placement.songs.get(earlier)?.end;
  const start = disc?.tracks.get(earlier)?.start;
  return { region: song.region, audio, marks, before: end === undefined ? undefined : { start, end } };
}

/** Moves a track so that its start mark stands at an absolute time: its gap takes up the difference. */
export function startAt(album: Album, id: string, time: Ticks, part: Part): Album {
  const song = songOf(album, id);
  const placed = placedOn(part, id);
  if (!song || !placed) return album;
  const lead = song.marks.markLead ?? album.markLead;
  return setGap(album, id, ticks(song.region.gapBefore + time + lead - placed.audio.start));
}

/** Lets a song begin so many bars of the song before it later (or earlier), on the same beat; as it was without a tempo. */
export function waitBars(album: Album, id: string, bars: number): Album {
  const tempo = songBefore(album, id)?.marks.tempo;
  const song = songOf(album, id);
  if (!tempo || !song) return album;
  const by = Math.round(bars * tempo.bar * beatLength(tempo));
  return setGap(album, id, ticks(song.region.gapBefore + by));
}

/** So close to the end a beat is the end, not the last before it; ticks. */
const AT_THE_END = ticks(TICKS_PER_SECOND / 100);

/** Lets a song begin on the last beat before the end of the song before it; as it was without a tempo. */
export function startOnLastBeat(album: Album, id: string, part: Part): Album {
  const before = songBefore(album, id);
  const placed = part.placement.songs.get(before?.id ?? '');
  const tempo = before?.marks.tempo;
  if (!tempo || !placed) return album;
  const origin = ticks(placed.start - before.region.in);
  const back = ticks(placed.end - Math.ceil(beatLength(tempo)) - AT_THE_END);
  const last = beatsBetween(tempo, origin, back, ticks(placed.end - AT_THE_END)).at(-1);
  return last ? setGap(album, id, ticks(last.time - placed.end)) : album;
}

/**
 * Moves a track's start mark to an absolute time, on the frame at or before it: the track gets a mark lead of its own.
 * The mark of track 1 never stands before 00:02:00 (docs/rules.md 3.2).
 */
export function setStartMark(album: Album, id: string, time: Ticks, part: Part): Album {
  const placed = placedOn(part, id);
  if (!placed) return album;
  const { audio, marks, before } = placed;
  const earliest = marks.number === 1 ? FIRST_PAUSE_FRAMES : (before?.start ?? 0) + 1;
  const mark = Math.max(earliest, Math.min(floorToFrame(time), floorToFrame(audio.end) - 1));
  return editMarks(album, id, { markLead: ticks(audio.start - framesToTicks(frames(mark))) });
}

/** Moves a track's pause (index 00) to an absolute time, on the frame at or after it; at or after the start mark there is none. */
export function setPause(album: Album, id: string, time: Ticks, part: Part): Album {
  const placed = placedOn(part, id);
  if (!placed?.before || placed.before.start === undefined) return album;
  const { marks, before } = placed;
  const pause = Math.max((before.start ?? 0) + 1, Math.min(ceilToFrame(time), marks.start));
  return editMarks(album, id, { pauseDelay: ticks(framesToTicks(frames(pause)) - before.end) });
}

/** Sets an index point at an absolute time, on the frame at or before it, among those that are there; at most 97 of them. */
export function addIndex(album: Album, id: string, time: Ticks, part: Part): Album {
  const song = songOf(album, id);
  const placed = placedOn(part, id);
  if (!song || !placed) return album;
  const { indexes } = song.marks;
  const after = ticks(framesToTicks(floorToFrame(time)) - framesToTicks(placed.marks.start));
  if (after <= 0 || time >= placed.audio.end || indexes.includes(after) || indexes.length >= 97) return album;
  return editMarks(album, id, { indexes: [...indexes, after].sort((a, b) => a - b) });
}

/** Changes a fade; together the two never last longer than the song. */
export function setFade(
  album: Album,
  id: string,
  which: 'fadeIn' | 'fadeOut',
  change: Partial<Fade>,
  masters: MasterFactsByKey,
): Album {
  const region = songOf(album, id)?.region;
  if (!region) return album;
  const other = region[which === 'fadeIn' ? 'fadeOut' : 'fadeIn'];
  const fade = { ...region[which], ...change };
  const room = outOf(region, masters) - region.in - other.length;
  return editRegion(album, id, { [which]: { ...fade, length: clamp(fade.length, 0, room) } });
}

/**
 * A clean crossfade into a song: it overlaps the one before by `length`, both fade over just that stretch at equal power.
 * Shorter where one of the two is shorter.
 */
export function crossfade(album: Album, id: string, length: Ticks, masters: MasterFactsByKey): Album {
  const before = songBefore(album, id);
  const after = songOf(album, id);
  if (!before || !after) return album;
  const room = Math.min(
    outOf(before.region, masters) - before.region.in - before.region.fadeIn.length,
    outOf(after.region, masters) - after.region.in - after.region.fadeOut.length,
  );
  const fade = { length: clamp(length, 0, room), shape: 'equal-power' } as const;
  const faded = editRegion(album, before.id, { fadeOut: fade });
  return editRegion(faded, id, { fadeIn: fade, gapBefore: ticks(-fade.length) });
}

/** The song that is heard after another in its part. */
export const songAfter = ({ songs }: Pick<Part, 'songs'>, id: string): string | undefined => {
  const place = songs.findIndex((song) => song.id === id);
  return place < 0 ? undefined : songs[place + 1]?.id;
};

/**
 * Keeps a song and all that follow it where they were before an edit: its gap takes up what the edit moved.
 * @param before its part before the edit
 */
export function holdFrom(album: Album, id: string, before: Part, masters: MasterFactsByKey): Album {
  const song = songOf(album, id);
  const was = before.placement.songs.get(id);
  const now = layOutAlbum(album, masters)[before.number - 1]?.placement.songs.get(id);
  if (!song || !was || !now) return album;
  return setGap(album, id, ticks(song.region.gapBefore - (now.start - was.start)));
}

import type { Album } from '../album/album.js';
import { CODINGS, rateFor } from '../album/coding.js';
import {
  bitrateOf,
  codingOf,
  ditherOf,
  type ContinuousDeliverable,
  type SoundDeliverable,
  type TracksDeliverable,
} from '../album/deliverable.js';
import { uniqueNames } from '../album/name-pattern.js';
import { sounding, type Layout } from '../album/sequence.js';
import type { CueSheet } from '../disc/cue-sheet.js';
import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';
import { discMarks } from '../disc/marks.js';
import { placeOnDisc } from '../disc/place.js';
import type { PcmSource, WordFormat } from '../pcm/block.js';
import { patternNames } from '../tags/file-names.js';
import type { FileMark } from '../tags/flac-blocks.js';
import { albumTags, trackTags } from '../tags/tag-set.js';
import { floorToFrame, frames, framesToTicks } from '../time/frames.js';
import { ticks, ticksToSamples, type Ticks } from '../time/ticks.js';
import { sheetOf } from './plan-image.js';
import { planned, type Plan, type Stretch } from './planned.js';

/** Facts of everything that sounds in the album, in order. */
type Masters = readonly Pick<PcmSource, 'rate'>[];

/** What all files of a deliverable share. A lossy encoder gets the programme as it is, in float. */
function soundOf(deliverable: SoundDeliverable, sourceRate: number) {
  const coding = codingOf(deliverable);
  const { bits } = deliverable;
  const format: WordFormat = CODINGS[coding].lossy || bits === 'float' ? 'float32' : `int${bits}`;
  return {
    coding,
    rate: rateFor(coding, deliverable.rate === 'source' ? sourceRate : deliverable.rate),
    format,
    dither: ditherOf(deliverable),
    bitrate: bitrateOf(deliverable),
    quality: coding === 'mp3' ? deliverable.quality : null,
  } satisfies Partial<Stretch>;
}

/** Whether nothing of the album lies in a stretch. */
const isSilent = (layout: Layout, { start, end }: { start: Ticks; end: Ticks }): boolean =>
  !sounding(layout).some(({ audioStart, audioEnd }) => audioStart < end && audioEnd > start);

/**
 * The stretch of each track's file (trade.md 3.8). Laid end to end, files with `append` or `prepend` are the programme
 * from the first start mark to the end of the last audio; `drop` leaves the gaps out.
 *
 *      |song 1 ~~~~~|  gap  |song 2 ~~~
 *      ^mark        ^pause  ^mark
 *      append:  [mark 1 ........ mark 2)
 *      prepend: [mark 1 ... pause 2)[pause 2 ...
 *      drop:    [mark 1 ... end of 1)       [mark 2 ...
 */
function trackStretches(layout: Layout, gaps: TracksDeliverable['gaps']): { start: Ticks; end: Ticks }[] {
  const cuts = layout.tracks.map(({ startMark, pause }, i) =>
    framesToTicks(gaps === 'prepend' && i > 0 && pause !== null ? pause : startMark),
  );
  return layout.tracks.map(({ audioEnd }, i) => {
    const start = cuts[i] ?? ticks(0);
    const next = cuts[i + 1] ?? layout.end;
    return { start, end: gaps === 'drop' ? ticks(Math.min(audioEnd, next)) : next };
  });
}

/** One file for each chosen track. */
export function planTracks(
  album: Album,
  layout: Layout,
  masters: Masters,
  deliverable: TracksDeliverable,
  revision: number,
): Plan {
  const stretches = trackStretches(layout, deliverable.gaps);
  const upc = parseEan(album.upc) ?? '';
  const names = uniqueNames(patternNames(album, deliverable.pattern, revision));
  const audio = album.tracks.flatMap((track, i) => {
    const stretch = stretches[i];
    const master = masters[i];
    if (!stretch || !master || (deliverable.select && !deliverable.select.includes(i + 1))) return [];
    return planned({
      path: `${names[i] ?? i + 1}.${deliverable.format}`,
      ...soundOf(deliverable, master.rate),
      ...stretch,
      tags: trackTags(album, i, { isrc: parseIsrc(track.isrc) ?? '', upc }),
      upc,
      marks: [],
      silent: isSilent(layout, stretch),
    });
  });
  return { deliverable, audio, sheet: null, ddp: null };
}

/** The stretch of a continuous file; empty where its places are not there, or stand the wrong way round. */
function continuousStretch(
  layout: Layout,
  { from, to }: ContinuousDeliverable,
): { start: Ticks; end: Ticks } {
  const first = framesToTicks(layout.tracks[0]?.startMark ?? frames(0));
  const start = from === null ? first : placeOnDisc(layout, from);
  const end = to === null ? layout.end : placeOnDisc(layout, to);
  if (start === null || end === null || end <= start) return { start: first, end: first };
  return { start, end: ticks(Math.min(end, layout.end)) };
}

/** The marks of the disc inside a stretch; one that begins in the middle of a track has that track's start at its head. */
function marksInside(layout: Layout, { start, end }: { start: Ticks; end: Ticks }) {
  const all = discMarks(layout).map(({ track, index, frames: at }) => ({
    track,
    index,
    time: framesToTicks(at),
  }));
  const inside = all.filter(({ time }) => time >= start && time < end);
  const going = all.findLast(({ time }) => time < start);
  const [first] = inside;
  if (!going || end <= start || (first?.time === start && first.index <= 1)) return inside;
  return [{ track: going.track, index: 1, time: start }, ...inside.filter(({ time }) => time > start)];
}

const SHEET_AUDIO: Readonly<Record<ContinuousDeliverable['format'], CueSheet['audio']>> = {
  wav: 'WAVE',
  flac: 'WAVE',
  m4a: 'WAVE',
  opus: 'WAVE',
  ogg: 'WAVE',
  aiff: 'AIFF',
  mp3: 'MP3',
};

/** The album, or a section of it, as one file with marks, and a cue sheet beside it. */
export function planContinuous(
  album: Album,
  layout: Layout,
  masters: Masters,
  deliverable: ContinuousDeliverable,
): Plan {
  const stretch = continuousStretch(layout, deliverable);
  const path = `${deliverable.name}.${deliverable.format}`;
  const upc = parseEan(album.upc) ?? '';
  const sound = soundOf(deliverable, Math.max(...masters.map(({ rate }) => rate), 44_100));
  const inside = marksInside(layout, stretch);
  const zero = ticksToSamples(stretch.start, sound.rate);
  const marks = inside.map(({ track, index, time }): FileMark => {
    const { title = '', isrc = '' } = album.tracks[track - 1] ?? {};
    const at = ticksToSamples(time, sound.rate) - zero;
    return { at, track, index, name: title, isrc: parseIsrc(isrc) ?? '' };
  });
  // A cue sheet counts in CD frames, rounded down as marks are.
  const inSheet = inside.map(({ track, index, time }) => ({
    track,
    index,
    frames: floorToFrame(ticks(time - stretch.start)),
  }));
  return {
    deliverable,
    audio: [
      planned({
        path,
        ...sound,
        ...stretch,
        tags: albumTags(album, { upc }),
        upc,
        marks,
        silent: isSilent(layout, stretch),
      }),
    ],
    sheet: {
      path: `${deliverable.name}.cue`,
      cue: sheetOf(album, path, SHEET_AUDIO[deliverable.format], inSheet),
    },
    ddp: null,
  };
}

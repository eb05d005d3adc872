import { msg } from '@oiseau/messages';
import {
  alternateOf,
  MAIN,
  tracksDeliverable,
  type TracksDeliverable,
  uniqueNames,
} from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { parseEan, parseIsrc, trackMarks } from '@oiseau/formats/disc';
import { patternNames, trackTags } from '@oiseau/formats/tags';
import { type Interval, ticks, type Ticks } from '@oiseau/audio/time';
import { plannedAudio, type PlannedAudio, type PlannedPlaylist } from '../planned.js';
import { chosenSound, codingWords, isSilent, soundForm } from './chosen-sound.js';
import { asRecording, partFolder, type Kind, type PlanContext } from './kind.js';

/** One file for each chosen track, in a folder for each part. */
export const tracksKind: Kind<TracksDeliverable> = {
  settings: tracksDeliverable,
  plan: (deliverable, context) => {
    // Tracks are chosen by their number over the whole album.
    let before = 0;
    const files = context.parts.flatMap((part) => {
      const own = planPart(deliverable, context, part, before);
      before += part.tracks.length;
      return own;
    });
    return deliverable.playlist && files.length > 0 ? [...files, playlistOf(deliverable, files)] : files;
  },
  words: (deliverable) => msg('{coding} for each track', { coding: codingWords(deliverable) }),
  form: soundForm,
};

/**
 * The stretch of each track's file (docs/rules.md 3.8). Laid end to end, files with `append` or `prepend` are the programme
 * from the first start mark to the end of the last audio; `drop` leaves the gaps out.
 *
 *      |song 1 ~~~~~|  gap  |song 2 ~~~
 *      ^mark        ^pause  ^mark
 *      append:  [mark 1 ........ mark 2)
 *      prepend: [mark 1 ... pause 2)[pause 2 ...
 *      drop:    [mark 1 ... end of 1)       [mark 2 ...
 */
function trackStretches(part: Part, gaps: TracksDeliverable['gaps']): Interval<Ticks>[] {
  const marks = trackMarks(part);
  const cuts = marks.map(({ start, pause }, i) =>
    gaps === 'prepend' && i > 0 && pause !== null ? pause : start,
  );
  return marks.map(({ end }, i) => {
    const next = cuts[i + 1] ?? part.placement.end;
    return { start: cuts[i] ?? ticks(0), end: gaps === 'drop' ? ticks(Math.min(end, next)) : next };
  });
}

const playlistOf = ({ name }: TracksDeliverable, files: readonly PlannedAudio[]): PlannedPlaylist => ({
  kind: 'playlist',
  path: `${name}.m3u8`,
  entries: files.map(({ path, length, rate, tags }) => ({
    path,
    seconds: length / rate,
    title: [tags.ARTIST, tags.TITLE].filter(Boolean).join(' - '),
  })),
});

/** The files of a part: of each recording that is asked for, the tracks that have it. */
function planPart(
  deliverable: TracksDeliverable,
  context: PlanContext,
  part: Part,
  before: number,
): PlannedAudio[] {
  const { pattern, select, gaps, format, alternates } = deliverable;
  const { album, masters, revisionDate } = context;
  const upc = parseEan(part.upc) ?? '';
  const stretches = trackStretches(part, gaps);
  const named = alternates.map((name) => patternNames(album, part, pattern, context, name));
  const names = uniqueNames(named.flat());
  return alternates.flatMap((alternate, nth) => {
    const told = asRecording(context, alternate);
    const tracks = told.parts.find(({ number }) => number === part.number)?.tracks ?? [];
    return tracks.flatMap((track, i) => {
      const stretch = stretches[i];
      // Every recording of a track is as long as its master's to the sample, and so at its rate.
      const master = masters.get(track.region.master);
      const isThere = alternate === MAIN || alternateOf(track, alternate) !== undefined;
      if (!stretch || !master || !isThere || (select && !select.includes(before + i + 1))) return [];
      return plannedAudio({
        path: `${partFolder(part)}${names[nth * part.tracks.length + i] ?? i + 1}.${format}`,
        part: part.number,
        alternate,
        ...chosenSound(deliverable, master.rate),
        stretch,
        tags: trackTags(told.album, part, track, {
          ...{ isrc: parseIsrc(track.isrc) ?? '', upc, tempo: deliverable.tempoTags },
        }),
        loudness: deliverable.loudnessTags,
        made: revisionDate,
        upc,
        marks: [],
        silent: isSilent(part, stretch),
      });
    });
  });
}

import { msg } from '@oiseau/messages';
import { codingOf, continuousDeliverable, type ContinuousDeliverable, positionOf } from '@oiseau/album/model';
import { factsOf, type FileMark } from '@oiseau/codings';
import type { Part } from '@oiseau/album/layout';
import {
  parseEan,
  parseIsrc,
  marksInOrder,
  placeInPart,
  type SideSheetRow,
  trackMarks,
} from '@oiseau/formats/disc';
import { partTags } from '@oiseau/formats/tags';
import {
  floorToFrame,
  framesToTicks,
  isInside,
  type Interval,
  ticks,
  ticksToSamples,
  type Ticks,
} from '@oiseau/audio/time';
import { plannedAudio, type PlannedFile } from '../planned.js';
import { chosenSound, codingWords, isSilent, soundForm } from './chosen-sound.js';
import { asRecording, type Kind, type PlanContext } from './kind.js';
import { sheetOf } from './sheet.js';

/** Each part, or a section of it, as one file with marks, and a cue sheet beside it; with sides a sheet for the cutting room. */
export const continuousKind: Kind<ContinuousDeliverable> = {
  settings: continuousDeliverable,
  plan: (deliverable, masters) => {
    const context = asRecording(masters, deliverable.alternate);
    const { parts } = context;
    const files = parts.flatMap((part) => planPart(deliverable, context, part));
    const rows = parts.filter(({ kind }) => kind === 'side').flatMap(sideRows);
    return rows.length === 0
      ? files
      : [...files, { kind: 'side-sheet', path: 'side-sheet.csv', rows } satisfies PlannedFile];
  },
  words: (deliverable) => {
    const section = deliverable.from !== null || deliverable.to !== null;
    const coding = codingWords(deliverable);
    return section ? msg('{coding}, a section', { coding }) : msg('{coding}, the whole album', { coding });
  },
  form: soundForm,
};

/** The stretch of a continuous file; empty where its places are not there, or stand the wrong way round; null where another part has them. */
function continuousStretch(part: Part, { from, to }: ContinuousDeliverable): Interval<Ticks> | null {
  const { end: last } = part.placement;
  const first = trackMarks(part)[0]?.start ?? ticks(0);
  const start = from === null ? first : placeInPart(part, from);
  const end = to === null ? last : placeInPart(part, to);
  if (start === null || end === null || end <= start)
    return part.of > 1 ? null : { start: first, end: first };
  return { start, end: ticks(Math.min(end, last)) };
}

interface TimedMark {
  readonly track: number;
  readonly index: number;
  readonly time: Ticks;
}

/** The marks of a part in order; those of a side are the starts of its tracks. */
const timedMarks = (part: Part): TimedMark[] =>
  part.disc
    ? marksInOrder(part.disc).map(({ track, index, frames }) => ({
        track,
        index,
        time: framesToTicks(frames),
      }))
    : trackMarks(part).map(({ start }, i) => ({ track: i + 1, index: 1, time: start }));

/** The marks inside a stretch; one that begins in the middle of a track has that track's start at its head. */
function marksInside(part: Part, stretch: Interval<Ticks>): TimedMark[] {
  const { start, end } = stretch;
  const all = timedMarks(part);
  const inside = all.filter(({ time }) => isInside(stretch, time));
  const going = all.findLast(({ time }) => time < start);
  const [first] = inside;
  if (!going || end <= start || (first?.time === start && first.index <= 1)) return inside;
  return [{ track: going.track, index: 1, time: start }, ...inside.filter(({ time }) => time > start)];
}

function planPart(
  deliverable: ContinuousDeliverable,
  { album, masters, revisionDate }: PlanContext,
  part: Part,
): PlannedFile[] {
  const stretch = continuousStretch(part, deliverable);
  if (!stretch) return [];
  const { name, format } = deliverable;
  const stem = part.of > 1 ? `${name}-${part.name}` : name;
  const path = `${stem}.${format}`;
  const upc = parseEan(part.upc) ?? '';
  const rates = album.songs.map(({ region }) => masters.get(region.master)?.rate ?? 0);
  const sound = chosenSound(deliverable, Math.max(...rates, 44_100));
  const inside = marksInside(part, stretch);
  const zero = ticksToSamples(stretch.start, sound.rate);
  const marks = inside.map(({ track, index, time }): FileMark => {
    const { title = '', isrc = '' } = part.tracks[track - 1] ?? {};
    const at = ticksToSamples(time, sound.rate) - zero;
    return { at, track, index, name: title, isrc: parseIsrc(isrc) ?? '' };
  });
  // A cue sheet counts in CD frames, rounded down as marks are.
  const inSheet = inside.map(({ track, index, time }) => ({
    track,
    index,
    frames: floorToFrame(ticks(time - stretch.start)),
  }));
  return [
    plannedAudio({
      path,
      part: part.number,
      alternate: deliverable.alternate,
      ...sound,
      stretch,
      tags: partTags(album, part, { upc }),
      loudness: deliverable.loudnessTags,
      made: revisionDate,
      upc,
      marks,
      silent: isSilent(part, stretch),
    }),
    {
      kind: 'cue-sheet',
      path: `${stem}.cue`,
      cue: sheetOf(album, part, path, factsOf(codingOf(deliverable)).cue, inSheet),
    },
  ];
}

/** The tracks of a side, from the start of its file. */
function sideRows(part: Part): SideSheetRow[] {
  const marks = trackMarks(part);
  const zero = marks[0]?.start ?? ticks(0);
  return marks.map(({ start }, i) => {
    const { id = '', title = '', isrc = '' } = part.tracks[i] ?? {};
    const sounds = part.placement.songs.get(id) ?? { start, end: start };
    const next = part.placement.songs.get(part.tracks[i + 1]?.id ?? '');
    return {
      part: part.label,
      position: positionOf(part, i + 1),
      title,
      start: ticks(start - zero),
      length: ticks(sounds.end - sounds.start),
      gap: next ? ticks(next.start - sounds.end) : null,
      isrc: parseIsrc(isrc) ?? '',
    };
  });
}

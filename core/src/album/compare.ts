import { layOutAlbum, type MasterFacts } from './resolve.js';
import { formatClock } from '../time/timecode.js';
import { framesToTicks } from '../time/frames.js';
import { ticksToSeconds } from '../time/ticks.js';
import type { Album, Track } from './album.js';

/** Words that are told of when they change, by their name in the album and in its tracks. */
const SHARED_WORDS = {
  title: 'title',
  performer: 'performer',
  songwriter: 'songwriter',
  composer: 'composer',
  arranger: 'arranger',
  message: 'message',
  comment: 'comment',
} as const satisfies Partial<Record<keyof Album & keyof Track, string>>;

const ALBUM_WORDS = {
  ...SHARED_WORDS,
  genre: 'genre',
  label: 'label',
  catalogNumber: 'catalogue number',
  upc: 'UPC/EAN',
  releaseDate: 'release date',
  copyright: '© line',
  phonogram: '℗ line',
  language: 'language',
} as const satisfies Partial<Record<keyof Album, string>>;

const TRACK_WORDS = {
  ...SHARED_WORDS,
  isrc: 'ISRC',
  lyricist: 'lyricist',
  publisher: 'publisher',
} as const satisfies Partial<Record<keyof Track, string>>;

type Facts = ReadonlyMap<string, MasterFacts>;

/**
 * What has changed from one state of an album to another, in words a client reads: “track 4 starts 0.50 s later”, “track 7: ISRC
 * added”. Tracks are told by their number in the later state. Empty when both say and sound the same.
 */
export function compareAlbums(before: Album, after: Album, masters: Facts): string[] {
  return [
    ...textChanges('album', before, after, ALBUM_WORDS),
    ...(before.artwork === after.artwork ? [] : ['album: another cover']),
    ...orderChanges(before, after),
    ...timeChanges(before, after, masters),
    ...soundChanges(before, after),
    ...after.tracks.flatMap((track, i) => {
      const old = before.tracks.find(({ id }) => id === track.id);
      return old ? trackChanges(`track ${i + 1}`, old, track) : [];
    }),
    ...deliverableChanges(before, after),
  ];
}

function textChanges<T>(
  place: string,
  before: T,
  after: T,
  words: Partial<Record<keyof T, string>>,
): string[] {
  return (Object.keys(words) as (keyof T)[]).flatMap((field) => {
    const [old, now] = [String(before[field]), String(after[field])];
    if (old === now) return [];
    const name = words[field] ?? String(field);
    if (old === '') return [`${place}: ${name} added`];
    return now === '' ? [`${place}: ${name} taken out`] : [`${place}: ${name} “${old}” → “${now}”`];
  });
}

function orderChanges(before: Album, after: Album): string[] {
  const numbers = (album: Album): Map<string, number> =>
    new Map(album.tracks.map(({ id }, i) => [id, i + 1]));
  const [old, now] = [numbers(before), numbers(after)];
  const gone = before.tracks.filter(({ id }) => !now.has(id)).map(({ title }) => `“${title}” taken out`);
  const come = after.tracks.flatMap(({ id, title }, i) =>
    old.has(id) ? [] : [`track ${i + 1}: “${title}” is new`],
  );
  // Songs that both have, in either order: who is not where it was among them has been moved.
  const kept = before.tracks.filter(({ id }) => now.has(id)).map(({ id }) => id);
  const moved = after.tracks
    .filter(({ id }) => old.has(id))
    .flatMap(({ id, title }, i) =>
      kept[i] === id ? [] : [`“${title}” from track ${old.get(id)} to track ${now.get(id)}`],
    );
  return [...gone, ...come, ...moved];
}

const later = (seconds: number): string =>
  `${Math.abs(seconds).toFixed(2)} s ${seconds > 0 ? 'later' : 'earlier'}`;
const byLength = (seconds: number): string =>
  `${Math.abs(seconds).toFixed(2)} s ${seconds > 0 ? 'longer' : 'shorter'}`;
/** What is less than this is not told. */
const SMALLEST_S = 0.005;

function timeChanges(before: Album, after: Album, masters: Facts): string[] {
  const [old, now] = [layOutAlbum(before, masters).layout, layOutAlbum(after, masters).layout];
  const starts = after.tracks.flatMap(({ id }, i) => {
    const was = old.tracks[before.tracks.findIndex((track) => track.id === id)];
    const is = now.tracks[i];
    if (!was || !is) return [];
    const by = ticksToSeconds(framesToTicks(is.startMark)) - ticksToSeconds(framesToTicks(was.startMark));
    const longer =
      ticksToSeconds(is.audioEnd) -
      ticksToSeconds(is.audioStart) -
      (ticksToSeconds(was.audioEnd) - ticksToSeconds(was.audioStart));
    return [
      ...(Math.abs(by) > SMALLEST_S ? [`track ${i + 1} starts ${later(by)}`] : []),
      ...(Math.abs(longer) > SMALLEST_S ? [`track ${i + 1} is ${byLength(longer)}`] : []),
    ];
  });
  const [end, wasEnd] = [now.leadOut, old.leadOut];
  return end === wasEnd
    ? starts
    : [
        ...starts,
        `the disc ends at ${formatClock(framesToTicks(end), 2)} instead of ${formatClock(framesToTicks(wasEnd), 2)}`,
      ];
}

function soundChanges(before: Album, after: Album): string[] {
  const hidden = Number(after.hidden !== null) - Number(before.hidden !== null);
  return hidden === 0 ? [] : [hidden > 0 ? 'a song is hidden before track 1' : 'the hidden song is gone'];
}

function trackChanges(place: string, old: Track, now: Track): string[] {
  const fade = (name: string, a: Track['fadeIn'], b: Track['fadeIn']): string[] =>
    a.length === b.length && a.shape === b.shape
      ? []
      : [
          `${place}: ${name} ${ticksToSeconds(a.length)} s ${a.shape} → ${ticksToSeconds(b.length)} s ${b.shape}`,
        ];
  const db = (value: number): string => `${value.toFixed(1).replace('-', '−')} dB`;
  return [
    ...(old.master === now.master ? [] : [`${place}: another master`]),
    ...(old.gainDb === now.gainDb ? [] : [`${place}: gain ${db(old.gainDb)} → ${db(now.gainDb)}`]),
    ...fade('fade-in', old.fadeIn, now.fadeIn),
    ...fade('fade-out', old.fadeOut, now.fadeOut),
    ...(old.indexes.join() === now.indexes.join() ? [] : [`${place}: other index points`]),
    ...textChanges(place, old, now, TRACK_WORDS),
    ...flag(place, 'copy permitted', old.copyPermitted, now.copyPermitted),
    ...flag(place, 'pre-emphasis', old.preEmphasis, now.preEmphasis),
  ];
}

const flag = (place: string, name: string, old: boolean, now: boolean): string[] =>
  old === now ? [] : [`${place}: ${name} ${now ? 'set' : 'taken off'}`];

function deliverableChanges(before: Album, after: Album): string[] {
  const of = (album: Album): Map<string, string> =>
    new Map(album.deliverables.map((each) => [each.name, JSON.stringify(each)]));
  const [old, now] = [of(before), of(after)];
  return [
    ...[...old.keys()].filter((name) => !now.has(name)).map((name) => `deliverable “${name}” taken out`),
    ...[...now].flatMap(([name, settings]) =>
      !old.has(name)
        ? [`deliverable “${name}” added`]
        : old.get(name) === settings
          ? []
          : [`deliverable “${name}”: other settings`],
    ),
  ];
}

import {
  formatClock,
  framesToTicks,
  intervalLength,
  type Interval,
  ticksToSeconds,
  type Ticks,
} from '@oiseau/audio/time';
import { treatmentWords, type AlbumTreatment } from '@oiseau/audio/stages';
import { alternateOf } from '../model/alternates.js';
import { hiddenSong, songOf, type Album } from '../model/album.js';
import { layOutAlbum, type Part } from '../layout/part.js';
import { mediumWords, positionOf, trackNumber } from '../model/parts.js';
import { sameValue } from '../edits/revert.js';
import type { Region } from '../model/region.js';
import type { MasterFactsByKey } from '../model/sequence.js';
import type { Song } from '../model/song.js';

/** Words that are told of when they change, by their name in the album and in its tracks. */
const SHARED_WORDS = {
  title: 'title',
  performer: 'performer',
  songwriter: 'songwriter',
  composer: 'composer',
  arranger: 'arranger',
  message: 'message',
  comment: 'comment',
} as const satisfies Partial<Record<keyof Album & keyof Song, string>>;

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
  discNumber: 'disc number',
  discTotal: 'total discs',
  genreCode: 'CD-Text genre',
  cdTextCharset: 'CD-Text character set',
} as const satisfies Partial<Record<keyof Album, string>>;

const TRACK_WORDS = {
  ...SHARED_WORDS,
  language: 'language',
  advisory: 'advisory',
  isrc: 'ISRC',
  lyricist: 'lyricist',
  publisher: 'publisher',
} as const satisfies Partial<Record<keyof Song, string>>;

/** What a song is called in one state of an album: “track 4”, “disc 2, track 4”, “the hidden song”. */
type Names = ReadonlyMap<string, string>;

/** Where everything lies in one state of an album. */
interface State {
  readonly album: Album;
  readonly parts: readonly Part[];
  readonly names: Names;
}

function stateOf(album: Album, masters: MasterFactsByKey): State {
  const parts = layOutAlbum(album, masters);
  const names = new Map(parts.flatMap((part) => part.songs.map(({ id }) => [id, nameIn(part, id)] as const)));
  return { album, parts, names };
}

function nameIn(part: Part, id: string): string {
  const number = trackNumber(part, id);
  if (number === null) return 'the hidden track';
  return part.of === 1 ? `track ${number}` : `track ${positionOf(part, number)}`;
}

/**
 * What has changed from one state of an album to another, in words a client reads: “track 4 starts 0.50 s later”, “track 7: ISRC
 * added”. Tracks are told by their number in the later state. Empty when both say and sound the same. A start mark that moved is told as
 * the start of its track. The tempo of a song and findings that were accepted are not told: no client gets them.
 */
export function compareAlbums(before: Album, after: Album, masters: MasterFactsByKey): string[] {
  const [old, now] = [stateOf(before, masters), stateOf(after, masters)];
  return [
    ...textChanges('album', before, after, ALBUM_WORDS),
    ...flag('album', 'CD-Text spelling', before.cdTextPlain, after.cdTextPlain),
    ...other('album', 'custom tags', before.tags, after.tags),
    ...other('album', 'text in the second language', before.secondLanguage, after.secondLanguage),
    ...soundChanges('album', before.sound, after.sound),
    ...(before.artwork === after.artwork ? [] : ['album: cover replaced']),
    ...orderChanges(old, now),
    ...timeChanges(old, now),
    ...hiddenChanges(before, after),
    ...partChanges(old, now),
    ...after.songs.flatMap((song) => {
      const was = songOf(before, song.id);
      return was ? songChanges(now.names.get(song.id) ?? '', was, song) : [];
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
    return now === '' ? [`${place}: ${name} removed`] : [`${place}: ${name} “${old}” → “${now}”`];
  });
}

function orderChanges(before: State, after: State): string[] {
  const tracks = ({ parts }: State): Song[] => parts.flatMap((part) => part.tracks);
  const [old, now] = [tracks(before), tracks(after)];
  const has = (list: readonly Song[], id: string): boolean => list.some((track) => track.id === id);
  const gone = old.filter(({ id }) => !has(now, id)).map(({ title }) => `“${title}” removed`);
  const come = now.flatMap(({ id, title }) =>
    has(old, id) ? [] : [`${after.names.get(id) ?? ''}: “${title}” added`],
  );
  // Songs that both have, in either order: who is not where it was among them has been moved.
  const kept = old.filter(({ id }) => has(now, id)).map(({ id }) => id);
  const moved = now
    .filter(({ id }) => has(old, id))
    .flatMap(({ id, title }, i) =>
      kept[i] === id ? [] : [`“${title}” from ${before.names.get(id) ?? ''} to ${after.names.get(id) ?? ''}`],
    );
  return [...gone, ...come, ...moved];
}

const later = (seconds: number): string =>
  `${Math.abs(seconds).toFixed(2)} s ${seconds > 0 ? 'later' : 'earlier'}`;
const byLength = (seconds: number): string =>
  `${Math.abs(seconds).toFixed(2)} s ${seconds > 0 ? 'longer' : 'shorter'}`;
/** What is less than this is not told. */
const SMALLEST_S = 0.005;

/** Where a song is found by a listener: at its start mark, on a side at its audio. */
function startOf({ disc, placement }: Part, id: string): Ticks | undefined {
  const mark = disc?.tracks.get(id);
  return mark ? framesToTicks(mark.start) : placement.songs.get(id)?.start;
}

function timeChanges(before: State, after: State): string[] {
  const starts = after.parts.flatMap((part) =>
    part.tracks.flatMap(({ id }): string[] => {
      const earlier = before.parts.find(({ placement }) => placement.songs.has(id));
      const [was, is] = [earlier?.placement.songs.get(id), part.placement.songs.get(id)];
      const [wasAt, isAt] = [earlier && startOf(earlier, id), startOf(part, id)];
      if (!was || !is || wasAt === undefined || isAt === undefined) return [];
      const by = ticksToSeconds(isAt) - ticksToSeconds(wasAt);
      const seconds = (audio: Interval<Ticks>): number => ticksToSeconds(intervalLength(audio));
      const longer = seconds(is) - seconds(was);
      const name = after.names.get(id) ?? '';
      return [
        ...(Math.abs(by) > SMALLEST_S ? [`${name} starts ${later(by)}`] : []),
        ...(Math.abs(longer) > SMALLEST_S ? [`${name} is ${byLength(longer)}`] : []),
      ];
    }),
  );
  const ends = after.parts.flatMap((part, i): string[] => {
    const [end, wasEnd] = [endOf(part), before.parts[i] && endOf(before.parts[i])];
    if (wasEnd === undefined || end === wasEnd) return [];
    const what = part.of === 1 ? `the ${part.kind}` : `${part.kind} ${part.label}`;
    return [`${what} ends at ${formatClock(end, 2)} instead of ${formatClock(wasEnd, 2)}`];
  });
  const count = after.parts.length - before.parts.length;
  return [
    ...starts,
    ...ends,
    ...(count === 0 ? [] : [`${after.parts.length} discs or sides instead of ${before.parts.length}`]),
  ];
}

const endOf = ({ disc, placement }: Part): Ticks => (disc ? framesToTicks(disc.leadOut) : placement.end);

const PART_WORDS = { title: 'title', upc: 'UPC/EAN' } as const;
const NO_WORDS = { title: '', upc: '' };

/** What a part is called, its own code and what it is pressed on, of parts that both have. */
function partChanges(before: State, after: State): string[] {
  return after.parts.flatMap((part, i): string[] => {
    const was = before.parts[i];
    const [old, now] = [before.album.parts[i], after.album.parts[i]];
    if (!was) return [];
    const name = `${part.kind} ${part.label}`;
    return [
      ...(was.medium === part.medium
        ? []
        : [`${name}: on ${mediumWords(part.medium)} instead of ${mediumWords(was.medium)}`]),
      ...textChanges<typeof NO_WORDS>(name, old ?? NO_WORDS, now ?? NO_WORDS, PART_WORDS),
    ];
  });
}

function hiddenChanges(before: Album, after: Album): string[] {
  const hidden = Number(hiddenSong(after) !== undefined) - Number(hiddenSong(before) !== undefined);
  return hidden === 0
    ? []
    : [hidden > 0 ? 'a track is hidden before track 1' : 'the hidden track was removed'];
}

function songChanges(place: string, old: Song, now: Song): string[] {
  const fade = (name: string, a: Region['fadeIn'], b: Region['fadeIn']): string[] =>
    a.length === b.length && a.shape === b.shape
      ? []
      : [
          `${place}: ${name} ${ticksToSeconds(a.length)} s ${a.shape} → ${ticksToSeconds(b.length)} s ${b.shape}`,
        ];
  const [was, is] = [old.region, now.region];
  const db = (value: number): string => `${value.toFixed(1).replace('-', '−')} dB`;
  return [
    ...(was.master === is.master ? [] : [`${place}: master replaced`]),
    ...(was.gainDb === is.gainDb ? [] : [`${place}: gain ${db(was.gainDb)} → ${db(is.gainDb)}`]),
    ...soundChanges(place, was.sound, is.sound),
    ...fade('fade-in', was.fadeIn, is.fadeIn),
    ...fade('fade-out', was.fadeOut, is.fadeOut),
    ...(old.marks.pauseDelay === now.marks.pauseDelay ? [] : [`${place}: pause before it changed`]),
    ...other(place, 'index points', old.marks.indexes, now.marks.indexes),
    ...textChanges(place, old, now, TRACK_WORDS),
    ...alternateChanges(place, old, now),
    ...flag(place, 'copy permitted', old.copyPermitted, now.copyPermitted),
    ...flag(place, 'pre-emphasis', old.preEmphasis, now.preEmphasis),
    ...other(place, 'custom tags', old.tags, now.tags),
    ...other(place, 'text in the second language', old.secondWords, now.secondWords),
  ];
}

function alternateChanges(place: string, old: Song, now: Song): string[] {
  const names = new Set([...Object.keys(old.alternates), ...Object.keys(now.alternates)]);
  return [...names].flatMap((name) => {
    const [was, is] = [alternateOf(old, name), alternateOf(now, name)];
    if (!was || !is) return [`${place}: alternate version “${name}” ${is ? 'added' : 'removed'}`];
    if (was.master !== is.master) return [`${place}: alternate version “${name}” replaced`];
    return was.shift === is.shift ? [] : [`${place}: alternate version “${name}” realigned`];
  });
}

/** “track 4: sound untreated → low cut 28 Hz, limiter −1 dB”. */
function soundChanges(place: string, old: AlbumTreatment, now: AlbumTreatment): string[] {
  if (sameValue(old, now)) return [];
  const words = (sound: AlbumTreatment): string => treatmentWords(sound).join(', ') || 'untreated';
  const [before, after] = [words(old), words(now)];
  return [
    before === after ? `${place}: treatment changed (${after})` : `${place}: treatment ${before} → ${after}`,
  ];
}

/** What is too much to be told in a line. */
const other = (place: string, name: string, old: unknown, now: unknown): string[] =>
  sameValue(old, now) ? [] : [`${place}: ${name} changed`];

const flag = (place: string, name: string, old: boolean, now: boolean): string[] =>
  old === now ? [] : [`${place}: ${name} ${now ? 'set' : 'removed'}`];

function deliverableChanges(before: Album, after: Album): string[] {
  const of = (album: Album): Map<string, string> =>
    new Map(album.deliverables.map((each) => [each.name, JSON.stringify(each)]));
  const [old, now] = [of(before), of(after)];
  return [
    ...[...old.keys()].filter((name) => !now.has(name)).map((name) => `deliverable “${name}” removed`),
    ...[...now].flatMap(([name, settings]) =>
      !old.has(name)
        ? [`deliverable “${name}” added`]
        : old.get(name) === settings
          ? []
          : [`deliverable “${name}”: settings changed`],
    ),
  ];
}

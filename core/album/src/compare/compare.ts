import { figure, joined, msg, verbatim, type Figure, type Message } from '@oiseau/messages';
import type { FadeShape } from '@oiseau/audio/dsp';
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
import { editionChanges } from './edition-changes.js';
import { hiddenSong, songOf, type Album } from '../model/album.js';
import { layOutAlbum, type Part } from '../layout/part.js';
import { mediumWords, positionOf, trackNumber } from '../model/parts.js';
import { sameValue } from '../edits/revert.js';
import type { Region } from '../model/region.js';
import type { MasterFactsByKey } from '../model/sequence.js';
import type { Song } from '../model/song.js';
import { TEXT_NAMES } from '../model/text-fields.js';

/** Words that are told of when they change, by their name in the album and in its tracks. */
const SHARED_WORDS = {
  ...TEXT_NAMES,
  comment: msg('comment'),
} as const satisfies Partial<Record<keyof Album & keyof Song, Message>>;

const ALBUM_WORDS = {
  ...SHARED_WORDS,
  genre: msg('genre'),
  label: msg('label'),
  catalogNumber: msg('catalogue number'),
  upc: msg('UPC/EAN'),
  releaseDate: msg('release date'),
  copyright: msg('© line'),
  phonogram: msg('℗ line'),
  language: msg('language'),
  discNumber: msg('disc number'),
  discTotal: msg('total discs'),
  genreCode: msg('CD-Text genre'),
  cdTextCharset: msg('CD-Text character set'),
} as const satisfies Partial<Record<keyof Album, Message>>;

const TRACK_WORDS = {
  ...SHARED_WORDS,
  language: msg('language'),
  advisory: msg('advisory'),
  isrc: msg('ISRC'),
  lyricist: msg('lyricist'),
  publisher: msg('publisher'),
} as const satisfies Partial<Record<keyof Song, Message>>;

/** What a song is called in one state of an album: “track 4”, “disc 2, track 4”, “the hidden song”. */
type Names = ReadonlyMap<string, Message>;

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

function nameIn(part: Part, id: string): Message {
  const number = trackNumber(part, id);
  if (number === null) return msg('the hidden track');
  return msg('track {number}', { number: part.of === 1 ? number : positionOf(part, number) });
}

const ALBUM = msg('album');

/** `track 7: ISRC added` */
const at = (place: Message, change: Message): Message => msg('{place}: {change}', { place, change });

/**
 * What has changed from one state of an album to another, in words a client reads: “track 4 starts 0.50 s later”, “track 7: ISRC
 * added”. Tracks are told by their number in the later state. Empty when both say and sound the same. A start mark that moved is told as
 * the start of its track. The tempo of a song and findings that were accepted are not told: no client gets them.
 */
export function compareAlbums(before: Album, after: Album, masters: MasterFactsByKey): Message[] {
  const [old, now] = [stateOf(before, masters), stateOf(after, masters)];
  return [
    ...textChanges(ALBUM, before, after, ALBUM_WORDS),
    ...flag(ALBUM, msg('CD-Text spelling'), before.cdTextPlain, after.cdTextPlain),
    ...other(ALBUM, msg('custom tags'), before.tags, after.tags),
    ...other(ALBUM, msg('text in the second language'), before.secondLanguage, after.secondLanguage),
    ...soundChanges(ALBUM, before.sound, after.sound),
    ...(before.artwork === after.artwork ? [] : [at(ALBUM, msg('cover replaced'))]),
    ...orderChanges(old, now),
    ...timeChanges(old, now),
    ...hiddenChanges(before, after),
    ...partChanges(old, now),
    ...after.songs.flatMap((song) => {
      const was = songOf(before, song.id);
      return was ? songChanges(nameFrom(now, song.id), was, song) : [];
    }),
    ...editionChanges(before, after),
    ...deliverableChanges(before, after),
  ];
}

const nameFrom = ({ names }: State, id: string): Message => names.get(id) ?? verbatim('');

function textChanges<T>(
  place: Message,
  before: T,
  after: T,
  words: Partial<Record<keyof T, Message>>,
): Message[] {
  return (Object.keys(words) as (keyof T)[]).flatMap((field) => {
    const [old, now] = [String(before[field]), String(after[field])];
    if (old === now) return [];
    const name = words[field] ?? verbatim(String(field));
    if (old === '') return [at(place, msg('{name} added', { name }))];
    return now === ''
      ? [at(place, msg('{name} removed', { name }))]
      : [at(place, msg('{name} “{old}” → “{now}”', { name, old, now }))];
  });
}

function orderChanges(before: State, after: State): Message[] {
  const tracks = ({ parts }: State): Song[] => parts.flatMap((part) => part.tracks);
  const [old, now] = [tracks(before), tracks(after)];
  const has = (list: readonly Song[], id: string): boolean => list.some((track) => track.id === id);
  const gone = old.filter(({ id }) => !has(now, id)).map(({ title }) => msg('“{title}” removed', { title }));
  const come = now.flatMap(({ id, title }) =>
    has(old, id) ? [] : [at(nameFrom(after, id), msg('“{title}” added', { title }))],
  );
  // Songs that both have, in either order: who is not where it was among them has been moved.
  const kept = old.filter(({ id }) => has(now, id)).map(({ id }) => id);
  const moved = now
    .filter(({ id }) => has(old, id))
    .flatMap(({ id, title }, i) =>
      kept[i] === id
        ? []
        : [
            msg('“{title}” from {from} to {to}', {
              title,
              from: nameFrom(before, id),
              to: nameFrom(after, id),
            }),
          ],
    );
  return [...gone, ...come, ...moved];
}

/** `0.50 s` */
const secondsText = (seconds: number): Figure => figure(`${Math.abs(seconds).toFixed(2)} s`);
/** What is less than this is not told. */
const SMALLEST_S = 0.005;

/** Where a song is found by a listener: at its start mark, on a side at its audio. */
function startOf({ disc, placement }: Part, id: string): Ticks | undefined {
  const mark = disc?.tracks.get(id);
  return mark ? framesToTicks(mark.start) : placement.songs.get(id)?.start;
}

function timeChanges(before: State, after: State): Message[] {
  const starts = after.parts.flatMap((part) =>
    part.tracks.flatMap(({ id }): Message[] => {
      const earlier = before.parts.find(({ placement }) => placement.songs.has(id));
      const [was, is] = [earlier?.placement.songs.get(id), part.placement.songs.get(id)];
      const [wasAt, isAt] = [earlier && startOf(earlier, id), startOf(part, id)];
      if (!was || !is || wasAt === undefined || isAt === undefined) return [];
      const by = ticksToSeconds(isAt) - ticksToSeconds(wasAt);
      const seconds = (audio: Interval<Ticks>): number => ticksToSeconds(intervalLength(audio));
      const longer = seconds(is) - seconds(was);
      const name = nameFrom(after, id);
      return [
        ...(by > SMALLEST_S ? [msg('{name} starts {time} later', { name, time: secondsText(by) })] : []),
        ...(by < -SMALLEST_S ? [msg('{name} starts {time} earlier', { name, time: secondsText(by) })] : []),
        ...(longer > SMALLEST_S ? [msg('{name} is {time} longer', { name, time: secondsText(longer) })] : []),
        ...(longer < -SMALLEST_S
          ? [msg('{name} is {time} shorter', { name, time: secondsText(longer) })]
          : []),
      ];
    }),
  );
  const ends = after.parts.flatMap((part, i): Message[] => {
    const [end, wasEnd] = [endOf(part), before.parts[i] && endOf(before.parts[i])];
    if (wasEnd === undefined || end === wasEnd) return [];
    const what = part.of > 1 ? partName(part) : part.kind === 'disc' ? msg('the disc') : msg('the side');
    return [
      msg('{part} ends at {end} instead of {was}', {
        part: what,
        end: figure(formatClock(end, 2)),
        was: figure(formatClock(wasEnd, 2)),
      }),
    ];
  });
  const count = after.parts.length - before.parts.length;
  return [
    ...starts,
    ...ends,
    ...(count === 0
      ? []
      : [
          msg('{count} discs or sides instead of {was}', {
            count: after.parts.length,
            was: before.parts.length,
          }),
        ]),
  ];
}

const endOf = ({ disc, placement }: Part): Ticks => (disc ? framesToTicks(disc.leadOut) : placement.end);

const PART_WORDS = { title: msg('title'), upc: msg('UPC/EAN') } as const;
/** `disc 2`, `side B` */
const partName = ({ kind, label }: Part): Message =>
  kind === 'disc' ? msg('disc {label}', { label }) : msg('side {label}', { label });
const NO_WORDS = { title: '', upc: '' };

/** What a part is called, its own code and what it is pressed on, of parts that both have. */
function partChanges(before: State, after: State): Message[] {
  return after.parts.flatMap((part, i): Message[] => {
    const was = before.parts[i];
    const [old, now] = [before.album.parts[i], after.album.parts[i]];
    if (!was) return [];
    const name = partName(part);
    return [
      ...(was.medium === part.medium
        ? []
        : [
            at(
              name,
              msg('on {medium} instead of {was}', {
                medium: mediumWords(part.medium),
                was: mediumWords(was.medium),
              }),
            ),
          ]),
      ...textChanges<typeof NO_WORDS>(name, old ?? NO_WORDS, now ?? NO_WORDS, PART_WORDS),
    ];
  });
}

function hiddenChanges(before: Album, after: Album): Message[] {
  const hidden = Number(hiddenSong(after) !== undefined) - Number(hiddenSong(before) !== undefined);
  return hidden === 0
    ? []
    : [hidden > 0 ? msg('a track is hidden before track 1') : msg('the hidden track was removed')];
}

function songChanges(place: Message, old: Song, now: Song): Message[] {
  const fade = (
    words: (values: Record<'from' | 'to', Message>) => Message,
    a: Region['fadeIn'],
    b: Region['fadeIn'],
  ): Message[] =>
    a.length === b.length && a.shape === b.shape
      ? []
      : [at(place, words({ from: fadeWords(a), to: fadeWords(b) }))];
  const [was, is] = [old.region, now.region];
  const db = (value: number): Figure => figure(`${value.toFixed(1).replace('-', '−')} dB`);
  return [
    ...(was.master === is.master ? [] : [at(place, msg('master replaced'))]),
    ...(was.gainDb === is.gainDb
      ? []
      : [at(place, msg('gain {from} → {to}', { from: db(was.gainDb), to: db(is.gainDb) }))]),
    ...soundChanges(place, was.sound, is.sound),
    ...fade((values) => msg('fade-in {from} → {to}', values), was.fadeIn, is.fadeIn),
    ...fade((values) => msg('fade-out {from} → {to}', values), was.fadeOut, is.fadeOut),
    ...(old.marks.pauseDelay === now.marks.pauseDelay ? [] : [at(place, msg('pause before it changed'))]),
    ...other(place, msg('index points'), old.marks.indexes, now.marks.indexes),
    ...textChanges(place, old, now, TRACK_WORDS),
    ...alternateChanges(place, old, now),
    ...flag(place, msg('copy permitted'), old.copyPermitted, now.copyPermitted),
    ...flag(place, msg('pre-emphasis'), old.preEmphasis, now.preEmphasis),
    ...other(place, msg('custom tags'), old.tags, now.tags),
    ...other(place, msg('text in the second language'), old.secondWords, now.secondWords),
  ];
}

function alternateChanges(place: Message, old: Song, now: Song): Message[] {
  const names = new Set([...Object.keys(old.alternates), ...Object.keys(now.alternates)]);
  return [...names].flatMap((name) => {
    const [was, is] = [alternateOf(old, name), alternateOf(now, name)];
    if (!was || !is)
      return [
        at(
          place,
          is
            ? msg('alternate version “{name}” added', { name })
            : msg('alternate version “{name}” removed', { name }),
        ),
      ];
    if (was.master !== is.master) return [at(place, msg('alternate version “{name}” replaced', { name }))];
    return was.shift === is.shift ? [] : [at(place, msg('alternate version “{name}” realigned', { name }))];
  });
}

/** “track 4: sound untreated → low cut 28 Hz, limiter −1 dB”. */
function soundChanges(place: Message, old: AlbumTreatment, now: AlbumTreatment): Message[] {
  if (sameValue(old, now)) return [];
  const words = (sound: AlbumTreatment): Message => {
    const stages = treatmentWords(sound);
    return stages.length > 0 ? joined(stages) : msg('untreated');
  };
  const [before, after] = [words(old), words(now)];
  return [
    at(
      place,
      sameValue(before, after)
        ? msg('treatment changed ({words})', { words: after })
        : msg('treatment {from} → {to}', { from: before, to: after }),
    ),
  ];
}

/** What is too much to be told in a line. */
const other = (place: Message, name: Message, old: unknown, now: unknown): Message[] =>
  sameValue(old, now) ? [] : [at(place, msg('{name} changed', { name }))];

const flag = (place: Message, name: Message, old: boolean, now: boolean): Message[] =>
  old === now ? [] : [at(place, now ? msg('{name} set', { name }) : msg('{name} removed', { name }))];

function deliverableChanges(before: Album, after: Album): Message[] {
  const of = (album: Album): Map<string, string> =>
    new Map(album.deliverables.map((each) => [each.name, JSON.stringify(each)]));
  const [old, now] = [of(before), of(after)];
  return [
    ...[...old.keys()]
      .filter((name) => !now.has(name))
      .map((name) => msg('deliverable “{name}” removed', { name })),
    ...[...now].flatMap(([name, settings]) =>
      !old.has(name)
        ? [msg('deliverable “{name}” added', { name })]
        : old.get(name) === settings
          ? []
          : [msg('deliverable “{name}”: settings changed', { name })],
    ),
  ];
}

const FADE_SHAPES: Readonly<Record<FadeShape, Message>> = {
  linear: msg('linear'),
  'equal-power': msg('equal power'),
  cosine: msg('cosine'),
  slow: msg('slow start'),
  fast: msg('fast start'),
};

/** `2 s linear` */
const fadeWords = ({ length, shape }: Region['fadeIn']): Message =>
  msg('{length} {shape}', { length: figure(`${ticksToSeconds(length)} s`), shape: FADE_SHAPES[shape] });

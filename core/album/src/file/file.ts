import { Failure } from '@oiseau/audio/errors';
import { albumTreatmentSchema, treatmentSchema } from '@oiseau/audio/stages';
import { atMost, isDeeperThan, safelyParsed } from '@oiseau/audio/schema';
import { secondsToTicks, ticks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { hiddenSong, tracksOf, unselectedSchema, type Album } from '../model/album.js';
import { describeIssues } from './issues.js';
import { alternatesOf } from '../model/alternate-schema.js';
import { deliverableSchema } from '../model/deliverable.js';
import { MOST_ACCEPTED, MOST_DELIVERABLES, MOST_EDITIONS, MOST_PARTS, MOST_TRACKS } from '../model/limits.js';
import { GAIN_DB } from '../model/region.js';
import type { Song } from '../model/song.js';
import { tempoShape } from '../model/tempo.js';
import { acceptedShape, albumText, laterAlbumText, laterTrackText, trackText } from '../model/text-fields.js';
import { demandEditions, editionFromFile, editionToFile, fileEdition } from './edition-file.js';
import {
  demandParts,
  fade,
  fadeFromFile,
  fadeToFile,
  filePart,
  partFromFile,
  partsToFile,
  seconds,
  secondsOrNull,
  ticksOrNull,
  type ReportFault,
} from './file-fields.js';
import * as z from '@oiseau/audio/z';

export const ALBUM_FILE_FORMAT = 'oiseau-album';
export const ALBUM_FILE_VERSION = 1;

type Defaults<S extends z.ZodRawShape> = { [K in keyof S]: z.ZodDefault<S[K] & z.ZodType> };
/** Gives every text field its empty default and every flag `false`. */
function withDefaults<S extends Record<string, z.ZodString | z.ZodBoolean | z.ZodInt>>(
  shape: S,
  special: Partial<Record<keyof S, string | number>> = {},
): Defaults<S> {
  const entries = Object.entries(shape).map(([key, schema]) => {
    const fallback = special[key as keyof S] ?? (schema instanceof z.ZodBoolean ? false : '');
    return [key, (schema as z.ZodType).default(fallback)];
  });
  return Object.fromEntries(entries) as Defaults<S>;
}

const masterName = z.string().min(1).max(1000);
/** The master of an alternate; with how many seconds later it has what the master has, where it is moved to line up. */
const fileAlternate = z.union([masterName, z.strictObject({ master: masterName, shift: seconds })]);

const SHA256 = /^[0-9a-f]{64}$/;

const fileTrack = z.strictObject({
  master: masterName,
  /** When it is given, the master must be that file. */
  masterSha256: z.string().regex(SHA256, 'A SHA-256 has 64 hexadecimal digits.').nullable().default(null),
  alternates: alternatesOf(fileAlternate).default({}),
  in: seconds.min(0).default(0),
  out: seconds.min(0).nullable().default(null),
  gapBefore: seconds.default(2),
  gain: z.number().min(GAIN_DB.least).max(GAIN_DB.most).default(0),
  fadeIn: fade,
  fadeOut: fade,
  sound: treatmentSchema.prefault({}),
  indexes: atMost(97, 'indexes', z.array(seconds.min(0))).default([]),
  markLead: seconds.nullable().default(null),
  pauseDelay: seconds.nullable().default(null),
  /** Where its loudest moment begins in the master, where that was moved by hand. */
  loudest: seconds.min(0).nullable().default(null),
  tempo: z
    .strictObject({ ...tempoShape, bar: tempoShape.bar.default(4), beat: seconds.min(0) })
    .nullable()
    .default(null),
  ...withDefaults(trackText),
  ...laterTrackText,
});

/** The album file (docs/album-file.md 2): strict, so that a slip of the pen is named instead of ignored. */
const albumFileFields = z.strictObject({
  /** For editors; it means nothing here. */
  $schema: z.string().max(1000).optional(),
  format: z.literal(ALBUM_FILE_FORMAT),
  version: z.literal(ALBUM_FILE_VERSION),
  ...withDefaults(albumText, { language: 'en', discNumber: 1, discTotal: 1 }),
  ...laterAlbumText,
  /** The day of the revision, so that the same file gives the same bytes on any day; empty: unknown. */
  revisionDate: z
    .string()
    .regex(/^(\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01]))?$/, 'A day is written YYYY-MM-DD.')
    .default(''),
  /** `track` from 1, 0 for the hidden song; null: the album. */
  accepted: atMost(
    MOST_ACCEPTED,
    'accepted findings',
    z.array(z.strictObject({ ...acceptedShape, track: z.int().min(0).nullable() })),
  ).default([]),
  artwork: z.string().max(1000).nullable().default(null),
  markLead: seconds.min(0).default(0),
  endPause: seconds.min(0).default(0),
  sound: albumTreatmentSchema.prefault({}),
  hidden: fileTrack.nullable().default(null),
  tracks: atMost(MOST_TRACKS, 'tracks', z.array(fileTrack)),
  /** None: one CD. */
  parts: atMost(MOST_PARTS, 'parts', z.array(filePart)).default([]),
  deliverables: atMost(
    MOST_DELIVERABLES,
    'deliverables',
    z.array(deliverableSchema).superRefine((list, context) => {
      const seen = new Set<string>();
      list.forEach(({ name }, i) => {
        if (seen.has(name.toLowerCase()))
          context.addIssue({
            code: 'custom',
            path: [i, 'name'],
            message: `Two deliverables are named “${name}”.`,
          });
        seen.add(name.toLowerCase());
      });
    }),
  ).default([]),
  /** None: one edition, without a name, of all tracks. */
  editions: atMost(MOST_EDITIONS, 'editions', z.array(fileEdition)).default([]),
  /** Names of deliverables that the interface leaves out when the album is rendered; `render` makes all of them. */
  unselected: unselectedSchema,
});

export const albumFileSchema = albumFileFields.superRefine((file, context) => {
  const report: ReportFault = (path, message) => context.addIssue({ code: 'custom', path, message });
  demandParts(file.parts, file.tracks.length, ['parts'], report);
  if (file.hidden && file.parts[0] && file.parts[0].medium !== 'cd')
    report(
      ['parts', 0, 'medium'],
      'A track can be hidden only in the first pause of a disc, so the first part must be a CD.',
    );
  demandEditions(file.editions, file.tracks.length, report);
  file.deliverables.forEach(({ edition }, i) => {
    if (edition !== undefined && !file.editions.some(({ name }) => name === edition))
      report(['deliverables', i, 'edition'], `There is no edition “${edition}”.`);
  });
});

export type AlbumFile = z.output<typeof albumFileSchema>;
type FileTrack = z.output<typeof fileTrack>;

/** An album file that can't be used. `problems` has one sentence for each fault, each naming its field. */
export class AlbumFileError extends Failure {
  override readonly name = 'AlbumFileError';
  readonly code = 'album-file';
  readonly status = 422;
  constructor(readonly problems: readonly string[]) {
    super(problems.join('\n'), { details: { problems } });
  }
}

/** Objects and lists of an album file within each other; it has seven. */
const MOST_DEPTH = 50;

/**
 * Reads the text of an album file.
 * @throws AlbumFileError with a sentence for each fault
 */
export function parseAlbumFile(text: string): AlbumFile {
  if (isDeeperThan(text, MOST_DEPTH)) throw new AlbumFileError([`The album file is nested too deeply.`]);
  let data: unknown;
  try {
    data = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (cause) {
    throw new AlbumFileError([
      `The album file isn’t valid JSON: ${cause instanceof Error ? cause.message : String(cause)}`,
    ]);
  }
  const parsed = safelyParsed(albumFileSchema, data);
  if (!parsed.success) throw new AlbumFileError(describeIssues(parsed.error));
  return parsed.data;
}

/** The names of the masters that a file's songs play, each once. */
export const mastersInFile = ({ hidden, tracks }: AlbumFile): string[] => [
  ...new Set(
    [...(hidden ? [hidden] : []), ...tracks].flatMap(({ master, alternates }) => [
      master,
      ...Object.values(alternates).map((each) => shiftedIn(each).master),
    ]),
  ),
];

/** The SHA-256 of masters as far as a file names them, by the masters’ names. */
export const sumsInFile = ({ hidden, tracks }: AlbumFile): ReadonlyMap<string, string> =>
  new Map(
    [...(hidden ? [hidden] : []), ...tracks].flatMap(({ master, masterSha256 }) =>
      masterSha256 === null ? [] : [[master, masterSha256] as const],
    ),
  );

const shiftedIn = (alternate: z.output<typeof fileAlternate>): { master: string; shift: Ticks } =>
  typeof alternate === 'string'
    ? { master: alternate, shift: ticks(0) }
    : { master: alternate.master, shift: secondsToTicks(alternate.shift) };

/** A song of a file → the song; `id` is its identity in the album. */
function songFromFile(
  track: FileTrack,
  id: string,
  numbered: boolean,
  masterOf: (name: string) => string,
): Song {
  const {
    master,
    masterSha256: _sum,
    alternates,
    in: start,
    out,
    gapBefore,
    gain,
    fadeIn,
    fadeOut,
    sound,
    ...silent
  } = track;
  const { indexes, markLead, pauseDelay, tempo, loudest, ...words } = silent;
  return {
    id,
    numbered,
    region: {
      master: masterOf(master),
      in: secondsToTicks(start),
      out: ticksOrNull(out),
      gapBefore: secondsToTicks(gapBefore),
      gainDb: gain,
      fadeIn: fadeFromFile(fadeIn),
      fadeOut: fadeFromFile(fadeOut),
      sound,
    },
    marks: {
      indexes: indexes.map(secondsToTicks),
      markLead: ticksOrNull(markLead),
      pauseDelay: ticksOrNull(pauseDelay),
      tempo: tempo && { ...tempo, beat: secondsToTicks(tempo.beat) },
      loudest: loudest === null ? null : secondsToTicks(loudest),
    },
    alternates: mapValues(alternates, (each) => {
      const found = shiftedIn(each);
      return { ...found, master: masterOf(found.master) };
    }),
    ...words,
  };
}

const mapValues = <From, To>(
  record: Readonly<Record<string, From>>,
  to: (value: From) => To,
): Record<string, To> => Object.fromEntries(Object.entries(record).map(([key, value]) => [key, to(value)]));

function songToFile(song: Song, nameOf: (master: string) => string): FileTrack {
  const { id: _id, numbered: _numbered, region, marks, alternates, ...words } = song;
  const { in: start, out, gapBefore, gainDb, fadeIn, fadeOut, sound } = region;
  const { indexes, markLead, pauseDelay, tempo, loudest } = marks;
  return {
    ...words,
    master: nameOf(region.master),
    masterSha256: SHA256.test(region.master) ? region.master : null,
    alternates: mapValues(alternates, ({ master, shift }) =>
      shift === 0 ? nameOf(master) : { master: nameOf(master), shift: ticksToSeconds(shift) },
    ),
    in: ticksToSeconds(start),
    out: secondsOrNull(out),
    gapBefore: ticksToSeconds(gapBefore),
    gain: gainDb,
    fadeIn: fadeToFile(fadeIn),
    fadeOut: fadeToFile(fadeOut),
    sound,
    indexes: indexes.map(ticksToSeconds),
    markLead: secondsOrNull(markLead),
    pauseDelay: secondsOrNull(pauseDelay),
    tempo: tempo && { ...tempo, beat: ticksToSeconds(tempo.beat) },
    loudest: loudest === null ? null : ticksToSeconds(loudest),
  };
}

/**
 * An album file → the album. `masterOf` gives a master's SHA-256 (or whatever names it for the caller) by its file name,
 * `idOf` an identity for each song by its number, from 1; 0 is the hidden song.
 */
export function albumFromFile(
  file: AlbumFile,
  masterOf: (name: string) => string,
  idOf: (number: number) => string,
): Album {
  const {
    $schema: _schema,
    format: _format,
    revisionDate: _day,
    version: _version,
    hidden,
    tracks,
    parts,
    editions,
    accepted,
    ...ofAlbum
  } = file;
  const { markLead, endPause, ...rest } = ofAlbum;
  const songs = [
    ...(hidden ? [songFromFile(hidden, idOf(0), false, masterOf)] : []),
    ...tracks.map((track, i) => songFromFile(track, idOf(i + 1), true, masterOf)),
  ];
  const idAt = (number: number): string => songs[number - (hidden ? 0 : 1)]?.id ?? '';
  return {
    ...rest,
    markLead: secondsToTicks(markLead),
    endPause: secondsToTicks(endPause),
    songs,
    parts: parts.map((part) => partFromFile(part, idAt)),
    editions: editions.map((edition) => editionFromFile(edition, tracks.length, idAt)),
    // Findings accepted for a track that no longer exists are dropped.
    accepted: accepted.flatMap(({ track, ...each }) => {
      const song = track === null ? null : idAt(track);
      return song === '' ? [] : [{ ...each, song }];
    }),
  };
}

/** An album → its file, masters named by `nameOf`, the cover by `artworkName`. @param revisionDate YYYY-MM-DD; empty: unknown */
export function albumToFile(
  album: Album,
  nameOf: (master: string) => string,
  artworkName: string | null,
  revisionDate = '',
): AlbumFile {
  const { markLead, endPause, songs: _songs, parts, editions, accepted, artwork: _artwork, ...rest } = album;
  const hidden = hiddenSong(album);
  const tracks = tracksOf(album);
  const trackOf = (song: Song): FileTrack => songToFile(song, nameOf);
  /** 0 for the hidden song; null for one that is gone. */
  const numberOf = (id: string): number | null => {
    const place = tracks.findIndex((track) => track.id === id);
    return place >= 0 ? place + 1 : hidden?.id === id ? 0 : null;
  };
  return {
    format: ALBUM_FILE_FORMAT,
    version: ALBUM_FILE_VERSION,
    ...rest,
    revisionDate,
    artwork: artworkName,
    markLead: ticksToSeconds(markLead),
    endPause: ticksToSeconds(endPause),
    hidden: hidden ? trackOf(hidden) : null,
    tracks: tracks.map(trackOf),
    parts: partsToFile(parts, numberOf),
    editions: editions.map((edition) => editionToFile(edition, numberOf)),
    // What was accepted of a song that is gone is gone with it.
    accepted: accepted.flatMap(({ song, ...each }) => {
      const track = song === null ? null : numberOf(song);
      return song !== null && track === null ? [] : [{ ...each, track }];
    }),
  };
}

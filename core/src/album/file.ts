import { z } from './schema-settings.js';
import { FADE_SHAPES } from '../dsp/fade.js';
import { secondsToTicks, ticksToSeconds, type Ticks } from '../time/ticks.js';
import type { Album, Track } from './album.js';
import { deliverableSchema } from './deliverable.js';
import { sounding } from './sequence.js';
import { tempoShape } from './tempo.js';
import { acceptedShape, albumText, laterAlbumText, laterTrackText, trackText } from './text-fields.js';

export const ALBUM_FILE_FORMAT = 'oiseau-album';
export const ALBUM_FILE_VERSION = 1;

/** Seconds that fit into ticks exactly enough: a year is far beyond any album. */
const seconds = z.number().min(-31_536_000).max(31_536_000);
const fade = z
  .strictObject({ length: seconds.min(0).default(0), shape: z.enum(FADE_SHAPES).default('linear') })
  .prefault({});

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

const fileTrack = z.strictObject({
  master: z.string().min(1),
  in: seconds.min(0).default(0),
  out: seconds.min(0).nullable().default(null),
  gapBefore: seconds.default(2),
  gain: z.number().min(-144).max(48).default(0),
  fadeIn: fade,
  fadeOut: fade,
  indexes: z.array(seconds.min(0)).max(97).default([]),
  markLead: seconds.nullable().default(null),
  pauseDelay: seconds.nullable().default(null),
  tempo: z
    .strictObject({ ...tempoShape, bar: tempoShape.bar.default(4), beat: seconds.min(0) })
    .nullable()
    .default(null),
  ...withDefaults(trackText),
  ...laterTrackText,
});

/** The album file of album-file.md: strict, so that a slip of the pen is named instead of ignored. */
export const albumFileSchema = z.strictObject({
  format: z.literal(ALBUM_FILE_FORMAT),
  version: z.literal(ALBUM_FILE_VERSION),
  ...withDefaults(albumText, { language: 'en', discNumber: 1, discTotal: 1 }),
  ...laterAlbumText,
  /** `track` from 1, 0 for the hidden song; null: the album. */
  accepted: z
    .array(z.strictObject({ ...acceptedShape, track: z.int().min(0).nullable() }))
    .max(1000)
    .default([]),
  artwork: z.string().nullable().default(null),
  markLead: seconds.min(0).default(0),
  endPause: seconds.min(0).default(0),
  hidden: fileTrack.nullable().default(null),
  tracks: z.array(fileTrack).max(500),
  deliverables: z
    .array(deliverableSchema)
    .max(50)
    .default([])
    .superRefine((list, context) => {
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
});

export type AlbumFile = z.output<typeof albumFileSchema>;
type FileTrack = z.output<typeof fileTrack>;

/** An album file that can't be used. `problems` has one sentence for each fault, each naming its field. */
export class AlbumFileError extends Error {
  override readonly name = 'AlbumFileError';
  constructor(readonly problems: readonly string[]) {
    super(problems.join('\n'));
  }
}

/** `["tracks", 0, "fadeIn"]` → `tracks[0].fadeIn` */
function fieldName(path: readonly PropertyKey[]): string {
  return path
    .map((part, i) => (typeof part === 'number' ? `[${part}]` : `${i > 0 ? '.' : ''}${String(part)}`))
    .join('');
}

/** One sentence for each issue of a Zod error, each naming its field. */
export function describeIssues(error: z.ZodError): string[] {
  return error.issues.map((issue) => {
    if (issue.code === 'unrecognized_keys') {
      const keys = issue.keys.map((key) => fieldName([...issue.path, key])).join(', ');
      return `${keys}: unknown key.`;
    }
    return `${fieldName(issue.path) || 'The file'}: ${issue.message}`;
  });
}

/**
 * Reads the text of an album file.
 * @throws AlbumFileError with a sentence for each fault
 */
export function parseAlbumFile(text: string): AlbumFile {
  let data: unknown;
  try {
    data = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (cause) {
    throw new AlbumFileError([`This is not JSON: ${cause instanceof Error ? cause.message : String(cause)}`]);
  }
  const parsed = albumFileSchema.safeParse(data);
  if (!parsed.success) throw new AlbumFileError(describeIssues(parsed.error));
  return parsed.data;
}

const ticksOrNull = (value: number | null): Ticks | null => (value === null ? null : secondsToTicks(value));
const secondsOrNull = (value: Ticks | null): number | null => (value === null ? null : ticksToSeconds(value));

/** The names of the masters that a file's songs play, each once. */
export const mastersInFile = (file: AlbumFile): string[] => [
  ...new Set(sounding(file).map(({ master }) => master)),
];

/**
 * An album file → the album. `masterOf` gives a master's SHA-256 (or whatever names it for the caller) by its file name,
 * `idOf` an identity for each track by its place, for the hidden song by −1.
 */
export function albumFromFile(
  file: AlbumFile,
  masterOf: (name: string) => string,
  idOf: (index: number) => string,
): Album {
  const { format: _format, version: _version, markLead, endPause, hidden, tracks, accepted, ...rest } = file;
  const trackOf = (track: FileTrack, index: number): Track => {
    const { in: start, out, gapBefore, gain, fadeIn, fadeOut, indexes, tempo, ...text } = track;
    return {
      ...text,
      id: idOf(index),
      master: masterOf(track.master),
      in: secondsToTicks(start),
      out: ticksOrNull(out),
      gapBefore: secondsToTicks(gapBefore),
      gainDb: gain,
      fadeIn: { length: secondsToTicks(fadeIn.length), shape: fadeIn.shape },
      fadeOut: { length: secondsToTicks(fadeOut.length), shape: fadeOut.shape },
      indexes: indexes.map(secondsToTicks),
      markLead: ticksOrNull(track.markLead),
      pauseDelay: ticksOrNull(track.pauseDelay),
      tempo: tempo && { ...tempo, beat: secondsToTicks(tempo.beat) },
    };
  };
  return {
    ...rest,
    markLead: secondsToTicks(markLead),
    endPause: secondsToTicks(endPause),
    hidden: hidden && trackOf(hidden, -1),
    tracks: tracks.map(trackOf),
    accepted: accepted.map((each) => ({ ...each, track: each.track === null ? null : idOf(each.track - 1) })),
  };
}

/** An album → its file, masters named by `nameOf`, the cover by `artworkName`. */
export function albumToFile(
  album: Album,
  nameOf: (master: string) => string,
  artworkName: string | null,
): AlbumFile {
  const { markLead, endPause, hidden, tracks, accepted, artwork: _artwork, ...rest } = album;
  const numberOf = (id: string): number =>
    hidden?.id === id ? 0 : tracks.findIndex((track) => track.id === id) + 1;
  const trackOf = (track: Track): FileTrack => {
    const {
      id: _id,
      in: start,
      out,
      gapBefore,
      gainDb,
      fadeIn,
      fadeOut,
      indexes,
      tempo,
      markLead: lead,
      ...text
    } = track;
    return {
      ...text,
      master: nameOf(track.master),
      in: ticksToSeconds(start),
      out: secondsOrNull(out),
      gapBefore: ticksToSeconds(gapBefore),
      gain: gainDb,
      fadeIn: { length: ticksToSeconds(fadeIn.length), shape: fadeIn.shape },
      fadeOut: { length: ticksToSeconds(fadeOut.length), shape: fadeOut.shape },
      indexes: indexes.map(ticksToSeconds),
      markLead: secondsOrNull(lead),
      pauseDelay: secondsOrNull(track.pauseDelay),
      tempo: tempo && { ...tempo, beat: ticksToSeconds(tempo.beat) },
    };
  };
  return {
    format: ALBUM_FILE_FORMAT,
    version: ALBUM_FILE_VERSION,
    ...rest,
    artwork: artworkName,
    markLead: ticksToSeconds(markLead),
    endPause: ticksToSeconds(endPause),
    hidden: hidden && trackOf(hidden),
    tracks: tracks.map(trackOf),
    // What was accepted of a track that is gone is gone with it.
    accepted: accepted
      .filter(({ track }) => track === null || track === hidden?.id || numberOf(track) > 0)
      .map((each) => ({ ...each, track: each.track === null ? null : numberOf(each.track) })),
  };
}

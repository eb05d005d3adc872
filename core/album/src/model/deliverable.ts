import { READER_LANGUAGES } from '@oiseau/messages';
import { atMost } from '@oiseau/audio/schema';
import { DITHER_KINDS, type DitherKind } from '@oiseau/audio/dsp';
import { SAMPLE_RATES } from '@oiseau/audio/pcm';
import { AUDIO_FORMATS, CODECS, codingsOf, factsOf, isLossyCoding, type Coding } from '@oiseau/codings';
import { editionName } from './edition-name.js';
import { chosenAlternate, MAIN } from './alternate-schema.js';
import { unknownWords } from './name-pattern.js';
import * as z from '@oiseau/audio/z';

const folderName = z
  .string()
  .min(1)
  .max(100)
  .refine((name) => !/[/\\:*?"<>|\p{Cc}]/u.test(name) && !/^[.\s]|[.\s]$/.test(name), {
    error: (issue) => `“${String(issue.input)}” can’t be used as a folder name.`,
  });

const known = (names: readonly string[]): string => `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
const oneOf = <const T extends readonly string[]>(values: T) =>
  z.enum(values, { error: (issue) => `“${String(issue.input)}” is unknown. Use ${known(values)}.` });

/** The edition that it is made of; left out: the first. */
const edition = editionName.optional();

/** Of the papers in it; left out: English. */
const language = oneOf(READER_LANGUAGES).optional();

const dither = z.enum(DITHER_KINDS);
/** Which recordings are heard: the masters, or the alternates of a name wherever there are some. */
const alternate = chosenAlternate.default(MAIN);

/** What a pressing plant takes [DDP 2.00]: 44.1 kHz, 16 bit. */
export const ddpDeliverable = z.strictObject({
  name: folderName,
  edition,
  kind: z.literal('ddp'),
  alternate,
  dither: dither.default('triangular'),
});

/** A disc image with a cue sheet: 44.1 kHz, 16 bit. */
export const cueDeliverable = z.strictObject({
  name: folderName,
  edition,
  kind: z.literal('cue'),
  alternate,
  audio: oneOf(['wav', 'bin']).default('wav'),
  dither: dither.default('triangular'),
});

/** How the audio of a file is kept. What means nothing for a coding is left aside. */
const sound = {
  format: oneOf(AUDIO_FORMATS).default('wav'),
  /** Of M4A. */
  codec: oneOf(CODECS).default('aac'),
  bits: z.union([z.literal(16), z.literal(24), z.literal(32), z.literal('float')]).default(24),
  rate: z.union([z.literal('source'), z.literal([...SAMPLE_RATES])]).default('source'),
  dither: dither.optional(),
  /** kbit/s; null: what is usual for the coding. */
  bitrate: z.int().min(16).max(512).nullable().default(null),
  /** MP3 at a variable bit rate, 0 (best) to 9 (smallest); null: at a constant one. */
  quality: z.int().min(0).max(9).nullable().default(null),
  /** Version of ID3, where the file has such tags: MP3, AIFF, and the `id3 ` chunk of WAV. */
  id3: z.literal([2.3, 2.4]).default(2.3),
  /** Loudness of track and album as tags: ReplayGain 2.0, in Opus R128 [RFC 7845]. */
  loudnessTags: z.boolean().default(false),
  /** The tempo of a track, where it is known, as a tag. */
  tempoTags: z.boolean().default(false),
};

/** One file for each track. */
export const tracksDeliverable = z
  .strictObject({
    name: folderName,
    edition,
    kind: z.literal('tracks'),
    ...sound,
    /** Which recordings get files: those of a track are equally long to the sample. */
    alternates: z
      .array(chosenAlternate)
      .min(1)
      .max(31)
      .refine((names) => new Set(names.map((name) => name.toLowerCase())).size === names.length, {
        error: 'An alternate version is listed twice.',
      })
      .default([MAIN]),
    gaps: z.enum(['append', 'prepend', 'drop']).default('append'),
    pattern: z
      .string()
      .min(1)
      .max(200)
      .default('{number} {title}')
      .superRefine((pattern, context) => {
        for (const word of unknownWords(pattern))
          context.addIssue({ code: 'custom', message: `{${word}} is unknown in a name pattern.` });
      }),
    /** An M3U8 beside the files. */
    playlist: z.boolean().default(false),
    /** Track numbers from 1; null: all. */
    select: atMost(500, 'track numbers', z.array(z.int().min(1).max(99)).min(1))
      .nullable()
      .default(null),
  })
  .superRefine(soundFits);

/** A place on the disc: seconds from the start mark of track 1, or a mark (“3”, “3.0” its pause, “3.2” its index 2). */
const place = z.union([
  z.number().min(0),
  z.string().regex(/^[1-9]\d?(\.\d\d?)?$/, 'A mark is a track (“3”) or a track and an index (“3.2”).'),
]);
export type Place = z.output<typeof place>;

/** The album, or a section of it, as one file. */
export const continuousDeliverable = z
  .strictObject({
    name: folderName,
    edition,
    kind: z.literal('continuous'),
    ...sound,
    alternate,
    /** Where it begins; null: at the start mark of track 1. */
    from: place.nullable().default(null),
    /** Where it ends; null: at the end of the last audio. */
    to: place.nullable().default(null),
  })
  .superRefine(soundFits);

/** What a cutting room takes of vinyl sides: 24 bit at the album's highest rate, with a sheet. */
export const cuttingRoomDeliverable = z.strictObject({
  name: folderName,
  edition,
  kind: z.literal('cutting-room'),
  alternate,
  language,
});

/** What a shop takes: a bag [RFC 8493] with a file for each track, the cover, and what it must know of the release. */
export const packageDeliverable = z.strictObject({
  name: folderName,
  edition,
  kind: z.literal('package'),
  format: oneOf(['flac', 'wav']).default('flac'),
  bits: z.union([z.literal(16), z.literal(24)]).default(24),
  rate: z.union([z.literal('source'), z.literal([...SAMPLE_RATES])]).default('source'),
  dither: dither.optional(),
  /** How the cover is sent. */
  cover: oneOf(['jpeg', 'png']).default('jpeg'),
  language,
});

/** A listening copy that needs no server: each part as one file, and a page that plays it from disk and takes a response. */
export const listeningDeliverable = z.strictObject({
  name: folderName,
  edition,
  kind: z.literal('listening'),
  alternate,
  format: oneOf(['mp3', 'm4a', 'flac', 'wav']).default('mp3'),
});

type Sound = z.output<z.ZodObject<typeof sound>>;

/** How a file of this format is coded. */
export function codingOf({ format, codec }: Pick<Sound, 'format' | 'codec'>): Coding {
  const [usual, ...others] = codingsOf(format);
  if (usual === undefined) throw new RangeError(`no coding for ${format}`);
  return others.find((coding) => coding === codec) ?? usual;
}

function soundFits(value: Sound, context: z.RefinementCtx): void {
  const coding = codingOf(value);
  const { lossy, bits, rates, bitrate } = factsOf(coding);
  const fault = (path: string, message: string): void =>
    context.addIssue({ code: 'custom', path: [path], message });
  const name = coding.toUpperCase();
  if (!lossy && !bits.includes(value.bits))
    fault('bits', `${name} holds ${bits.join(' or ')} bits, not ${value.bits}.`);
  if (value.rate !== 'source' && !rates.includes(value.rate))
    fault('rate', `${name} holds ${known(rates.map(String))} Hz, not ${value.rate}.`);
  if (value.bitrate !== null && bitrate) {
    const { least, most, only } = bitrate;
    if (value.bitrate < least || value.bitrate > most)
      fault('bitrate', `${name} takes ${least} to ${most} kbit/s, not ${value.bitrate}.`);
    else if (only && !only.includes(value.bitrate))
      fault('bitrate', `${name} knows ${known(only.map(String))} kbit/s, not ${value.bitrate}.`);
  }
}

const KINDS = ['ddp', 'cue', 'tracks', 'continuous', 'cutting-room', 'package', 'listening'];

export const deliverableSchema = z.discriminatedUnion(
  'kind',
  [
    ddpDeliverable,
    cueDeliverable,
    tracksDeliverable,
    continuousDeliverable,
    cuttingRoomDeliverable,
    packageDeliverable,
    listeningDeliverable,
  ],
  {
    error: (issue) => {
      if (issue.code !== 'invalid_union') return undefined;
      const kind = (issue.input as { kind?: unknown } | null)?.kind;
      return kind === undefined
        ? `The kind is missing. Use ${known(KINDS)}.`
        : `Kind “${String(kind)}” is unknown. Use ${known(KINDS)}.`;
    },
  },
);

export type Deliverable = z.output<typeof deliverableSchema>;
export type DdpDeliverable = z.output<typeof ddpDeliverable>;
export type CueDeliverable = z.output<typeof cueDeliverable>;
export type TracksDeliverable = z.output<typeof tracksDeliverable>;
export type CuttingRoomDeliverable = z.output<typeof cuttingRoomDeliverable>;
export type ListeningDeliverable = z.output<typeof listeningDeliverable>;
export type PackageDeliverable = z.output<typeof packageDeliverable>;
export type ContinuousDeliverable = z.output<typeof continuousDeliverable>;
/** Deliverables whose format is chosen. */
export type SoundDeliverable = TracksDeliverable | ContinuousDeliverable;

/** The recordings that it is made of. */
export function recordingsOf(deliverable: Deliverable): readonly string[] {
  if (deliverable.kind === 'package') return [MAIN];
  return deliverable.kind === 'tracks' ? deliverable.alternates : [deliverable.alternate];
}

/** The files of tracks in a package, as a deliverable of their own. */
export const tracksOfPackage = ({
  name,
  format,
  bits,
  rate,
  dither: kind,
}: PackageDeliverable): TracksDeliverable =>
  tracksDeliverable.parse({ name, kind: 'tracks', format, bits, rate, ...(kind ? { dither: kind } : {}) });

/** The audio of a folder to listen to, as a deliverable of its own; 16 bit where it is without loss, so that every browser plays it. */
export const continuousOfListening = ({
  name,
  format,
  alternate: heard,
}: ListeningDeliverable): ContinuousDeliverable =>
  continuousDeliverable.parse({ name, kind: 'continuous', format, alternate: heard, bits: 16, rate: 44_100 });

/** Whether it is an image of a disc: 44.1 kHz, 16 bit, with marks. */
export const isImage = (deliverable: Deliverable): deliverable is DdpDeliverable | CueDeliverable =>
  deliverable.kind === 'ddp' || deliverable.kind === 'cue';

/** Whether its format is chosen. */
export const hasFormat = (deliverable: Deliverable): deliverable is SoundDeliverable =>
  deliverable.kind === 'tracks' || deliverable.kind === 'continuous';

/** Whether what is heard from its files differs from what went into them. */
export const isLossy = (deliverable: Deliverable): boolean =>
  deliverable.kind === 'listening'
    ? isLossy(continuousOfListening(deliverable))
    : hasFormat(deliverable) && isLossyCoding(codingOf(deliverable));

/** The dither in force: as chosen, or triangular where words are shortened to 16 bit, else none. */
export function ditherOf(deliverable: Deliverable): DitherKind {
  if (isImage(deliverable)) return deliverable.dither;
  if (deliverable.kind === 'package') return ditherOf(tracksOfPackage(deliverable));
  if (deliverable.kind === 'listening') return ditherOf(continuousOfListening(deliverable));
  if (!hasFormat(deliverable) || isLossy(deliverable)) return 'none';
  return deliverable.dither ?? (deliverable.bits === 16 ? 'triangular' : 'none');
}

/** kbit/s in force; null where it follows from the words, or varies. */
export function bitrateOf(deliverable: SoundDeliverable): number | null {
  const coding = codingOf(deliverable);
  const { bitrate, qualities } = factsOf(coding);
  if (qualities.length > 0 && deliverable.quality !== null) return null;
  return bitrate && (deliverable.bitrate ?? bitrate.usual);
}

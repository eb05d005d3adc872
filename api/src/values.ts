import * as z from 'zod';
import { CD_TEXT_FIELDS } from '@oiseau/album/model';
import { EMBEDDED_FIELDS, SAMPLE_RATES, type EmbeddedText, type PcmInfo } from '@oiseau/audio/pcm';
import { PROOF_TESTS, type Made, type Proof, type ProofComparison } from '@oiseau/render';
import type { CoverFacts } from '@oiseau/checks';
import type { DiscImage } from '@oiseau/formats/disc';
import type { Frames } from '@oiseau/audio/time';
import type { MasterMeasurement, Measurement } from '@oiseau/audio/measure';

/** Values that several answers hold, each in the shape that the core gives it. */

export const sha256 = z.string().regex(/^[0-9a-f]{64}$/, 'This isn’t a SHA-256.');
export const name = z.string().min(1).max(500);
/** A moment in ISO 8601, UTC. */
export const moment = z.iso.datetime();
const figure = z.number().nullable();

/** What the header of a master says of its audio. */
export const pcmInfo = z.object({
  container: z.enum(['RIFF', 'RF64', 'BW64', 'AIFF', 'AIFC']),
  rate: z
    .number()
    .refine((rate) => SAMPLE_RATES.some((known) => known === rate), 'This isn’t a supported sample rate.'),
  channels: z.int(),
  format: z.enum(['int16', 'int24', 'int32', 'float32', 'float64']),
  // Masters from before AIFF was read are all RIFF's.
  order: z.enum(['little', 'big']).default('little'),
  validBits: z.int(),
  length: z.int(),
  dataOffset: z.int(),
}) satisfies z.ZodType<PcmInfo>;

/** How a master that is no plain PCM was coded. */
export const coding = z.object({ codec: z.string(), lossy: z.boolean(), bitrate: z.number().nullable() });

const text = z.object({
  fields: z.partialRecord(z.enum(EMBEDDED_FIELDS), z.string()),
  cues: z.array(z.object({ at: z.int(), name: z.string() })),
}) satisfies z.ZodType<EmbeddedText>;

/** What lay in a master's file beside its audio; `cover` is the SHA-256 of a picture. */
export const embedded = text.extend({ cover: sha256.nullable() });

const ofStretch = z.object({
  integratedLufs: figure,
  loudnessRangeLu: figure,
  maxMomentaryLufs: figure,
  maxShortTermLufs: figure,
  samplePeakDbfs: figure,
  truePeakDbtp: figure,
  samplePeakAt: z.int(),
  clippedRuns: z.int(),
  clipped: z.array(z.object({ at: z.int(), length: z.int(), channel: z.enum(['left', 'right']) })).readonly(),
  dcLeft: z.number(),
  dcRight: z.number(),
  correlation: figure,
});

/** What is measured of any stretch of audio. */
export const stretchMeasurement: z.ZodType<Measurement, Measurement> = ofStretch;

/** Everything that was measured of a master. */
/** As stored; `upperEnd` may be missing there. */
type StoredMeasurement = Omit<MasterMeasurement, 'upperEnd'> & {
  readonly upperEnd?: MasterMeasurement['upperEnd'] | undefined;
};

export const measurement: z.ZodType<MasterMeasurement, StoredMeasurement> = ofStretch.extend({
  edges: z.array(
    z.object({
      levelDb: z.literal([-60, -72, -90]),
      start: z.int().nullable(),
      end: z.int().nullable(),
    }),
  ),
  silentHead: z.int(),
  silentTail: z.int(),
  bitsUsed: z.int().nullable(),
  ditherTrace: z.enum(['yes', 'no', 'unclear']),
  thirdOctavesDb: z.array(figure),
  // Masters from before it was looked at have none.
  upperEnd: z
    .object({
      bandHz: z.number(),
      bandsDb: z.array(figure),
      edge: z.object({ hz: z.number(), dropDb: z.number(), aboveDb: z.number() }).nullable(),
      mirror: z.object({ hz: z.number(), likeness: z.number() }).nullable(),
      at: z.number(),
    })
    .nullable()
    .default(null),
});

/** The versions that have made something. */
export const made = z.object({ oiseau: z.string(), ffmpeg: z.string().nullable() }) satisfies z.ZodType<Made>;

/** A render laid against an earlier one of the same revision and settings. */
export const comparison = z.object({
  before: made.nullable(),
  differences: z.array(
    z.object({ path: z.string(), what: z.enum(['new', 'gone', 'words', 'around', 'bytes']) }),
  ),
}) satisfies z.ZodType<ProofComparison>;

const proofValue = z.union([z.string(), z.number()]).nullable();
/** The proof of a rendered delivery (docs/album-file.md 4). */
export const proof = z.object({
  deliverable: z.string(),
  revision: z.int(),
  proved: z.boolean(),
  // Proofs from before it was noted do not have it.
  made: made.nullable().default(null),
  files: z.array(
    z.object({
      path: z.string(),
      bytes: z.int(),
      sha256,
      frames: z.int().nullable(),
      rate: z.number().nullable(),
      samplePeakDbfs: figure,
      truePeakDbtp: figure,
      integratedLufs: figure,
      // Proofs from before these were told do not have them.
      clippedRuns: z.int().nullable().default(null),
      cureDb: figure.default(null),
      tests: z.array(
        z.object({ id: z.enum(PROOF_TESTS), passed: z.boolean(), found: proofValue, wanted: proofValue }),
      ),
    }),
  ),
}) satisfies z.ZodType<Proof>;

/** Progress of a job. `speed` is seconds of audio per second; `secondsLeft` is null while unknown. */
export const jobProgress = z.object({
  share: z.number(),
  phase: z.string(),
  speed: z.number(),
  secondsLeft: z.number().nullable(),
});
export const jobState = z.enum(['queued', 'running', 'done', 'failed', 'stopped']);
export type JobProgress = z.output<typeof jobProgress>;
export type JobState = z.output<typeof jobState>;

/** A picture as its file describes it. */
export const coverFacts = z.object({
  width: z.int(),
  height: z.int(),
  format: z.enum(['jpeg', 'png']),
  space: z.string(),
  channels: z.int(),
  hasAlpha: z.boolean(),
  bytes: z.int(),
}) satisfies z.ZodType<CoverFacts>;

/** Whole frames of 1/75 s: the number is the same, the type says its unit. */
const frames = z.int() as z.ZodType<number, number> as z.ZodType<Frames, number>;
const words = z.partialRecord(z.enum(CD_TEXT_FIELDS), z.string());
/** A disc image, from any source. */
export const discImage = z.object({
  kind: z.enum(['ddp', 'cue']),
  upc: z.string(),
  masterId: z.string(),
  marks: z.array(z.object({ track: z.int(), index: z.int(), frames })),
  leadOut: frames.nullable(),
  audio: z.object({ path: z.string(), from: frames, more: z.array(z.string()).optional() }).nullable(),
  text: words,
  tracks: z.array(
    z.object({ text: words, isrc: z.string(), copyPermitted: z.boolean(), preEmphasis: z.boolean() }),
  ),
  problems: z.array(z.string()),
}) satisfies z.ZodType<DiscImage>;

import * as z from 'zod';
import { sentence } from './failure.js';
import { atMost } from '@oiseau/audio/schema';
import {
  encodersRoomSchema,
  lineUpQuestionSchema,
  measuredSoundSchema,
  sideQuestionSchema,
  type LineUpFigures,
  type RoomFigures,
  type SideFigures,
  type SoundFigures,
} from '@oiseau/album/measured';
import { REDUCING_STAGES, type ReducingStage } from '@oiseau/audio/stages';
import { endpoint } from './endpoint.js';
import { jobState, measurement, sha256, stretchMeasurement } from './values.js';

const taken = z.object({ mostDb: z.number(), share: z.number(), times: z.int() });

/** Of each stage that reduces gain; null where it is not there. */
const reductions = Object.fromEntries(REDUCING_STAGES.map((name) => [name, taken.nullable()])) as Record<
  ReducingStage,
  z.ZodNullable<typeof taken>
>;

/** What was measured of a treated sound. */
export const soundFigures = z.object({
  measurement,
  songs: z.record(z.string(), stretchMeasurement),
  ...reductions,
}) satisfies z.ZodType<SoundFigures>;

/** A treated sound: its figures, or how far its measuring is. */
export const soundRecord = z.object({
  /** By which its outline is asked for. */
  key: sha256,
  figures: soundFigures.nullable(),
  job: z.object({ state: jobState, share: z.number(), ...sentence }).optional(),
});
export type SoundRecord = z.output<typeof soundRecord>;

const overshoot = z.object({ name: z.string(), before: z.number(), after: z.number() });
/** What encoders make of the album under two ceilings. */
export const roomFigures = z.object({
  now: z.array(overshoot),
  ceiling: z.number(),
  then: z.array(overshoot),
}) satisfies z.ZodType<RoomFigures>;
const measuring = soundRecord.shape.job;

/** How much later another recording of a song is than its master. */
export const lineUpFigures = z.object({
  found: z.object({ samples: z.int(), rate: z.int(), certainty: z.number() }).nullable(),
}) satisfies z.ZodType<LineUpFigures>;

const moment = z.object({ at: z.number(), value: z.number() }).nullable();
/** What a lathe minds of a side. */
export const sideFigures = z.object({
  course: z.object({ levelDb: z.array(z.number()), widthDb: z.array(z.number()) }),
  bassCorrelation: moment,
  bassWidthDb: moment,
  brighterDb: moment,
}) satisfies z.ZodType<SideFigures>;

/** Figures, or how far the measuring is. */
const measured = <T extends z.ZodType>(figures: T) =>
  z.array(z.object({ figures: figures.nullable(), job: measuring }));

/** The most that questions may weigh as JSON: as much as an album, whose regions and treatments they hold. */
const MOST_QUESTIONS_BODY = 8_000_000;

/** As many songs as an album can have, and its parts. */
const MOST_SOUNDS = 200;
/** As many songs as an album can have, with some recordings each. */
const MOST_RECORDINGS = 2000;

export const SOUNDS = {
  measureSounds: endpoint(
    'POST',
    '/albums/:id/sounds',
    'album',
    'Measurements of treated tracks and parts, in the order of the request. Missing ones are queued.',
    {
      most: MOST_QUESTIONS_BODY,
      body: z.strictObject({ sounds: atMost(MOST_SOUNDS, 'sounds', z.array(measuredSoundSchema)) }),
      answer: z.array(soundRecord),
    },
  ),
  encodersRoom: endpoint(
    'POST',
    '/albums/:id/room',
    'album',
    'The ceiling below which lossy files stay under full scale, found by encoding the loudest passages.',
    {
      most: MOST_QUESTIONS_BODY,
      body: encodersRoomSchema,
      answer: z.object({ figures: roomFigures.nullable(), job: measuring }),
    },
  ),
  measureLineUps: endpoint(
    'POST',
    '/albums/:id/line-ups',
    'album',
    'Offsets of alternate versions from their masters, in the order of the request. Missing ones are queued.',
    {
      most: 1_000_000,
      body: z.strictObject({
        questions: atMost(MOST_RECORDINGS, 'questions', z.array(lineUpQuestionSchema)),
      }),
      answer: measured(lineUpFigures),
    },
  ),
  measureSides: endpoint(
    'POST',
    '/albums/:id/sides',
    'album',
    'Cutting measurements of sides, in the order of the request. Missing ones are queued.',
    {
      most: MOST_QUESTIONS_BODY,
      body: z.strictObject({ questions: atMost(MOST_SOUNDS, 'questions', z.array(sideQuestionSchema)) }),
      answer: measured(sideFigures),
    },
  ),
  soundOutline: endpoint(
    'GET',
    '/albums/:id/sounds/:sha256/outline',
    'album',
    'Waveform of a treated track: peak and RMS per 1/75 s, 16-bit little-endian, then the gain reduction of compressor and limiter, a byte each in 0.1 dB.',
    { file: 'application/octet-stream' },
  ),
  soundPowers: endpoint(
    'GET',
    '/albums/:id/sounds/:sha256/powers',
    'album',
    'Mean power per 100 ms of a treated track, 32-bit little-endian floats.',
    { file: 'application/octet-stream' },
  ),
} as const;

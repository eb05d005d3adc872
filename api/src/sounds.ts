import * as z from 'zod';
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
  job: z.object({ state: jobState, share: z.number(), message: z.string().nullable() }).optional(),
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
    'What is measured of treated sounds, in the order in which they are asked for; what is not known yet is measured as long as somebody asks.',
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
    'Under which ceiling lossy files stay under full scale: found by encoding the loudest moments, as long as somebody asks.',
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
    'How much later other recordings are than their masters, in the order in which they are asked for; what is not known yet is measured as long as somebody asks.',
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
    'What a lathe minds of sides, in the order in which they are asked for; what is not known yet is measured as long as somebody asks.',
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
    'The outline of a treated sound: for each 1/75 s peak and RMS, 16 bit little-endian, then what compressor and limiter take away, a byte each in tenths of a decibel.',
    { file: 'application/octet-stream' },
  ),
  soundPowers: endpoint(
    'GET',
    '/albums/:id/sounds/:sha256/powers',
    'album',
    'Mean power of each 100 ms of a treated sound, 32-bit floats, little-endian.',
    { file: 'application/octet-stream' },
  ),
} as const;

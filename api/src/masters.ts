import * as z from 'zod';
import { messageSchema, sentence } from './failure.js';
import { endpoint } from './endpoint.js';
import { coding, embedded, jobState, measurement, moment, name, pcmInfo, sha256 } from './values.js';

/** A master as an album knows it. */
export const masterRecord = z.object({
  sha256,
  /** Of the file that was brought in; empty where the album has it no more. */
  name: z.string(),
  /** Size of the file that was brought in. */
  bytes: z.int(),
  /** The words that are read: those of the file, or of its decoded audio. */
  info: pcmInfo,
  /** null for plain PCM. */
  coding: coding.nullable(),
  embedded,
  /** null until it is measured. */
  measurement: measurement.nullable(),
  /** What is known of it can't be read any more: it counts as silence of no length until the file is brought in again. */
  damaged: z.boolean(),
  addedAt: moment,
  /** SHA-256 of the master of which this one is a newer version. */
  replaces: sha256.nullable(),
  /** It was imported as a track, and its use is not decided yet. */
  awaits: z.boolean(),
  /** How far its measuring is, while it is not measured. */
  job: z.object({ state: jobState, share: z.number(), ...sentence }).optional(),
});
export type MasterRecord = z.output<typeof masterRecord>;

/** A file that was sent by pieces. */
const upload = z.string().regex(/^[0-9a-f]{32}$/);
const taken = z.object({ sha256, bytes: z.int() });
/** Taken into an album, which may have had it. */
const takenThere = taken.extend({ known: z.boolean() });
/** Beside a file that is the body itself. */
const fileName = z.object({ name, mono: z.enum(['true', 'false']).default('false') });
const uploaded = z.strictObject({
  upload,
  name,
  /** One channel may be put on both sides. */
  mono: z.boolean().default(false),
  /** The master of which this is a newer version. */
  replaces: sha256.nullable().default(null),
  /** It is to become a track, or a newer version: it waits until that is decided, in any window. */
  awaits: z.boolean().default(false),
});

/** A coded file that is decoded for an album. */
export const intakeRecord = z.object({
  id: z.string(),
  state: jobState,
  /** How much of it is decoded, 0 to 1. */
  share: z.number(),
  /** Why the job failed. */
  ...sentence,
  taken: takenThere.nullable(),
  /** Why it was not taken in. */
  refusal: z.object({ reason: z.string(), message: z.string(), words: messageSchema.optional() }).nullable(),
});
export type IntakeAnswer = z.output<typeof intakeRecord>;

export const MASTERS = {
  intake: endpoint('GET', '/intakes/:id', 'intake', 'State of an import that decodes a compressed file.', {
    answer: intakeRecord,
  }),
  stopIntake: endpoint('POST', '/intakes/:id/stop', 'intake', 'Stops an import; nothing is kept.', {
    status: 202,
  }),
  masters: endpoint(
    'GET',
    '/albums/:id/masters',
    'album',
    'The masters of an album in order of import. Without `curves` their high-frequency bands are empty: see `upperBands`.',
    {
      query: z.object({ curves: z.enum(['true', 'false']).default('true') }),
      answer: z.array(masterRecord),
    },
  ),
  addMaster: endpoint('POST', '/albums/:id/masters', 'album', 'Adds an uploaded file to an album.', {
    status: 201,
    body: uploaded.extend({
      /** A file that must be decoded is left to a job, and the answer tells where to ask for it. */
      later: z.boolean().default(false),
    }),
    answer: z.union([takenThere, z.object({ intake: z.string() })]),
  }),
  sendMaster: endpoint(
    'POST',
    '/albums/:id/masters',
    'album',
    'Adds the request body to an album as a file.',
    {
      status: 201,
      query: fileName,
      takesFile: true,
      answer: takenThere,
    },
  ),
  settleMasters: endpoint(
    'POST',
    '/albums/:id/masters/settled',
    'album',
    'Settles imported masters: as tracks, or as newer versions.',
    {
      body: z.strictObject({
        masters: z.array(z.strictObject({ sha256, replaces: sha256.nullable().default(null) })).max(2000),
      }),
    },
  ),
  storeMaster: endpoint('POST', '/masters', 'any', 'Adds an uploaded file without an album.', {
    status: 201,
    body: uploaded.omit({ replaces: true, awaits: true }),
    answer: taken,
  }),
  sendLooseMaster: endpoint('POST', '/masters', 'any', 'Adds the request body as a file without an album.', {
    status: 201,
    query: fileName,
    takesFile: true,
    answer: taken,
  }),
  removeMaster: endpoint(
    'DELETE',
    '/albums/:id/masters/:sha256',
    'album',
    'Removes a master from an album unless a track uses it.',
    { right: 'work' },
  ),
  putMasterBack: endpoint('PUT', '/albums/:id/masters/:sha256', 'album', 'Restores a removed master.', {
    body: z.strictObject({ name, replaces: sha256.nullable().default(null) }),
  }),
  measureMaster: endpoint('POST', '/masters/:sha256/measuring', 'master', 'Measures a master.', {
    status: 202,
  }),
  stopMeasuring: endpoint(
    'POST',
    '/masters/:sha256/measuring/stop',
    'master',
    'Stops the measuring of a master.',
    {
      status: 202,
    },
  ),
  masterAudio: endpoint('GET', '/masters/:sha256/audio', 'master', 'The samples of a master, with ranges.', {
    file: 'application/octet-stream',
  }),
  silhouette: endpoint(
    'GET',
    '/masters/:sha256/silhouette',
    'master',
    'Waveform: peak and RMS, 16-bit little-endian, per `step` times 1/75 s.',
    {
      query: z.object({ step: z.coerce.number().int().min(1).max(512).default(1) }),
      file: 'application/octet-stream',
    },
  ),
  powers: endpoint(
    'GET',
    '/masters/:sha256/powers',
    'master',
    'Mean power of each 100 ms, 32-bit floats, little-endian.',
    {
      file: 'application/octet-stream',
    },
  ),
  upperBands: endpoint(
    'GET',
    '/masters/:sha256/upper-bands',
    'master',
    'High-frequency spectrum of a master, dB per band; 404 until it is measured.',
    {
      answer: z.array(z.number().nullable()),
    },
  ),
} as const;

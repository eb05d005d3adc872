import { albumSchema, deliverableSchema } from '@oiseau/album/model';
import { answerSchema } from '@oiseau/formats/papers';
import * as z from 'zod';
import { sentence } from './failure.js';
import { endpoint } from './endpoint.js';
import { comparison, jobProgress, jobState, made, moment, pcmInfo, proof, sha256 } from './values.js';

/** What was rendered, or is to be, from one revision of an album. */
export const deliveryRecord = z.object({
  id: z.string(),
  albumId: z.string(),
  revision: z.int(),
  deliverable: deliverableSchema,
  createdAt: moment,
  /** Who asked for it; may be empty. */
  askedBy: z.string(),
  /** When its files were deleted; the record stays. */
  clearedAt: moment.nullable(),
  state: jobState,
  progress: jobProgress.nullable(),
  /** Why it failed. */
  ...sentence,
  /** null until it is rendered. */
  proof: proof.nullable(),
  /** Sent in place of a proof that the client already has. */
  proofKnown: z.boolean(),
  /** Which attempt has made the proof: another one has another. Empty for those of long ago. */
  attempt: z.string(),
  /** Laid against an earlier render of the same revision and settings; null where there was none. */
  compared: comparison.nullable(),
});
export type DeliveryRecord = z.output<typeof deliveryRecord>;

/** A numbered state of an album, without what it holds. */
export const revisionRecord = z.object({
  number: z.int(),
  createdAt: moment,
  /** What was at work when it was numbered; null where that was not noted. */
  made: made.nullable(),
});
export type RevisionRecord = z.output<typeof revisionRecord>;

/** A revision with all that is needed to lay it out, whatever the album has become since. */
export const revision = z.object({
  album: albumSchema,
  /** The day on which it was numbered, YYYY-MM-DD. */
  day: z.string(),
  masters: z.record(sha256, pcmInfo),
});
export type Revision = z.output<typeof revision>;

export const noteText = z.string().max(4000);
/** A note on a rendered file. */
export const noteRecord = z.object({
  id: z.string(),
  /** The file. */
  path: z.string(),
  /** From its start. */
  seconds: z.number(),
  text: z.string(),
  /** Author; empty for the first key until it is named. */
  author: z.string(),
  createdAt: moment,
  /** Written by a listener: its text can't be changed. */
  fromListener: z.boolean(),
  /** When it was ticked off; null: it still stands. */
  metAt: moment.nullable(),
});
export type NoteRecord = z.output<typeof noteRecord>;

/** A listener's response. */
export const answerRecord = z.object({
  id: z.string(),
  /** Who. */
  name: z.string(),
  verdict: z.enum(['approved', 'change']),
  words: z.string(),
  at: moment,
  /** What was listened to, by content. */
  files: answerSchema.shape.files,
});
export type AnswerRecord = z.output<typeof answerRecord>;

/** A render that waits or is at work, of any album. */
export const queuedRender = deliveryRecord
  .pick({
    id: true,
    albumId: true,
    revision: true,
    deliverable: true,
    askedBy: true,
    state: true,
    progress: true,
  })
  .extend({ title: z.string() });
export type QueuedRender = z.output<typeof queuedRender>;

export const DELIVERIES = {
  renderQueue: endpoint(
    'GET',
    '/renders',
    'any',
    'The render queue of all albums the caller may access, in order.',
    { answer: z.array(queuedRender) },
  ),
  deliveries: endpoint(
    'GET',
    '/albums/:id/deliveries',
    'album',
    'The deliveries of an album, the newest revision first.',
    {
      query: z.object({
        /** Attempts whose proofs the client already has, comma-separated. */
        known: z
          .string()
          .max(8000)
          .regex(/^[\d,-]*$/)
          .default(''),
      }),
      answer: z.array(deliveryRecord),
    },
  ),
  orderRenders: endpoint(
    'POST',
    '/albums/:id/deliveries',
    'album',
    'Creates a revision and renders deliverables from it.',
    {
      status: 202,
      body: z.strictObject({
        /** Names; left out, all of the album's. */
        deliverables: z.array(z.string().max(200)).max(50).optional(),
        by: z.string().trim().max(200).default(''),
        /** Render an earlier revision once more instead of the album as it is. */
        revision: z.int().min(1).optional(),
      }),
      answer: z.array(deliveryRecord),
    },
  ),
  stopRender: endpoint('POST', '/deliveries/:id/stop', 'delivery', 'Stops a render.', { status: 202 }),
  retryRender: endpoint('POST', '/deliveries/:id/retry', 'delivery', 'Renders a delivery again.', {
    status: 202,
  }),
  renderFirst: endpoint('POST', '/deliveries/:id/first', 'delivery', 'Moves a queued render to the front.', {
    status: 202,
  }),
  clearDelivery: endpoint(
    'POST',
    '/deliveries/:id/clear',
    'delivery',
    'Deletes the files of a delivery; its record is kept.',
    { right: 'delete' },
  ),
  deliveryFiles: endpoint('GET', '/deliveries/:id/files', 'delivery', 'The files of a delivery.', {
    answer: z.array(z.object({ path: z.string(), bytes: z.int() })),
  }),
  deliveryFile: endpoint('GET', '/deliveries/:id/files/:path', 'delivery', 'One file of a delivery.', {
    right: 'work',
    file: 'application/octet-stream',
  }),
  deliveryZip: endpoint(
    'GET',
    '/deliveries/:id/zip',
    'delivery',
    'All files of a delivery, or those of one part.',
    {
      right: 'work',
      query: z.object({ part: z.string().max(40).optional() }),
      file: 'application/zip',
    },
  ),
  listen: endpoint(
    'GET',
    '/deliveries/:id/listen/:path',
    'delivery',
    'A rendered file for playback, with ranges.',
    {
      file: 'audio/*',
    },
  ),
  heard: endpoint('GET', '/deliveries/:id/heard/:path', 'delivery', 'Sample format of a rendered file.', {
    answer: z.object({ info: pcmInfo }),
  }),
  heardAudio: endpoint(
    'GET',
    '/deliveries/:id/heard/:path/audio',
    'delivery',
    'The samples of a rendered file, with ranges: the file itself, or a decoded copy of a compressed one.',
    { file: 'application/octet-stream' },
  ),
  heardOutline: endpoint(
    'GET',
    '/deliveries/:id/heard/:path/outline',
    'delivery',
    'Waveform of a rendered file: peak and RMS per 1/75 s, 16-bit little-endian.',
    {
      query: z.object({ step: z.coerce.number().int().min(1).max(10_000).default(1) }),
      file: 'application/octet-stream',
    },
  ),
  revisions: endpoint(
    'GET',
    '/albums/:id/revisions',
    'album',
    'The revisions of an album, the newest first.',
    {
      answer: z.array(revisionRecord),
    },
  ),
  revision: endpoint(
    'GET',
    '/albums/:id/revisions/:number',
    'album',
    'A revision with facts about its masters.',
    {
      answer: revision,
    },
  ),
  notes: endpoint('GET', '/deliveries/:id/notes', 'delivery', 'Notes on a delivery, by file and time.', {
    answer: z.array(noteRecord),
  }),
  addNote: endpoint(
    'POST',
    '/deliveries/:id/notes',
    'delivery',
    'Adds a note at a moment of a rendered file.',
    {
      right: 'note',
      status: 201,
      body: z.strictObject({ path: z.string().min(1).max(500), seconds: z.number().min(0), text: noteText }),
      answer: noteRecord.pick({ id: true, path: true, seconds: true, text: true, author: true }),
    },
  ),
  answers: endpoint('GET', '/deliveries/:id/answers', 'delivery', 'Listener responses, newest first.', {
    answer: z.array(answerRecord),
  }),
  albumAnswers: endpoint(
    'GET',
    '/albums/:id/answers',
    'album',
    'Listener responses to the deliveries of an album, newest first.',
    {
      answer: z.array(answerRecord.extend({ deliveryId: z.string(), revision: z.int() })),
    },
  ),
  takeAnswer: endpoint(
    'POST',
    '/deliveries/:id/answers',
    'delivery',
    'Imports a response file with its notes. Its files must be those of the delivery.',
    { status: 201, body: answerSchema, answer: answerRecord },
  ),
  writeNote: endpoint('PUT', '/notes/:id', 'note', 'Changes the text of a note.', {
    right: 'note',
    body: z.strictObject({ text: noteText }),
  }),
  tickNote: endpoint('PUT', '/notes/:id/tick', 'note', 'Marks a note as done, or as open.', {
    body: z.strictObject({ met: z.boolean() }),
  }),
  removeNote: endpoint('DELETE', '/notes/:id', 'note', 'Deletes a note.', { right: 'note' }),
} as const;

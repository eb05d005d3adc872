import * as z from 'zod';
import { endpoint } from './endpoint.js';
import { answerRecord, noteRecord, noteText } from './deliveries.js';
import { moment, pcmInfo } from './values.js';

/** The longest that an address may be open. */
export const LONGEST_INVITATION_DAYS = 366;

/** A listener without a key, who opens one delivery by their own link. Its secret is sent only once. */
const invitationRecord = z.object({
  id: z.string(),
  deliveryId: z.string(),
  deliverable: z.string(),
  revision: z.int(),
  /** Who may listen. */
  name: z.string(),
  /** The same for each address that the same person gets. */
  listener: z.string(),
  hasPassword: z.boolean(),
  createdAt: moment,
  askedBy: z.string(),
  endsAt: moment,
  takenBackAt: moment.nullable(),
  /** When it was first opened; null: never yet. */
  openedAt: moment.nullable(),
  /** When the listener was there last. */
  seenAt: moment.nullable(),
});
export type InvitationRecord = z.output<typeof invitationRecord>;

const listeningTrack = z.object({
  number: z.int(),
  title: z.string(),
  /** Empty where it is that of the album. */
  performer: z.string(),
  /** Seconds from the start of its row. */
  start: z.number(),
  seconds: z.number(),
  /** Silence until the next track; below zero: they overlap; null: none follows. */
  gap: z.number().nullable(),
});
export type ListeningTrack = z.output<typeof listeningTrack>;

const listeningRow = z.object({
  name: z.string(),
  files: z.array(z.object({ path: z.string(), seconds: z.number() })),
  tracks: z.array(listeningTrack),
});
export type ListeningRow = z.output<typeof listeningRow>;

/** What became of something that the listener had noted on another revision. */
const earlierNote = z.object({
  text: z.string(),
  met: z.boolean(),
  /** As it was called then. */
  track: z.object({ number: z.int(), title: z.string() }).nullable(),
  /** Where that is now; null: it is not here any more. */
  place: z.object({ row: z.int(), seconds: z.number() }).nullable(),
});

const listeningPage = z.object({
  /** Of the listener. */
  name: z.string(),
  endsAt: moment,
  title: z.string(),
  performer: z.string(),
  deliverable: z.string(),
  revision: z.int(),
  hasCover: z.boolean(),
  rows: z.array(listeningRow),
  /** The revisions that the listener had noted something on, the newest first. */
  earlier: z.array(z.object({ revision: z.int(), notes: z.array(earlierNote) })),
});
export type ListeningPageRecord = z.output<typeof listeningPage>;

const listenerNote = noteRecord.pick({ id: true, path: true, seconds: true, text: true });
export type ListenerNote = z.output<typeof listenerNote>;
const listenerAnswer = answerRecord.pick({ verdict: true, words: true, at: true });

/** Calls of a listener are below `/listening/:id`, and open nothing but what that one invitation is for. */
export const INVITATIONS = {
  invitations: endpoint('GET', '/albums/:id/invitations', 'album', 'Listeners, newest first.', {
    right: 'work',
    answer: z.array(invitationRecord),
  }),
  invite: endpoint('POST', '/deliveries/:id/invitations', 'delivery', 'Shares a delivery with a listener.', {
    status: 201,
    body: z.strictObject({
      name: z.string().trim().min(1, 'Enter the listener’s name.').max(200),
      /** The same as of an earlier invitation of the album: the listener sees what became of their notes. */
      listener: z.uuid().nullable().default(null),
      endsAt: moment,
      password: z
        .string()
        .min(4, 'A password needs at least four characters.')
        .max(200)
        .nullable()
        .default(null),
      by: z.string().trim().max(200).default(''),
    }),
    answer: z.object({ id: z.string(), secret: z.string() }),
  }),
  takeBackInvitation: endpoint('DELETE', '/invitations/:id', 'invitation', 'Revokes a listener’s link.'),
  signInListener: endpoint(
    'POST',
    '/listening/:id/session',
    'none',
    'Trades the secret of a link for a session.',
    {
      body: z.strictObject({
        secret: z.string().max(200),
        password: z.string().max(200).nullable().default(null),
      }),
      most: 2000,
    },
  ),
  listeningPage: endpoint('GET', '/listening/:id', 'listener', 'The page of a listener.', {
    answer: listeningPage,
  }),
  listeningCover: endpoint('GET', '/listening/:id/cover', 'listener', 'The cover.', { file: 'image/*' }),
  listeningHeard: endpoint(
    'GET',
    '/listening/:id/heard/:path',
    'listener',
    'Sample format of a rendered file.',
    { answer: z.object({ info: pcmInfo }) },
  ),
  listeningAudio: endpoint(
    'GET',
    '/listening/:id/heard/:path/audio',
    'listener',
    'The samples of a rendered file, with ranges.',
    { file: 'application/octet-stream' },
  ),
  listeningOutline: endpoint(
    'GET',
    '/listening/:id/heard/:path/outline',
    'listener',
    'Waveform of a rendered file, as for a delivery.',
    {
      query: z.object({ step: z.coerce.number().int().min(1).max(10_000).default(1) }),
      file: 'application/octet-stream',
    },
  ),
  listenerSaid: endpoint('GET', '/listening/:id/said', 'listener', 'The listener’s notes and responses.', {
    answer: z.object({ notes: z.array(listenerNote), answers: z.array(listenerAnswer) }),
  }),
  addListenerNote: endpoint('POST', '/listening/:id/notes', 'listener', 'Adds a note at a moment.', {
    right: 'note',
    status: 201,
    most: 50_000,
    body: z.strictObject({ path: z.string().min(1).max(500), seconds: z.number().min(0), text: noteText }),
    answer: listenerNote,
  }),
  writeListenerNote: endpoint(
    'PUT',
    '/listening/:id/notes/:note',
    'listener',
    'Changes the text of a note.',
    {
      right: 'note',
      most: 50_000,
      body: z.strictObject({ text: noteText }),
    },
  ),
  removeListenerNote: endpoint('DELETE', '/listening/:id/notes/:note', 'listener', 'Deletes a note.', {
    right: 'note',
  }),
  answerAsListener: endpoint(
    'POST',
    '/listening/:id/answers',
    'listener',
    'Approves, or requests a change.',
    {
      right: 'note',
      status: 201,
      most: 100_000,
      body: z.strictObject({ verdict: answerRecord.shape.verdict, words: z.string().max(10_000) }),
      answer: listenerAnswer,
    },
  ),
} as const;

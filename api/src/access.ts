import * as z from 'zod';
import { endpoint } from './endpoint.js';
import { moment } from './values.js';
import { role } from './rights.js';

const visitor = z.object({
  /** Of the key: `first`, or a UUID; it opens nothing. */
  id: z.string(),
  /** Name of the holder; empty for the first key until it is named. */
  name: z.string(),
  role,
  /** Whether other keys than the first have been handed out. */
  shared: z.boolean(),
  /** Whether this is the first key. */
  first: z.boolean(),
  /** Whether it is a key to all albums. */
  unlimited: z.boolean(),
});
export type Visitor = z.output<typeof visitor>;

const holder = z.string().trim().min(1, 'Enter the person’s name.').max(200);

/** A key that was handed out; the key itself is never told again. */
const keyRecord = z.object({
  id: z.string(),
  name: z.string(),
  role,
  /** Ids of the albums that it opens; null: all. */
  albums: z.array(z.string()).nullable(),
  createdAt: moment,
  /** When it was last used. */
  seenAt: moment.nullable(),
});
export type KeyRecord = z.output<typeof keyRecord>;

export const EVENT_KINDS = [
  'signed-in',
  'key-made',
  'key-taken-back',
  'uploaded',
  'rendered',
  'downloaded',
  'handed-over',
  'invited',
  'invitation-taken-back',
  'listened',
  'answered',
  'cleared',
  'deleted',
  'restored',
] as const;
const eventRecord = z.object({
  id: z.int(),
  at: moment,
  /** Who did it; empty for the first key, and for a visitor without one. */
  who: z.string(),
  /** The network address that it came from. */
  from: z.string(),
  what: z.enum(EVENT_KINDS),
  album: z.object({ id: z.string(), title: z.string() }).nullable(),
  /** A file, a deliverable, a name. */
  detail: z.string(),
  bytes: z.number().nullable(),
});
export type EventRecord = z.output<typeof eventRecord>;
/** The events before one of them, for the next page. */
const page = z.object({
  before: z.coerce.number().int().min(1).optional(),
  /** Of one kind alone. */
  what: z.enum(EVENT_KINDS).optional(),
});
const events = z.array(eventRecord);

export const ACCESS = {
  session: endpoint('GET', '/session', 'any', 'The current session.', { answer: visitor }),
  signIn: endpoint('POST', '/session', 'none', 'Trades a key for a session.', {
    body: z.strictObject({ key: z.string().max(200) }),
    most: 1000,
    answer: visitor,
  }),
  signOut: endpoint('DELETE', '/session', 'any', 'Ends the session.', { right: 'listen' }),
  keys: endpoint(
    'GET',
    '/keys',
    'any',
    'People with access, oldest first. A key limited to some albums sees only the keys it created.',
    {
      right: 'keys',
      answer: z.array(keyRecord),
    },
  ),
  makeKey: endpoint(
    'POST',
    '/keys',
    'any',
    'Creates a key for albums the caller may access. The secret is returned only once.',
    {
      right: 'keys',
      status: 201,
      body: z.strictObject({ name: holder, role, albums: z.array(z.uuid()).max(10_000).nullable() }),
      answer: z.object({ id: z.string(), key: z.string() }),
    },
  ),
  nameKey: endpoint('PUT', '/keys/:id', 'key', 'Renames the holder of a key.', {
    right: 'keys',
    body: z.strictObject({ name: holder }),
  }),
  takeBackKey: endpoint('DELETE', '/keys/:id', 'key', 'Revokes a key.', {
    right: 'keys',
  }),
  events: endpoint(
    'GET',
    '/events',
    'any',
    'Activity, newest first. A limited key sees only its own albums and actions.',
    {
      right: 'keys',
      query: page,
      answer: events,
    },
  ),
  albumEvents: endpoint('GET', '/albums/:id/events', 'album', 'Activity of an album.', {
    right: 'work',
    query: page,
    answer: events,
  }),
} as const;

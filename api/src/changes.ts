import * as z from 'zod';
import { endpoint } from './endpoint.js';

/** What can change under the eyes of a reader; each names what is to be asked for again. */
export const CHANGE_TOPICS = [
  'album',
  'masters',
  'imports',
  'sounds',
  'deliveries',
  'notes',
  'answers',
  'invitations',
  'handovers',
  'recipients',
  'storage',
] as const;
export type ChangeTopic = (typeof CHANGE_TOPICS)[number];

/** The data of one event of the channel, as JSON. */
export const change = z.object({
  topic: z.enum(CHANGE_TOPICS),
  /** The album concerned; null: none in particular. */
  album: z.string().nullable(),
  /** Of topic `album`: its version since. */
  version: z.int().nullable(),
});
export type Change = z.output<typeof change>;

/** The longest that the channel looks back, ms; an older Last-Event-ID is answered with `reset`. */
export const CHANGES_KEPT_MS = 3600_000;

export const CHANGES = {
  changes: endpoint(
    'GET',
    '/changes',
    'any',
    'Changes since an event. With `Accept: text/event-stream`, a stream of Server-Sent Events: `change` with data, and `reset` where events were missed. Resumes from Last-Event-ID.',
    {
      query: z.object({
        /** Begin with the changes of so many ms before now. */
        within: z.coerce.number().int().min(0).max(CHANGES_KEPT_MS).optional(),
        /** Begin behind this event, of which an earlier answer told: what Last-Event-ID says where a reader can’t set that header. */
        after: z.coerce.number().int().min(0).optional(),
      }),
      answer: z.object({
        /** The newest event, to ask for what comes after it. */
        last: z.int(),
        /** Events between `after` and now are not kept any more: anything may have changed. */
        missed: z.boolean(),
        changes: z.array(change),
      }),
    },
  ),
} as const;

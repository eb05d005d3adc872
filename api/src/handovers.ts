import * as z from 'zod';
import { sentence } from './failure.js';
import { endpoint } from './endpoint.js';
import { handoverStatus } from './handover-status.js';
import { writing } from './recipients/writing.js';
import { receiverKind } from './recipients/recipients.js';
import { jobProgress, jobState, moment } from './values.js';

/** A recipient. Its token is never sent again. */
const receiverRecord = z.object({
  id: z.string(),
  kind: receiverKind,
  name: z.string(),
  url: z.string(),
  /** It ships with Oiseau and does nothing in the world. */
  standIn: z.boolean(),
});
export type ReceiverRecord = z.output<typeof receiverRecord>;

/** Why a receiver did not take something, in its own words. */
export const refusalReason = z.object({
  code: z.string(),
  message: z.string(),
  file: z.string().optional(),
  field: z.string().optional(),
  track: z.int().optional(),
});
export type RefusalReason = z.output<typeof refusalReason>;

/** A disc that was read back, laid against its image. */
export const discReport = z.object({
  copy: z.int(),
  sectors: z.int(),
  audioDiffers: z.int(),
  firstDifference: z.int().nullable(),
  subcodeDiffers: z.int(),
  codes: z.array(z.string()),
  /** Whether its CD-Text is that of the image. */
  textIsSame: z.boolean(),
  isSame: z.boolean(),
});
export type DiscReportRecord = z.output<typeof discReport>;

/** What a receiver said last. */
export const told = z.object({
  /** Of the receiver: `received`, `checked`, `live`, `refused` … */
  state: z.string(),
  /** Nothing more will come. */
  final: z.boolean(),
  progress: z.number(),
  reasons: z.array(refusalReason),
  receipt: z.record(z.string(), z.unknown()).nullable(),
  /** Of discs: each copy as it was read back. */
  copies: z.array(discReport).default([]),
});
export type Told = z.output<typeof told>;

const handoverRecord = z.object({
  id: z.string(),
  deliveryId: z.string(),
  deliverable: z.string(),
  revision: z.int(),
  /** As it was called then. */
  receiver: z.object({ id: z.string(), name: z.string(), kind: receiverKind }),
  writing: writing.nullable(),
  createdAt: moment,
  askedBy: z.string(),
  status: handoverStatus,
  /** Of the job that sends it: part of `status`, kept for callers of before. */
  state: jobState,
  /** It was stopped to be gone on with. */
  paused: z.boolean(),
  progress: jobProgress.nullable(),
  /** Why it failed. */
  ...sentence,
  /** What keeps it from going on at the moment; it is tried again. */
  trouble: z.string().nullable(),
  told: told.nullable(),
  /** When everything had arrived. */
  sentAt: moment.nullable(),
  bytes: z.number(),
  /** SHA-256 over the list of sums of what was sent: two hand-overs of the same bytes have the same. */
  sums: z.string().nullable(),
});
export type HandoverRecord = z.output<typeof handoverRecord>;

const named = z.string().trim().min(1, 'Enter a name for the recipient.').max(100);
const address = z
  .url({ protocol: /^https?$/, error: 'The address must start with http:// or https://.' })
  .max(500);
const token = z.string().trim().min(1, 'Enter a token for the recipient.').max(1000);

export const HANDOVERS = {
  receivers: endpoint('GET', '/receivers', 'any', 'All recipients.', {
    right: 'work',
    answer: z.array(receiverRecord),
  }),
  addReceiver: endpoint('POST', '/receivers', 'any', 'Adds a recipient.', {
    right: 'keys',
    unlimited: true,
    status: 201,
    body: z.strictObject({ kind: receiverKind, name: named, url: address, token }),
    answer: receiverRecord,
  }),
  changeReceiver: endpoint(
    'PUT',
    '/receivers/:id',
    'receiver',
    'Changes a recipient. Without a token it keeps its current one.',
    {
      right: 'keys',
      unlimited: true,
      body: z.strictObject({ name: named, url: address, token: token.optional() }),
    },
  ),
  removeReceiver: endpoint(
    'DELETE',
    '/receivers/:id',
    'receiver',
    'Removes a recipient; the record of its deliveries is kept.',
    {
      right: 'keys',
      unlimited: true,
    },
  ),
  askReceiver: endpoint(
    'GET',
    '/receivers/:id/about',
    'receiver',
    'Asks a recipient for its capabilities and state.',
    {
      right: 'work',
      answer: z.object({
        /** null: it did not answer as it should. */
        about: z.record(z.string(), z.unknown()).nullable(),
        trouble: z.string().nullable(),
      }),
    },
  ),
  putMedium: endpoint(
    'PUT',
    '/receivers/:id/medium',
    'receiver',
    'Loads a blank disc into a simulated drive, or ejects it.',
    {
      body: z.strictObject({ kind: z.enum(['none', '74', '80']) }),
    },
  ),
  handovers: endpoint('GET', '/albums/:id/handovers', 'album', 'Deliveries sent, newest first.', {
    right: 'work',
    answer: z.array(handoverRecord),
  }),
  handOver: endpoint(
    'POST',
    '/deliveries/:id/handovers',
    'delivery',
    'Sends a verified delivery to a recipient.',
    {
      status: 201,
      body: z.strictObject({
        receiver: z.uuid(),
        by: z.string().trim().max(200).default(''),
        writing: writing.optional(),
      }),
      answer: z.object({ id: z.string() }),
    },
  ),
  pauseHandover: endpoint('POST', '/handovers/:id/pause', 'handover', 'Pauses sending.', {
    status: 202,
  }),
  stopHandover: endpoint('POST', '/handovers/:id/stop', 'handover', 'Stops sending.', {
    status: 202,
  }),
  resumeHandover: endpoint('POST', '/handovers/:id/resume', 'handover', 'Resumes sending, or tries again.', {
    status: 202,
  }),
} as const;

import * as z from 'zod';
import { sentence } from './failure.js';
import { endpoint } from './endpoint.js';
import { jobProgress, jobState, moment } from './values.js';

/** What came of a look over media, renders and database. */
export const verifyReport = z.object({
  /** Files that were read from end to end. */
  files: z.int(),
  bytes: z.int(),
  /** What is not as it was, in a sentence each; `healed`: it was put right on the spot. */
  faults: z.array(z.object({ words: z.string(), healed: z.boolean() })),
});
export type VerifyReport = z.output<typeof verifyReport>;

/** Kinds of what lies in the data folder. */
export const STORED_KINDS = [
  'masters',
  'decoded',
  'pictures',
  'renders',
  'uploads',
  'images',
  'database',
  'backups',
] as const;

/** Something that nothing uses any more; it goes after 30 days. */
const unusedFile = z.object({
  kind: z.enum(['master', 'picture']),
  name: z.string(),
  bytes: z.int(),
  since: moment,
  goesAt: moment,
});
export type UnusedFile = z.output<typeof unusedFile>;

const keeping = z.object({
  stored: z.array(z.object({ kind: z.enum(STORED_KINDS), files: z.int(), bytes: z.int() })),
  disk: z.object({ free: z.number(), total: z.number(), reserve: z.number() }),
  unused: z.array(unusedFile),
  /** Albums that were deleted; they go for good after 30 days. */
  bin: z.array(
    z.object({ id: z.string(), title: z.string(), deletedAt: moment, goesAt: moment, renderBytes: z.int() }),
  ),
  /** The last verification; null: never verified. */
  verified: z.object({ at: moment, report: verifyReport }).nullable(),
  /** The look that is under way, or that ended last. */
  verifying: z.object({ state: jobState, progress: jobProgress.nullable(), ...sentence }).nullable(),
});
export type Keeping = z.output<typeof keeping>;

/** What can be cleared before its time. */
export const CLEARABLE = ['unused', 'bin', 'passing'] as const;

/** One thing that is wrong at the moment, in a sentence. */
const health = z.object({
  ok: z.boolean(),
  /** What is wrong, the worst first. */
  troubles: z.array(z.string()),
  versions: z.object({
    oiseau: z.string(),
    node: z.string(),
    database: z.string(),
    ffmpeg: z.string().nullable(),
  }),
  /** Milliseconds that a real query took. */
  databaseMs: z.number(),
  workers: z.array(z.object({ name: z.string(), secondsAgo: z.number() })),
  queue: z.object({ queued: z.int(), running: z.int() }),
  disk: z.object({ free: z.number(), total: z.number(), reserve: z.number() }),
});
export type Health = z.output<typeof health>;

/** What lies where, what is looked after, and how everything is. */
export const KEEPING = {
  health: endpoint('GET', '/health', 'any', 'Health: database, workers, queue, disk, versions.', {
    answer: health,
  }),
  keeping: endpoint('GET', '/keeping', 'any', 'Storage: disk use, unused files, the last verification.', {
    right: 'keys',
    answer: keeping,
  }),
  verify: endpoint('POST', '/keeping/verify', 'any', 'Verifies every file and document in the background.', {
    right: 'keys',
    unlimited: true,
    status: 202,
  }),
  stopVerify: endpoint('POST', '/keeping/verify/stop', 'any', 'Stops the verification.', {
    right: 'keys',
    unlimited: true,
    status: 202,
  }),
  clear: endpoint('POST', '/keeping/clear', 'any', 'Deletes unused files, old uploads or the bin at once.', {
    right: 'keys',
    body: z.strictObject({ what: z.enum(CLEARABLE) }),
    answer: z.object({ files: z.int(), bytes: z.int() }),
  }),
} as const;

import * as z from 'zod';

/** Every status that a hand-over can have; exactly one at a time. */
export const handoverStatus = z.enum([
  /** Its job waits. */
  'queued',
  'uploading',
  /** The recipient is away or full; it is tried again. */
  'retrying',
  /** The recipient works on it: checks, measures, writes. */
  'processing',
  /** A drive waits for a blank disc. */
  'waiting-for-disc',
  /** A written disc is compared with its image. */
  'reading-back',
  'paused',
  'stopped',
  'failed',
  'refused',
  /** Accepted; the recipient still reports progress. */
  'accepted',
  /** Nothing more will come. */
  'completed',
]);
export type HandoverStatus = z.output<typeof handoverStatus>;

/** What is stored of a hand-over's progress, here and at the recipient. */
export interface HandoverFacts {
  /** Of the job that sends it. */
  readonly state: 'queued' | 'running' | 'done' | 'failed' | 'stopped';
  readonly paused: boolean;
  readonly progress: { readonly phase: string } | null;
  readonly told: { readonly state: string; readonly final: boolean } | null;
}

/** States in which a recipient has not accepted something. */
const REFUSED = ['refused', 'failed', 'cancelled'];

/** The one status that follows from all that is stored. */
export function statusOf({ state, paused, progress, told }: HandoverFacts): HandoverStatus {
  switch (state) {
    case 'queued':
      return 'queued';
    case 'running':
      return runningStatus(progress?.phase ?? 'send');
    case 'stopped':
      return paused ? 'paused' : 'stopped';
    case 'failed':
      return 'failed';
    case 'done':
      if (told && REFUSED.includes(told.state)) return 'refused';
      return told?.final ? 'completed' : 'accepted';
    default:
      return state satisfies never;
  }
}

/** @param phase of our own job, or the state that the recipient reported last */
function runningStatus(phase: string): HandoverStatus {
  if (phase === 'send') return 'uploading';
  if (phase === 'again') return 'retrying';
  if (phase === 'read') return 'reading-back';
  return phase === 'wants-medium' ? 'waiting-for-disc' : 'processing';
}

/** Whether a job of ours is still at work on it. */
export const isHandoverActive = (status: HandoverStatus): boolean =>
  ['queued', 'uploading', 'retrying', 'processing', 'waiting-for-disc', 'reading-back'].includes(status);

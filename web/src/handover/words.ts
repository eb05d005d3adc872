import {
  isHandoverActive,
  stateWords,
  type HandoverRecord,
  type HandoverStatus,
  type RefusalReason,
} from '@oiseau/api';
import { say, t } from '../ui/messages.js';

export type Mood = 'good' | 'bad' | 'busy' | 'still';

/** Our words for each status, and its mood; null: the recipient’s own state says more. */
const STATUSES: Readonly<Record<HandoverStatus, readonly [words: string | null, mood: Mood]>> = {
  queued: [t('queued'), 'still'],
  uploading: [t('uploading'), 'busy'],
  retrying: [t('trying again'), 'busy'],
  processing: [null, 'busy'],
  'waiting-for-disc': [t('waiting for a blank disc'), 'busy'],
  'reading-back': [t('reading back'), 'busy'],
  paused: [t('paused'), 'still'],
  stopped: [t('stopped'), 'still'],
  failed: [t('failed'), 'bad'],
  refused: [null, 'bad'],
  accepted: [null, 'busy'],
  completed: [null, 'good'],
};

/** The status of a hand-over in a few words. */
export function standing({ status, progress, told, receiver }: HandoverRecord): {
  words: string;
  mood: Mood;
} {
  const [words, mood] = STATUSES[status];
  const reported = (isHandoverActive(status) ? progress?.phase : told?.state) ?? '';
  return { words: words ?? say(stateWords(receiver.kind, reported)), mood };
}

const SLEEVE = /upc|isrc|title|performer|label|copyright|phonogram|release|language|cover|words|genre/i;
const SEQUENCE = /track-length|first-pause|marks|lead-out|length|tracks/i;

/** The step in which a refusal is mended; null: none of ours. */
export function stepToMend({ code, field = '' }: RefusalReason): 'sleeve' | 'sequence' | 'render' | null {
  if (SLEEVE.test(field) || SLEEVE.test(code)) return 'sleeve';
  if (SEQUENCE.test(code)) return 'sequence';
  if (/^(medium|ran-dry|bad-medium|wrong-medium|broken-off|cancelled|revision)$/.test(code)) return null;
  return 'render';
}

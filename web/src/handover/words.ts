import type { HandoverRecord, ReceiverKind, RefusalReason } from '@oiseau/api';

/** What each kind of receiver is called. */
export const KIND_WORDS: Readonly<Record<ReceiverKind, string>> = {
  drive: 'drive',
  plant: 'pressing plant',
  shop: 'shop',
  service: 'streaming service',
};

/** What a receiver says, in our words; one that is not here is told as it came. */
const TOLD: Readonly<Record<string, string>> = {
  receiving: 'being sent',
  received: 'arrived, being checked',
  waiting: 'waits its turn',
  checked: 'checked and taken',
  'in-production': 'in production',
  shipped: 'shipped',
  live: 'live',
  replaced: 'replaced by a newer revision',
  measuring: 'being measured',
  measured: 'taken',
  refused: 'refused',
  testing: 'trying it with the beam off',
  writing: 'writing',
  written: 'reading it back',
  'wants-medium': 'wants a blank disc',
  done: 'written and read back',
  failed: 'failed',
  cancelled: 'stopped',
};
/** Phases of our own side of it. */
const PHASES: Readonly<Record<string, string>> = {
  send: 'sending',
  again: 'tries again',
  read: 'reading it back',
};

export type Mood = 'good' | 'bad' | 'busy' | 'still';

const BAD = ['refused', 'failed', 'cancelled'];

/** How a hand-over stands, in a few words. */
export function standing({ state, paused, progress, told }: HandoverRecord): { words: string; mood: Mood } {
  if (state === 'queued') return { words: 'waits', mood: 'still' };
  if (state === 'running') {
    const phase = progress?.phase ?? 'send';
    return { words: PHASES[phase] ?? TOLD[phase] ?? phase, mood: 'busy' };
  }
  if (state === 'stopped') return { words: paused ? 'paused' : 'stopped', mood: 'still' };
  if (state === 'failed') return { words: 'failed', mood: 'bad' };
  const said = told?.state ?? '';
  return { words: TOLD[said] ?? said, mood: BAD.includes(said) ? 'bad' : told?.final ? 'good' : 'busy' };
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

import { stateWords, type HandoverRecord, type RefusalReason } from '@oiseau/api';

/** Phases of our own side of it. */
const PHASES: Readonly<Record<string, string>> = {
  send: 'sending',
  again: 'tries again',
  read: 'reading back',
};

export type Mood = 'good' | 'bad' | 'busy' | 'still';

const BAD = ['refused', 'failed', 'cancelled'];

/** How a hand-over stands, in a few words. */
export function standing({ state, paused, progress, told, receiver }: HandoverRecord): {
  words: string;
  mood: Mood;
} {
  if (state === 'queued') return { words: 'waits', mood: 'still' };
  if (state === 'running') {
    const phase = progress?.phase ?? 'send';
    return { words: PHASES[phase] ?? stateWords(receiver.kind, phase), mood: 'busy' };
  }
  if (state === 'stopped') return { words: paused ? 'paused' : 'stopped', mood: 'still' };
  if (state === 'failed') return { words: 'failed', mood: 'bad' };
  const said = told?.state ?? '';
  return {
    words: stateWords(receiver.kind, said),
    mood: BAD.includes(said) ? 'bad' : told?.final ? 'good' : 'busy',
  };
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

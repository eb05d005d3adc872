import {
  beatLength,
  editTrack,
  parseTime,
  setGap,
  setOut,
  startAt,
  ticksToSeconds,
  trackAtIndex,
  trimIn,
  type Album,
  type Layout,
  type MasterFacts,
  type Ticks,
} from '@oiseau/core';
import { formatDb } from '../ui/format.js';
import { timeFault } from './bench/TimeField.js';

/** Where a field stands: what its text may refer to. */
export interface FieldPlace {
  /** Ticks of a beat of the song before, where it has a tempo. */
  readonly beat: number | undefined;
  /** It stands before everything that sounds. */
  readonly isFirst: boolean;
}

/** What an edit is computed from. */
export interface Ground {
  readonly layout: Layout;
  readonly facts: ReadonlyMap<string, MasterFacts>;
}

interface LedgerFieldRule {
  /** As in “gap before 5 tracks → 2 s”. */
  readonly what: string;
  readonly fault: (text: string, place: FieldPlace) => string | undefined;
  /** The album after a text without fault was typed for one track. */
  readonly change: (album: Album, index: number, text: string, place: FieldPlace, ground: Ground) => Album;
}

/** A day is longer than any disc: a slip of the keyboard, not a gap. */
const LONGEST_GAP_S = 86_400;

function gapFault(text: string, { beat, isFirst }: FieldPlace): string | undefined {
  const gap = parseTime(text, beat);
  if (gap === undefined) return timeFault(text, beat ?? null);
  if (isFirst && gap < 0) return 'Nothing stands before the first pause.';
  return Math.abs(ticksToSeconds(gap)) > LONGEST_GAP_S ? 'That is longer than a day.' : undefined;
}

/** Decibels as typed: `-1.5`, `−1,5 dB`, `+2`. */
export function gainOf(text: string): number | undefined {
  const found = /^([+-]?\d+(?:\.\d+)?)\s*(?:dB)?$/i.exec(text.trim().replace(/[−–]/, '-').replace(',', '.'));
  const gain = Number(found?.[1]);
  return found && gain >= -48 && gain <= 24 ? gain : undefined;
}

/** A field that takes a time. */
const timed = (
  what: string,
  change: (album: Album, index: number, to: Ticks, ground: Ground) => Album,
  fault: LedgerFieldRule['fault'] = (text) => timeFault(text),
): LedgerFieldRule => ({
  what,
  fault,
  change: (album, index, text, { beat }, ground) => {
    const to = parseTime(text, beat);
    return to === undefined ? album : change(album, index, to, ground);
  },
});

/** What can be typed into the ledger for several tracks at once. */
export const LEDGER_FIELDS = {
  gap: timed('gap before', setGap, gapFault),
  start: timed('start of', (album, index, to, { layout }) => startAt(album, index, to, layout)),
  in: timed('in point of', (album, index, to, { facts }) => trimIn(album, index, to, facts)),
  out: timed('out point of', (album, index, to, { facts }) => setOut(album, index, to, facts)),
  gain: {
    what: 'gain of',
    fault: (text) => (gainOf(text) === undefined ? 'Decibels from −48 to 24.' : undefined),
    change: (album, index, text) => {
      const track = trackAtIndex(album, index);
      return track ? editTrack(album, track.id, { gainDb: gainOf(text) ?? track.gainDb }) : album;
    },
  },
} satisfies Record<string, LedgerFieldRule>;

export type LedgerFieldName = keyof typeof LEDGER_FIELDS;

/** The text of a field as it is written in the list of undo. */
export const typedWords = (field: LedgerFieldName, text: string): string =>
  field === 'gain' ? `${formatDb(gainOf(text) ?? 0)} dB` : text.trim();

export function fieldPlace(album: Album, index: number): FieldPlace {
  const tempo = trackAtIndex(album, index - 1)?.tempo;
  return { beat: tempo ? beatLength(tempo) : undefined, isFirst: index === (album.hidden ? -1 : 0) };
}

/** The album after a text was typed for some tracks: each understands it by its own place, so that “2 beats” are of the song before it. */
export function typed(
  album: Album,
  indexes: readonly number[],
  field: LedgerFieldName,
  text: string,
  ground: Ground,
): Album {
  const rule: LedgerFieldRule = LEDGER_FIELDS[field];
  return indexes.reduce(
    (changed, index) => rule.change(changed, index, text, fieldPlace(album, index), ground),
    album,
  );
}

import { beatLength, songBefore, type Album, type MasterFactsByKey } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { editRegion, setGap, setOut, startAt, trimIn } from '@oiseau/album/edits';
import { parseTime, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { formatDb } from '../ui/format.js';
import { timeFault } from './bench/TimeField.js';
import { t } from '../ui/messages.js';

/** Where a field stands: what its text may refer to. */
export interface FieldPlace {
  /** Ticks of a beat of the song before, where it has a tempo. */
  readonly beat: number | undefined;
  /** It stands before everything that sounds. */
  readonly isFirst: boolean;
}

/** What an edit is computed from. */
export interface Ground {
  readonly part: Part;
  readonly facts: MasterFactsByKey;
}

interface TrackFieldRule {
  /** For the edit history: `gap before 5 tracks → 2 s` */ readonly changed: (
    count: number,
    to: string,
  ) => string;
  readonly fault: (text: string, place: FieldPlace) => string | undefined;
  /** The album after a text without fault was typed for one song. */
  readonly change: (album: Album, id: string, text: string, place: FieldPlace, ground: Ground) => Album;
}

/** A day is longer than any disc: a slip of the keyboard, not a gap. */
const LONGEST_GAP_S = 86_400;

function gapFault(text: string, { beat, isFirst }: FieldPlace): string | undefined {
  const gap = parseTime(text, beat);
  if (gap === undefined) return timeFault(text, beat ?? null);
  if (isFirst && gap < 0) return t('There is no previous track.');
  return Math.abs(ticksToSeconds(gap)) > LONGEST_GAP_S ? t('Enter less than 24 hours.') : undefined;
}

/** Decibels as typed: `-1.5`, `−1,5 dB`, `+2`. */
export function gainOf(text: string): number | undefined {
  const found = /^([+-]?\d+(?:\.\d+)?)\s*(?:dB)?$/i.exec(text.trim().replace(/[−–]/, '-').replace(',', '.'));
  const gain = Number(found?.[1]);
  return found && gain >= -48 && gain <= 24 ? gain : undefined;
}

/** A field that takes a time. */
const timed = (
  changed: TrackFieldRule['changed'],
  change: (album: Album, id: string, to: Ticks, ground: Ground) => Album,
  fault: TrackFieldRule['fault'] = (text) => timeFault(text),
): TrackFieldRule => ({
  changed,
  fault,
  change: (album, id, text, { beat }, ground) => {
    const to = parseTime(text, beat);
    return to === undefined ? album : change(album, id, to, ground);
  },
});

/** What can be typed into the track table for several tracks at once. */
export const TRACK_FIELDS = {
  gap: timed((count, to) => t('gap before {count} tracks → {to}', { count, to }), setGap, gapFault),
  start: timed(
    (count, to) => t('start of {count} tracks → {to}', { count, to }),
    (album, id, to, { part }) => startAt(album, id, to, part),
  ),
  in: timed(
    (count, to) => t('in point of {count} tracks → {to}', { count, to }),
    (album, id, to, { facts }) => trimIn(album, id, to, facts),
  ),
  out: timed(
    (count, to) => t('out point of {count} tracks → {to}', { count, to }),
    (album, id, to, { facts }) => setOut(album, id, to, facts),
  ),
  gain: {
    changed: (count, to) => t('gain of {count} tracks → {to}', { count, to }),
    fault: (text) => (gainOf(text) === undefined ? t('Enter a gain from −48 to 24 dB.') : undefined),
    change: (album, id, text) => {
      const gainDb = gainOf(text);
      return gainDb === undefined ? album : editRegion(album, id, { gainDb });
    },
  },
} satisfies Record<string, TrackFieldRule>;

export type TrackFieldName = keyof typeof TRACK_FIELDS;

/** The text of a field as it is written in the list of undo. */
export const typedWords = (field: TrackFieldName, text: string): string =>
  field === 'gain' ? t('{level} dB', { level: formatDb(gainOf(text) ?? 0) }) : text.trim();

export function fieldPlace(album: Album, id: string): FieldPlace {
  const tempo = songBefore(album, id)?.marks.tempo;
  return {
    beat: tempo ? beatLength(tempo) : undefined,
    isFirst: album.songs[0]?.id === id || album.parts.some(({ first }) => first === id),
  };
}

/** The album after a text was typed for some songs: each understands it by its own place, so that “2 beats” are of the song before it. */
export function typed(
  album: Album,
  ids: readonly string[],
  field: TrackFieldName,
  text: string,
  ground: Ground,
): Album {
  const rule: TrackFieldRule = TRACK_FIELDS[field];
  return ids.reduce((changed, id) => rule.change(changed, id, text, fieldPlace(album, id), ground), album);
}

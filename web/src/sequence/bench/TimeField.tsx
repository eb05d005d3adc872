import { framesToTicks, frames, parseTime, ticks, type Ticks } from '@oiseau/audio/time';
import { DraftField } from '../../ui/DraftField.js';
import { t } from '../../ui/messages.js';

/** Ticks of a beat, where times may be counted in beats; null: the song before has no tempo yet. */
type BeatInHand = number | null;

/** What can be typed for a time. */
const formsOf = (beat?: BeatInHand): string =>
  beat === undefined
    ? t('Seconds, 250 ms, 1:02.5 or MM:SS:FF')
    : t('Seconds, 250 ms, 1:02.5, MM:SS:FF or “2 beats”');

/** What is wrong with a text that should be a time; undefined when it is one. */
export function timeFault(text: string, beat?: BeatInHand): string | undefined {
  if (parseTime(text, beat ?? undefined) !== undefined) return undefined;
  const needsTempo = beat === null && parseTime(text, 1) !== undefined;
  return needsTempo ? t('The previous track has no tempo yet.') : `${formsOf(beat)}.`;
}

/** A time in a field of the Bench: typed, or moved by ↑ and ↓ a frame of the disc at a time. */
export function TimeField({
  label,
  value,
  time,
  beat,
  plain = false,
  onCommit,
}: {
  label: string;
  value: string;
  /** The value itself; without it the arrow keys do nothing. */
  time?: Ticks;
  /** Where it may be counted in beats. */
  beat?: BeatInHand | undefined;
  /** Without its name beside it. */
  plain?: boolean;
  /** @param mergeKey for steps by the arrow keys, which are undone together */
  onCommit: (time: Ticks, mergeKey?: string) => void;
}) {
  const field = (
    <DraftField
      label={label}
      className="form-control-sm num"
      title={t('{formsOf}; ↑ ↓ by a frame, with Shift by ten', { formsOf: formsOf(beat) })}
      value={value}
      fault={(text) => (text === value ? undefined : timeFault(text, beat))}
      onCommit={(text) => {
        const typed = parseTime(text, beat ?? undefined);
        if (typed !== undefined) onCommit(typed);
      }}
      onStep={
        time === undefined
          ? undefined
          : (by) => onCommit(ticks(time + Math.sign(by) * framesToTicks(frames(Math.abs(by)))), label)
      }
    />
  );
  if (plain) return field;
  return (
    <label className="bench-field">
      <span>{label}</span>
      {field}
    </label>
  );
}

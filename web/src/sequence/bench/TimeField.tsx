import { framesToTicks, frames, parseTime, ticks, type Ticks } from '@oiseau/core';
import { DraftField } from '../../ui/DraftField.js';

const FORMS = 'Seconds, 250 ms, 1:02.5 or MM:SS:FF';

/** What is wrong with a text that should be a time; undefined when it is one. */
export function timeFault(text: string, beat?: number): string | undefined {
  if (parseTime(text, beat) !== undefined) return undefined;
  const needsTempo = beat === undefined && parseTime(text, 1) !== undefined;
  return needsTempo ? 'The song before has no tempo yet.' : `${FORMS}, or “2 beats”.`;
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
  /** Ticks of a beat, where beats may be typed. */
  beat?: number | undefined;
  /** Without its name beside it. */
  plain?: boolean;
  /** @param mergeKey for steps by the arrow keys, which are undone together */
  onCommit: (time: Ticks, mergeKey?: string) => void;
}) {
  const field = (
    <DraftField
      label={label}
      className="form-control-sm num"
      title={`${FORMS}${beat === undefined ? '' : ', or “2 beats”'}; ↑ ↓ by a frame, with Shift by ten`}
      value={value}
      fault={(text) => (text === value ? undefined : timeFault(text, beat))}
      onCommit={(text) => {
        const typed = parseTime(text, beat);
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

import { DraftField } from '../ui/DraftField.js';
import { usePointerDrag } from '../ui/drag.js';
import { t } from '../ui/messages.js';
import { formatPlain } from '../ui/format.js';

/** A figure of a stage: typed, stepped by ↑ and ↓, or dragged up and down by its name. */
export function Figure({
  label,
  unit,
  value,
  least,
  most,
  step,
  logarithmic = false,
  shown = (of) => `${formatPlain(of)} ${unit}`.trim(),
  read = (text) => Number(text.replace(unit, '').replace('−', '-').replace(',', '.').trim() || 'none'),
  disabled = false,
  onDrag,
  onDrop,
  onTakeBack,
  onChange,
}: {
  label: string;
  unit: string;
  value: number;
  least: number;
  most: number;
  /** What ↑ adds, or (logarithmic) by what share it grows. */
  step: number;
  logarithmic?: boolean;
  shown?: (value: number) => string;
  read?: (text: string) => number;
  disabled?: boolean;
  onDrag: (value: number) => void;
  onDrop: () => void;
  onTakeBack: () => void;
  onChange: (value: number) => void;
}) {
  const moved = (from: number, steps: number): number => {
    const to = logarithmic ? from * (1 + step) ** steps : from + step * steps;
    const kept = Math.max(least, Math.min(most, to));
    return logarithmic ? Number(kept.toPrecision(3)) : Math.round(kept / step) * step;
  };
  const tidied = (of: number): number => Number(of.toFixed(3));
  const drag = usePointerDrag<number, HTMLElement>({
    grab: () => (disabled ? null : value),
    move: (from, by) => onDrag(tidied(moved(from, Math.round(-by.y / 3)))),
    drop: onDrop,
    takeBack: onTakeBack,
  });
  return (
    <label className="figure">
      <span className="figure-name" title={disabled ? undefined : t('Drag up or down')} {...drag}>
        {label}
      </span>
      <DraftField
        label={label}
        className="form-control-sm num"
        disabled={disabled}
        value={shown(value)}
        fault={(text) =>
          read(text) >= least && read(text) <= most
            ? undefined
            : t('Enter a value from {least} to {most} {unit}.', {
                least: formatPlain(least),
                most,
                unit,
              })
        }
        onCommit={(text) => onChange(read(text))}
        onStep={(by) => onChange(tidied(moved(value, by)))}
      />
    </label>
  );
}

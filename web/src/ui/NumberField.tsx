import { DraftField } from './DraftField.js';
import { t } from './messages.js';
import { formatPlain } from './format.js';

/** A number in its unit, typed; outside its range it is refused with the range. */
export function NumberField({
  label,
  unit,
  value,
  least,
  most,
  onChange,
}: {
  label: string;
  unit: string;
  value: number;
  least: number;
  most: number;
  onChange: (value: number) => void;
}) {
  const read = (text: string): number =>
    Number(text.replace(unit, '').replace('−', '-').replace(',', '.').trim() || 'none');
  const shown = `${formatPlain(value)} ${unit}`;
  return (
    <label className="number-field">
      <span>{label}</span>
      <DraftField
        label={label}
        className="form-control-sm num"
        value={shown}
        fault={(text) =>
          read(text) >= least && read(text) <= most
            ? undefined
            : t('Enter a value from {least} to {most} {unit}.', { least, most, unit })
        }
        onCommit={(text) => onChange(read(text))}
      />
    </label>
  );
}

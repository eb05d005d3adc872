import { parseTime, ticksToSeconds } from '@oiseau/audio/time';
import type { Deliverable } from '@oiseau/album/model';
import { DraftField } from '../ui/DraftField.js';
import { t } from '../ui/messages.js';

type Continuous = Extract<Deliverable, { kind: 'continuous' }>;
type Place = Continuous['from'];

const MARK = /^(?:track\s*)?([1-9]\d?(?:\.\d\d?)?)$/i;

/** A mark as people name it (“track 3”, “track 3.2”), or a time. */
const placeText = (place: Place): string =>
  place === null ? '' : typeof place === 'number' ? t('{place} s', { place }) : t('track {place}', { place });

/** Reads “track 3”, “track 3.2” or a time from the start of track 1; undefined when it is neither. */
function readPlace(text: string): Place | undefined {
  if (text.trim() === '') return null;
  const mark = /^track/i.test(text.trim()) ? MARK.exec(text.trim())?.[1] : undefined;
  if (mark) return mark;
  const time = parseTime(text);
  return time !== undefined && time >= 0 ? ticksToSeconds(time) : undefined;
}

const fault = (text: string): string | undefined =>
  readPlace(text) === undefined ? t('A mark (track 3, track 3.2) or a time (2:30, 95 s).') : undefined;

/** Where a continuous file begins and ends. */
export function SectionFields({
  deliverable,
  onChange,
}: {
  deliverable: Continuous;
  onChange: (deliverable: Deliverable) => void;
}) {
  const field = (of: 'from' | 'to', label: string, placeholder: string) => (
    <label className="setting">
      <span>{label}</span>
      <DraftField
        label={label}
        className="form-control-sm"
        value={placeText(deliverable[of])}
        placeholder={placeholder}
        fault={fault}
        onCommit={(text) => {
          const place = readPlace(text);
          if (place !== undefined) onChange({ ...deliverable, [of]: place });
        }}
      />
    </label>
  );
  return (
    <>
      {field('from', t('From'), t('the start of track 1'))}
      {field('to', t('To'), t('the end of the last track'))}
      <p className="setting-note">
        {t(
          'A mark (track 3, track 3.2) or a time from the start of track 1 (2:30). Leave both empty for the whole album.',
        )}
      </p>
    </>
  );
}

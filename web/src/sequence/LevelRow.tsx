import type { LimiterForecast, TrackLevel } from '@oiseau/album/edits';
import { Form } from 'react-bootstrap';
import { usePointerDrag } from '../ui/drag.js';
import { DraftField } from '../ui/DraftField.js';
import { formatDb } from '../ui/format.js';
import { gainOf } from './track-fields.js';
import { t } from '../ui/messages.js';

/** The picture of levels reaches from here up to full scale, in dB. */
const FLOOR_DB = -40;

/** A drag of a level moves its gain by tenths of a decibel, within what a gain may be. */
const draggedGain = (from: number, pixels: number, width: number): number =>
  Math.max(-48, Math.min(24, Math.round(10 * (from - (pixels / width) * FLOOR_DB)) / 10));

/** A level that is dragged sideways: the gain follows, and Escape takes it back; the dialog stays. */
const useLevelDrag = (
  gainDb: number,
  onDraft: (gain: number | null) => void,
  onGain: (gain: number) => void,
) =>
  usePointerDrag<{ readonly from: number; to: number }, HTMLElement>({
    grab: () => ({ from: gainDb, to: gainDb }),
    move: (grip, by, { currentTarget }) => {
      grip.to = draggedGain(grip.from, by.x, currentTarget.clientWidth);
      onDraft(grip.to);
    },
    drop: ({ to }) => onGain(to),
    takeBack: () => onDraft(null),
  });

export const levelShare = (db: number | null): number =>
  db === null ? 0 : Math.max(0, Math.min(100, 100 * (1 - db / FLOOR_DB)));

export function LevelRow({
  number,
  title,
  level,
  gain,
  forecast,
  limited,
  onLimit,
  onDraft,
  onGain,
}: {
  number: number;
  title: string;
  level: TrackLevel;
  /** That would match it. */
  gain: number;
  /** What a limiter would do, where its peaks keep it from being as loud; null: they do not. */
  forecast: LimiterForecast | null;
  /** One is to be set. */
  limited: boolean;
  onLimit: (limited: boolean) => void;
  onDraft: (gainDb: number | null) => void;
  onGain: (gainDb: number) => void;
}) {
  const { integratedLufs, truePeakDbtp, gainDb } = level;
  const withGain = (value: number | null, by: number): number | null => (value === null ? null : value + by);
  const peak = withGain(truePeakDbtp, gainDb);
  const drag = useLevelDrag(gainDb, onDraft, onGain);
  return (
    <tr>
      <td className="num">{number}</td>
      <td className="name">
        {title || t('Untitled')}
        {forecast && (
          <Form.Check
            id={`limit-${number}`}
            className="limit-offer"
            checked={limited}
            onChange={({ target }) => onLimit(target.checked)}
            label={t('Limiter: up to {level} dB, {times}×', {
              level: formatDb(forecast.mostDb),
              times: forecast.times,
            })}
          />
        )}
      </td>
      <td className="picture" title={t('Drag sideways to change the gain')} {...drag}>
        <span className="level-now" style={{ width: `${levelShare(withGain(integratedLufs, gainDb))}%` }} />
        <span className="level-then" style={{ left: `${levelShare(withGain(integratedLufs, gain))}%` }} />
        <span className="level-peak" style={{ left: `${levelShare(withGain(truePeakDbtp, gain))}%` }} />
      </td>
      <td className="num">{formatDb(withGain(integratedLufs, gainDb))} LUFS</td>
      <td className={peak !== null && peak > 0 ? 'num text-danger' : 'num'}>
        {peak !== null && peak > 0
          ? t('{peak} dBTP, over', { peak: formatDb(peak, 1, 0) })
          : `${formatDb(peak, 1, 0)} dBTP`}
      </td>
      <td className="num">
        <DraftField
          label={t('Gain of track {number}', { number })}
          className="plain num"
          value={t('{level} dB', { level: formatDb(gainDb) })}
          fault={(text) => (gainOf(text) === undefined ? t('Enter a gain from −48 to 24 dB.') : undefined)}
          onCommit={(text) => onGain(gainOf(text) ?? gainDb)}
          onStep={(by) => onGain(Math.round(10 * gainDb + by) / 10)}
        />
      </td>
      <td className="num">{gain === gainDb ? '' : <strong>{formatDb(gain)} dB</strong>}</td>
    </tr>
  );
}

import { isInteger } from '@oiseau/audio/pcm';
import type { MasterRecord } from '@oiseau/api';
import { formatDb, formatPlace } from '../ui/format.js';
import { t } from '../ui/messages.js';

const TRACES = { yes: t('dithered'), no: t('not dithered'), unclear: t('dither unclear') } as const;

/** Everything that was measured of a master, in one row of figures. */
export function Figures({ master: { info, measurement } }: { master: MasterRecord }) {
  if (!measurement) return null;
  const { samplePeakAt, dcLeft, dcRight, bitsUsed, ditherTrace } = measurement;
  const percent = (value: number): string => formatDb(100 * value, 2);
  const figures: readonly (readonly [name: string, value: string, unit: string, more?: string])[] = [
    [t('Loudness'), formatDb(measurement.integratedLufs), 'LUFS'],
    [t('Range'), formatDb(measurement.loudnessRangeLu), 'LU'],
    [t('Momentary'), formatDb(measurement.maxMomentaryLufs), 'LUFS', t('max')],
    [t('Short-term'), formatDb(measurement.maxShortTermLufs), 'LUFS', t('max')],
    [t('True peak'), formatDb(measurement.truePeakDbtp, 2), 'dBTP'],
    [
      t('Sample peak'),
      formatDb(measurement.samplePeakDbfs, 2),
      'dBFS',
      t('at {at}', { at: formatPlace(samplePeakAt, info.rate) }),
    ],
    [t('Correlation'), formatDb(measurement.correlation, 2), ''],
    [
      t('DC offset'),
      t('{left} / {right}', { left: percent(dcLeft), right: percent(dcRight) }),
      '%',
      t('left / right'),
    ],
    [
      t('Bits in use'),
      bitsUsed === null ? (isInteger(info.format) ? '–' : 'float') : String(bitsUsed),
      bitsUsed === null ? '' : 'bit',
      TRACES[ditherTrace],
    ],
  ];
  return (
    <dl className="figures">
      {figures.map(([name, value, unit, more]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>
            {value} <span className="unit">{unit}</span>
            {more && <small className="text-secondary">{more}</small>}
          </dd>
        </div>
      ))}
    </dl>
  );
}

import { isInteger } from '@oiseau/audio/pcm';
import type { MasterRecord } from '@oiseau/api';
import { formatDb, formatPlace } from '../ui/format.js';

const TRACES = { yes: 'dithered', no: 'not dithered', unclear: 'dither unclear' } as const;

/** Everything that was measured of a master, in one row of figures. */
export function Figures({ master: { info, measurement } }: { master: MasterRecord }) {
  if (!measurement) return null;
  const { samplePeakAt, dcLeft, dcRight, bitsUsed, ditherTrace } = measurement;
  const percent = (value: number): string => formatDb(100 * value, 2);
  const figures: readonly (readonly [name: string, value: string, unit: string, more?: string])[] = [
    ['Loudness', formatDb(measurement.integratedLufs), 'LUFS'],
    ['Range', formatDb(measurement.loudnessRangeLu), 'LU'],
    ['Momentary', formatDb(measurement.maxMomentaryLufs), 'LUFS', 'max'],
    ['Short-term', formatDb(measurement.maxShortTermLufs), 'LUFS', 'max'],
    ['True peak', formatDb(measurement.truePeakDbtp, 2), 'dBTP'],
    [
      'Sample peak',
      formatDb(measurement.samplePeakDbfs, 2),
      'dBFS',
      `at ${formatPlace(samplePeakAt, info.rate)}`,
    ],
    ['Correlation', formatDb(measurement.correlation, 2), ''],
    ['DC offset', `${percent(dcLeft)} / ${percent(dcRight)}`, '%', 'left / right'],
    [
      'Bits in use',
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

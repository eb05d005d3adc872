import { masterTicks } from '@oiseau/album/model';
import { ticks } from '@oiseau/audio/time';
import { createColumnHelper, type ColumnDef } from '@tanstack/react-table';
import { clockText, formatDb, formatNumber, formatRate } from '../ui/format.js';
import type { MasterRecord } from '@oiseau/api';
import type { Version } from './versions.js';
import { wordWords } from './words.js';
import { t } from '../ui/messages.js';

/** A master with what the table says of it, worked out once for all its cells. */
export interface MasterEntry {
  readonly master: MasterRecord;
  readonly version: Version | undefined;
  /** What is doubtful, in words, the gravest first. */
  readonly doubts: readonly string[];
  /** The songs that play it, in words. */
  readonly playedBy: readonly string[];
}

const column = createColumnHelper<MasterEntry>();

type Figure = (master: MasterRecord) => number | null | undefined;

/** A column of figures: sorted by the figure, shown in its unit; a dash where there is none yet. */
const figure = (
  id: string,
  header: string,
  of: Figure,
  show: (value: number) => string,
): ColumnDef<MasterEntry, number | undefined> =>
  column.accessor(({ master }) => of(master) ?? undefined, {
    id,
    header,
    cell: ({ getValue }) => {
      const value = getValue();
      return value === undefined ? '–' : show(value);
    },
    sortUndefined: 'last',
    meta: { numeric: true },
  });

const unit =
  (name: string, decimals = 1) =>
  (value: number) =>
    `${formatDb(value, decimals)} ${name}`;
const seconds = (value: number): string => t('{seconds} s', { seconds: formatNumber(value, 2) });
const edge = (master: MasterRecord, which: 'start' | 'end'): number | undefined => {
  const { rate, length } = master.info;
  const at = master.measurement?.edges[0]?.[which];
  if (at == null) return undefined;
  return (which === 'start' ? at : length - at) / rate;
};

/** Every figure that the table can show, in the order in which it shows them. */
export const FIGURES: readonly ColumnDef<MasterEntry, number | undefined>[] = [
  figure('rate', t('Sample rate'), ({ info }) => info.rate, formatRate),
  column.accessor(({ master }) => master.info.validBits as number | undefined, {
    id: 'word',
    header: t('Bit depth'),
    cell: ({ row }) => wordWords(row.original.master),
    meta: { numeric: true },
  }),
  figure(
    'length',
    t('Length'),
    ({ info }) => masterTicks(info),
    (value) => clockText(ticks(value), 1),
  ),
  figure('loudness', t('Loudness'), ({ measurement }) => measurement?.integratedLufs, unit('LUFS')),
  figure('truePeak', t('True peak'), ({ measurement }) => measurement?.truePeakDbtp, unit('dBTP')),
  figure('samplePeak', t('Sample peak'), ({ measurement }) => measurement?.samplePeakDbfs, unit('dBFS', 2)),
  figure('range', t('Range'), ({ measurement }) => measurement?.loudnessRangeLu, unit('LU')),
  figure('momentary', t('Max momentary'), ({ measurement }) => measurement?.maxMomentaryLufs, unit('LUFS')),
  figure('shortTerm', t('Max short-term'), ({ measurement }) => measurement?.maxShortTermLufs, unit('LUFS')),
  figure(
    'correlation',
    t('Correlation'),
    ({ measurement }) => measurement?.correlation,
    (value) => formatDb(value, 2),
  ),
  figure(
    'bits',
    t('Bits in use'),
    ({ measurement }) => measurement?.bitsUsed,
    (value) => t('{bits} bit', { bits: value }),
  ),
  figure('head', t('Leading silence'), (master) => edge(master, 'start'), seconds),
  figure('tail', t('Trailing silence'), (master) => edge(master, 'end'), seconds),
];

/** What most people look at first; the others can be added. */
export const SHOWN_AT_FIRST: readonly string[] = ['rate', 'word', 'length', 'loudness', 'truePeak'];

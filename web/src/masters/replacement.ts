import { formatClock, ticks } from '@oiseau/audio/time';
import { masterTicks } from '@oiseau/album/model';
import type { MasterRecord } from '@oiseau/api';
import { formatDb, formatRate } from '../ui/format.js';
import { formWords, wordWords } from './words.js';

/** One line of the comparison of two versions; `difference` is null where they are alike. */
export interface ReplacementRow {
  readonly name: string;
  readonly older: string;
  readonly newer: string;
  readonly difference: string | null;
}

/** Inaudible differences in level, dB. */
const ALIKE_DB = 0.05;

/** What a person must know before a newer file takes the place of an older one. */
export function replacementRows(older: MasterRecord, newer: MasterRecord): ReplacementRow[] {
  const length = ticks(masterTicks(newer.info) - masterTicks(older.info));
  const level = (
    name: string,
    unit: string,
    of: (master: MasterRecord) => number | null | undefined,
    [more, less]: readonly [string, string],
  ): ReplacementRow => {
    const [before, after] = [of(older) ?? null, of(newer) ?? null];
    const by = before !== null && after !== null ? after - before : null;
    const alike = by === null ? before === after : Math.abs(by) < ALIKE_DB;
    return {
      name,
      older: `${formatDb(before)} ${unit}`,
      newer: `${formatDb(after)} ${unit}`,
      difference: alike
        ? null
        : by === null
          ? 'one of them is silent'
          : `${formatDb(Math.abs(by))} dB ${by > 0 ? more : less}`,
    };
  };
  const words = (name: string, of: (master: MasterRecord) => string): ReplacementRow => ({
    name,
    older: of(older),
    newer: of(newer),
    difference: of(older) === of(newer) ? null : 'different',
  });
  return [
    {
      name: 'Length',
      older: formatClock(masterTicks(older.info), 3),
      newer: formatClock(masterTicks(newer.info), 3),
      difference:
        length === 0
          ? null
          : `${formatClock(ticks(Math.abs(length)), 3)} ${length > 0 ? 'longer' : 'shorter'}`,
    },
    level('Loudness', 'LUFS', ({ measurement }) => measurement?.integratedLufs, ['louder', 'quieter']),
    level('True peak', 'dBTP', ({ measurement }) => measurement?.truePeakDbtp, ['higher', 'lower']),
    words('Clipped runs', ({ measurement }) => String(measurement?.clippedRuns ?? '–')),
    words('Sample rate', ({ info }) => formatRate(info.rate)),
    words('Bit depth', wordWords),
    words('Format', formWords),
  ];
}

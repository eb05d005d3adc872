import { ticks } from '@oiseau/audio/time';
import { masterTicks } from '@oiseau/album/model';
import type { MasterRecord } from '@oiseau/api';
import { clockText, formatDb, formatRate } from '../ui/format.js';
import { formWords, wordWords } from './words.js';
import { t } from '../ui/messages.js';

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
    [more, less]: readonly [(by: string) => string, (by: string) => string],
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
          ? t('one of them is silent')
          : by > 0
            ? more(formatDb(by))
            : less(formatDb(-by)),
    };
  };
  const words = (name: string, of: (master: MasterRecord) => string): ReplacementRow => ({
    name,
    older: of(older),
    newer: of(newer),
    difference: of(older) === of(newer) ? null : t('different'),
  });
  return [
    {
      name: t('Length'),
      older: clockText(masterTicks(older.info), 3),
      newer: clockText(masterTicks(newer.info), 3),
      difference:
        length === 0
          ? null
          : length > 0
            ? t('{time} longer', { time: clockText(ticks(length), 3) })
            : t('{time} shorter', { time: clockText(ticks(-length), 3) }),
    },
    level(t('Loudness'), 'LUFS', ({ measurement }) => measurement?.integratedLufs, [
      (by) => t('{by} dB louder', { by }),
      (by) => t('{by} dB quieter', { by }),
    ]),
    level(t('True peak'), 'dBTP', ({ measurement }) => measurement?.truePeakDbtp, [
      (by) => t('{by} dB higher', { by }),
      (by) => t('{by} dB lower', { by }),
    ]),
    words(t('Clipped runs'), ({ measurement }) => String(measurement?.clippedRuns ?? '–')),
    words(t('Sample rate'), ({ info }) => formatRate(info.rate)),
    words(t('Bit depth'), wordWords),
    words(t('Format'), formWords),
  ];
}

import { THIRD_OCTAVES_HZ } from '@oiseau/audio/measure';
import type { MasterRecord } from '@oiseau/api';

export interface SpectrumRow {
  readonly hz: number;
  /** dB relative to the master's own loudness; null where nothing is there. */
  readonly own: number | null;
  /** From the lowest to the highest of the others, each relative to its own loudness. */
  readonly others: readonly [number, number] | null;
}

type Measured = Pick<MasterRecord, 'measurement'>;

/** Third octaves of one master against the span of others. Each is taken relative to its integrated loudness. */
export function spectrumRows(master: Measured, others: readonly Measured[]): SpectrumRow[] {
  const own = levelled(master);
  const rest = others.map(levelled);
  return THIRD_OCTAVES_HZ.map((hz, band) => {
    const found = rest.flatMap((levels) => levels[band] ?? []);
    return {
      hz,
      own: own[band] ?? null,
      others: found.length > 0 ? [Math.min(...found), Math.max(...found)] : null,
    };
  });
}

/** Third octaves relative to the integrated loudness; nothing where that is not known. */
export function levelled({ measurement }: Measured): (number | null)[] {
  const loudness = measurement?.integratedLufs ?? null;
  if (!measurement || loudness === null) return [];
  return measurement.thirdOctavesDb.map((db) => (db === null ? null : db - loudness));
}

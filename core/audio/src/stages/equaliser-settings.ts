import { atMost } from '../schema/at-most.js';
import { constantOf, movingDb } from './automation.js';
import * as z from '../schema/z.js';

const hz = z.number().min(10).max(40_000);
const lifting = { hz, db: movingDb(-24, 24), q: z.number().min(0.1).max(20) };
const cutting = { hz, slope: z.literal([12, 24]) };

/** One band (docs/rules.md 10). */
export const bandSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('bell'), ...lifting }),
  z.strictObject({ kind: z.literal('low-shelf'), ...lifting }),
  z.strictObject({ kind: z.literal('high-shelf'), ...lifting }),
  z.strictObject({ kind: z.literal('low-cut'), ...cutting }),
  z.strictObject({ kind: z.literal('high-cut'), ...cutting }),
]);
export type Band = z.output<typeof bandSchema>;

export const equaliserSchema = atMost(12, 'bands', z.array(bandSchema));
export type Equaliser = readonly Band[];

/** A band that lifts and cuts nothing. */
export const bandIsNeutral = (band: Band): boolean => 'db' in band && constantOf(band.db) === 0;
export const equaliserIsNeutral = (bands: Equaliser): boolean => bands.every(bandIsNeutral);

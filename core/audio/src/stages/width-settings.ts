import * as z from '../schema/z.js';
import { constantOf, movingDb } from './automation.js';

/** So low a side, dB, is none. */
export const OFF_DB = -60;

export const widthSchema = z.strictObject({
  /** What the side is lifted by, dB; −60 and below it is off. */
  side: movingDb(OFF_DB, 12),
  /** Below this frequency in Hz nothing stays in the side; 0: nowhere. */
  monoBelow: z.union([z.literal(0), z.number().min(20).max(500)]),
});
export type Width = z.output<typeof widthSchema>;

export const widthIsNeutral = ({ side, monoBelow }: Width): boolean =>
  constantOf(side) === 0 && monoBelow === 0;

import * as z from '../schema/z.js';
import { movingDb } from './automation.js';

export const limiterSchema = z.strictObject({
  /** Before it, dB. */
  drive: movingDb(-24, 24),
  /** dBTP. */
  ceiling: z.number().min(-20).max(0),
  /** ms in which 63 % of a reduction in dB is given back. */
  release: z.number().min(1).max(5000),
});
export type Limiter = z.output<typeof limiterSchema>;

import * as z from '../schema/z.js';

/** The widest bend, dB. */
export const MOST_KNEE_DB = 24;

export const compressorSchema = z.strictObject({
  /** dB RMS, a full-scale sine at 0 [AES17]. */
  threshold: z.number().min(-80).max(0),
  /** n:1. */
  ratio: z.number().min(1).max(20),
  /** ms in which 63 % of a step of the reduction in dB is made good. */
  attack: z.number().min(0.1).max(500),
  release: z.number().min(1).max(5000),
  /** dB around the threshold over which the bend goes. */
  knee: z.number().min(0).max(MOST_KNEE_DB),
  /** dB after it. */
  makeup: z.number().min(-24).max(24),
});
export type Compressor = z.output<typeof compressorSchema>;

export const compressorIsNeutral = ({ ratio, makeup }: Compressor): boolean => ratio === 1 && makeup === 0;

/** What a steady level is reduced by, dB, 0 or more (docs/rules.md 10). @param level dB RMS */
export function reductionOf({ threshold, ratio, knee }: Compressor, level: number): number {
  const over = level - threshold;
  const slope = 1 - 1 / ratio;
  if (over <= -knee / 2) return 0;
  if (over >= knee / 2) return over * slope;
  const into = over + knee / 2;
  return (slope * (into * into)) / (2 * knee);
}

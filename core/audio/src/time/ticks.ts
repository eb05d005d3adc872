/**
 * Units of time. A tick is 1/705,600,000 s: every common audio rate and the CD frame are a whole number of
 * ticks, so positions are integers and are compared exactly. Branded types keep the three integer units apart.
 */
declare const unit: unique symbol;
/** Ticks of 1/705,600,000 s, an integer, safe in a double for 147 days. */
export type Ticks = number & { readonly [unit]: 'ticks' };
/** CD frames of 1/75 s, an integer. */
export type Frames = number & { readonly [unit]: 'frames' };
/** Sample positions or counts at a rate that the name or the context tells, an integer. */
export type Samples = number & { readonly [unit]: 'samples' };

export const TICKS_PER_SECOND = 705_600_000;

export const ticks = (value: number): Ticks => value as Ticks;
export const samples = (value: number): Samples => value as Samples;

/** Seconds → the nearest tick (halves up). */
export function secondsToTicks(seconds: number): Ticks {
  return ticks(Math.round(seconds * TICKS_PER_SECOND));
}

export function ticksToSeconds(value: Ticks): number {
  return value / TICKS_PER_SECOND;
}

/**
 * The sample nearest to a time, halves rounded up (docs/rules.md 3.4).
 * Whole seconds are split off first so that no product leaves the 53 exact bits of a double,
 * which keeps rates that are no divisor of the tick rate (384 kHz) exact as well.
 */
export function ticksToSamples(value: Ticks, rateHz: number): Samples {
  const wholeSeconds = Math.floor(value / TICKS_PER_SECOND);
  const rest = value - wholeSeconds * TICKS_PER_SECOND;
  return samples(
    wholeSeconds * rateHz + Math.floor((2 * rest * rateHz + TICKS_PER_SECOND) / (2 * TICKS_PER_SECOND)),
  );
}

/** The tick nearest to a sample position; exact for every rate that divides 705,600,000. */
export function samplesToTicks(value: Samples, rateHz: number): Ticks {
  const wholeSeconds = Math.floor(value / rateHz);
  const rest = value - wholeSeconds * rateHz;
  return ticks(wholeSeconds * TICKS_PER_SECOND + Math.round((rest * TICKS_PER_SECOND) / rateHz));
}

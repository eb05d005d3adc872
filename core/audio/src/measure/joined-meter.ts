/**
 * A meter whose stretches can be measured by themselves, one after the other or at the same time, and joined in order. Each is told where its
 * stretch begins. What came out of it is plain data, which can be sent to another thread.
 */
export interface JoinedMeter<State> {
  /** What was found in the stretch that was pushed. */
  readonly state: State;
  /** Takes over what was found in the stretch that follows. */
  join(next: State): void;
}

/** Samples from a start to the next multiple of a window’s size. */
export const beforeNext = (start: number, window: number): number => (window - (start % window)) % window;

/** Adds values to others, one by one. */
export function addTo(sums: Float64Array, values: ArrayLike<number>): void {
  for (let i = 0; i < sums.length; i++) sums[i] = (sums[i] as number) + (values[i] as number);
}

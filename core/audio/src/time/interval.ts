/** A half-open stretch `[start, end)`; the unit (ticks, samples, CD frames) is its type's, the zero its context's. */
export interface Interval<Unit extends number> {
  readonly start: Unit;
  readonly end: Unit;
}

/** How long a stretch is, in its own unit; 0 or less when it is empty. */
export const intervalLength = <Unit extends number>({ start, end }: Interval<Unit>): Unit =>
  (end - start) as Unit;

/** Whether two stretches share a moment; stretches that only touch do not. */
export const overlaps = <Unit extends number>(a: Interval<Unit>, b: Interval<Unit>): boolean =>
  a.start < b.end && b.start < a.end;

/** Whether a moment lies in a stretch. */
export const isInside = <Unit extends number>({ start, end }: Interval<Unit>, at: Unit): boolean =>
  start <= at && at < end;

import type { MasterRecord } from '@oiseau/api';
import { useCallback, useState } from 'react';
import type { CutView } from './cut-drawing.js';

/** The closest look and the first, in seconds. */
const CLOSEST = 4;
const FIRST = 60;

/** The stretch of a recording that is seen closer, and how it is moved; samples of the master. */
export function useCutView({ rate, length }: MasterRecord['info']) {
  const [view, setView] = useState<CutView>({ from: 0, to: Math.min(length, FIRST * rate) });
  const zoom = useCallback(
    (steps: number, around: number): void =>
      setView(({ from, to }) => {
        const wide = Math.max(CLOSEST * rate, Math.min(length, (to - from) * 2 ** -steps));
        const start = Math.max(0, Math.min(length - wide, around - ((around - from) / (to - from)) * wide));
        return { from: Math.round(start), to: Math.round(start + wide) };
      }),
    [length, rate],
  );
  const show = useCallback(
    (sample: number): void =>
      setView(({ from, to }) => {
        const wide = to - from;
        const start = Math.max(0, Math.min(length - wide, Math.round(sample - wide / 2)));
        return { from: start, to: start + wide };
      }),
    [length],
  );
  return { view, zoom, show };
}

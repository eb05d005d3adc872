import { useEffect, useMemo, useRef } from 'react';

/** Calls `run` at most every so many milliseconds, always with the last value in the end; `drop` forgets what still waits. */
export function useThrottled<T>(
  run: (value: T) => void,
  everyMs: number,
): { readonly call: (value: T) => void; readonly drop: () => void } {
  const newest = useRef(run);
  useEffect(() => {
    newest.current = run;
  });
  const throttled = useMemo(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let waiting: { readonly value: T } | undefined;
    const send = (): void => {
      timer = undefined;
      if (!waiting) return;
      newest.current(waiting.value);
      waiting = undefined;
      timer = setTimeout(send, everyMs);
    };
    return {
      call: (value: T) => {
        waiting = { value };
        if (!timer) send();
      },
      drop: () => {
        clearTimeout(timer);
        timer = undefined;
        waiting = undefined;
      },
    };
  }, [everyMs]);
  useEffect(() => throttled.drop, [throttled]);
  return throttled;
}

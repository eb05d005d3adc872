import { useLayoutEffect, useRef, useState } from 'react';

type Call = (...args: never[]) => void;

/**
 * One object for as long as the component lives, whose functions do what the newest ones do: for parts that are drawn
 * only when their props change.
 */
export function useStable<T extends { readonly [K in keyof T]: Call }>(newest: T): T {
  const latest = useRef(newest);
  useLayoutEffect(() => {
    latest.current = newest;
  });
  const [stable] = useState(() => {
    const call =
      (name: keyof T): Call =>
      (...args) =>
        latest.current[name](...args);
    return Object.fromEntries((Object.keys(newest) as (keyof T)[]).map((name) => [name, call(name)])) as T;
  });
  return stable;
}

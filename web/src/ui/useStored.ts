import { useState } from 'react';

/** A setting that this browser remembers; what can't be read back is taken for not set. */
export function useStored<T>(key: string, initial: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const stored = localStorage.getItem(key);
      return stored === null ? initial : (JSON.parse(stored) as T);
    } catch {
      return initial;
    }
  });
  return [
    value,
    (changed) => {
      setValue(changed);
      localStorage.setItem(key, JSON.stringify(changed));
    },
  ];
}

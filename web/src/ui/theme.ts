import { useEffect, useState } from 'react';

export type Theme = 'light' | 'dark';
const KEY = 'oiseau-theme';

/** The surface in use: paper by default, dim when chosen; remembered in this browser. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState<Theme>(() => (localStorage.getItem(KEY) === 'dark' ? 'dark' : 'light'));
  useEffect(() => {
    document.documentElement.dataset.bsTheme = theme;
    localStorage.setItem(KEY, theme);
    window.dispatchEvent(new Event('oiseau-theme'));
  }, [theme]);
  return [theme, setTheme];
}

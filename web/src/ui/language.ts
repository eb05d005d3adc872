/** Languages of the interface, by their own names. */
export const LANGUAGES = { en: 'English', de: 'Deutsch' } as const;
export type Language = keyof typeof LANGUAGES;

/** Languages of the listener’s page, which follows the visitor’s browser. */
const LISTENER_LANGUAGES = ['en', 'de', 'fr', 'es', 'ja'];

const KEY = 'oiseau-language';

/** The language chosen in this browser; null follows the browser. */
export function chosenLanguage(): Language | null {
  const chosen = localStorage.getItem(KEY);
  return chosen !== null && chosen in LANGUAGES ? (chosen as Language) : null;
}

/** @param language null: follow the browser. The page is loaded again: every text of it is worded anew. */
export function chooseLanguage(language: Language | null): void {
  if (language === null) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, language);
  window.location.reload();
}

/** The language of this page: the first of the browser’s that it is translated to. Outside a page, such as in a worker: English. */
export function languageOfPage(): string {
  if (typeof document === 'undefined' || typeof localStorage === 'undefined') return 'en';
  const isListener = window.location.pathname.startsWith('/listen/');
  const offered: readonly string[] = isListener ? LISTENER_LANGUAGES : Object.keys(LANGUAGES);
  const asked = [
    ...(isListener ? [] : [chosenLanguage() ?? '']),
    ...navigator.languages.map((locale) => locale.split('-')[0] ?? ''),
  ];
  return asked.find((language) => offered.includes(language)) ?? 'en';
}

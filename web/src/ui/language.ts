import { READER_LANGUAGES } from '@oiseau/messages';

/** Languages of the interface. */
export const INTERFACE_LANGUAGES = ['en', 'de'] as const;
export type InterfaceLanguage = (typeof INTERFACE_LANGUAGES)[number];

const KEY = 'oiseau-language';

/** The language chosen in this browser; null follows the browser. */
export function chosenLanguage(): InterfaceLanguage | null {
  const chosen = localStorage.getItem(KEY);
  return INTERFACE_LANGUAGES.find((language) => language === chosen) ?? null;
}

/** @param language null: follow the browser. The page is loaded again: every text of it is worded anew. */
export function chooseLanguage(language: InterfaceLanguage | null): void {
  if (language === null) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, language);
  window.location.reload();
}

/** The language of this page: the first of the browser’s that it is translated to. Outside a page, such as in a worker: English. */
export function languageOfPage(): string {
  if (typeof document === 'undefined' || typeof localStorage === 'undefined') return 'en';
  const isListener = window.location.pathname.startsWith('/listen/');
  const offered: readonly string[] = isListener ? READER_LANGUAGES : INTERFACE_LANGUAGES;
  const asked = [
    ...(isListener ? [] : [chosenLanguage() ?? '']),
    ...navigator.languages.map((locale) => locale.split('-')[0] ?? ''),
  ];
  return asked.find((language) => offered.includes(language)) ?? 'en';
}

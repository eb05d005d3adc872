/** Languages of what listeners and recipients read: the listener’s page and the papers. */
export const READER_LANGUAGES = ['en', 'de', 'fr', 'es', 'ja'] as const;
export type ReaderLanguage = (typeof READER_LANGUAGES)[number];

/** Each language by its own name. */
export const READER_LANGUAGE_NAMES: Readonly<Record<ReaderLanguage, string>> = {
  en: 'English',
  de: 'Deutsch',
  fr: 'Français',
  es: 'Español',
  ja: '日本語',
};

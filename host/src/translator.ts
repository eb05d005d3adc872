import { createTranslator, type ReaderLanguage, type Translator } from '@oiseau/messages';

/** Loaded with the first sheet in the language: most runs of a program need none. */
const CATALOGUES = {
  de: () => import('@oiseau/messages/languages/de.json'),
  fr: () => import('@oiseau/messages/languages/fr.json'),
  es: () => import('@oiseau/messages/languages/es.json'),
  ja: () => import('@oiseau/messages/languages/ja.json'),
} as const;

/** Words what is printed in a language; dates and numbers follow it. */
export async function translatorFor(language: ReaderLanguage): Promise<Translator> {
  if (language === 'en') return createTranslator('en', 'en-GB');
  return createTranslator(language, language, (await CATALOGUES[language]()).default);
}

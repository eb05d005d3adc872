import { READER_LANGUAGES, type ReaderLanguage } from '@oiseau/messages';
import { languageOfPage } from './language.js';
import { useStored } from './useStored.js';

const known = (language: string): ReaderLanguage =>
  READER_LANGUAGES.find((each) => each === language) ?? 'en';

/** The language last chosen for a PDF in this browser; at first the reader’s own. */
export function usePaperLanguage(): [ReaderLanguage, (language: ReaderLanguage) => void] {
  const [language, setLanguage] = useStored('oiseau-paper-language', languageOfPage());
  return [known(language), setLanguage];
}

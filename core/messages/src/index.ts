export { READER_LANGUAGE_NAMES, READER_LANGUAGES, type ReaderLanguage } from './reader-languages.js';
export {
  figure,
  joined,
  msg,
  verbatim,
  type Figure,
  type Message,
  type Value,
  type Values,
} from './message.js';
export { createTranslator, english, type Translator } from './translator.js';

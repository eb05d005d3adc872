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

export {
  CD_TEXT_CHARSETS,
  CHARSET_CODE,
  type CdTextCharset,
  type Misfit,
  charBytes,
  decodeCdText,
  encodeCdText,
  misfits,
  plainText,
} from './cd-text-charset.js';
export { type Chapter, chaptersOf, oggChapterTags } from './chapters.js';
export {
  AUDIO_FORMATS,
  type AudioFormat,
  CODINGS,
  CODING_NAMES,
  type Coding,
  MP3_BITRATES,
  rateFor,
} from './coding.js';
export {
  type ContainerTag,
  type TagContainer,
  containerTags,
  id3Container,
  reportedTag,
  tagContainer,
} from './container-tags.js';
export {
  type EmbeddedPicture,
  type FileMark,
  type FlacText,
  flacMetadata,
  flacTextBytes,
  readFlacBlocks,
} from './flac-blocks.js';
export { id3Tag } from './id3.js';
export { LANGUAGES, languageCode } from './languages.js';
export { MP3_FRAME, setMp3Length } from './mp3-info.js';
export { pictureSize } from './picture-size.js';
export { type TagName, type TagSet } from './tag-names.js';

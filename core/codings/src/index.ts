export { type AudioFile } from './audio-file.js';
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
export { chaptersOf } from './chapters.js';
export { type DecoderReport, type OpenedAudio } from './coding.js';
export {
  AUDIO_FORMATS,
  CODECS,
  CODING_FILES,
  CODING_NAMES,
  type Coding,
  type FileCoding,
  codingsOf,
  factsOf,
  isLossyCoding,
  rateFor,
  tagContainer,
} from './codings.js';
export { type ContainerTag, type TagContainer, containerTags } from './container-tags.js';
export { type AudioStream, type EncoderOrder, type FilePorts, type FileSink } from './file-ports.js';
export { type EmbeddedPicture, type FileMark } from './flac-blocks.js';
export { LANGUAGES, languageCode } from './languages.js';
export { loudnessTags } from './loudness-tags.js';
export { pictureSize } from './picture-size.js';
export { type TagName, type TagSet } from './tag-names.js';

export { TooLongForContainer, aiffHeader, swapWords } from './aiff-write.js';
export {
  type Block,
  CHANNELS,
  type Memory,
  type PcmSource,
  WORD_BYTES,
  type WordFormat,
  isInteger,
  part,
  silence,
  wordBits,
} from './block.js';
export { ByteReader, type ByteSink, type ByteSource, ByteWriter, MemorySink, memorySource } from './bytes.js';
export { EMBEDDED_FIELDS, type EmbeddedField, fieldsFromTags } from './embedded-tags.js';
export {
  type EmbeddedText,
  type EmbeddedWords,
  NO_TEXT,
  boundedText,
  readEmbeddedText,
  readEmbeddedWords,
} from './embedded-text.js';
export { demandFinite } from './finite.js';
export { JoinedSource } from './joined-source.js';
export {
  type CodedForm,
  MASTER_EXTENSIONS,
  codedForm,
  demandMasterName,
  demandStereo,
  examineMaster,
  isMasterName,
} from './master-file.js';
export { PcmFileSource, type PcmInfo, demandChannels, demandRate, pcmFileBytes } from './pcm-file.js';
export { plainText } from './plain-text.js';
export { SAMPLE_RATES } from './rates.js';
export { AudioRefused } from './refusal.js';
export { openWav } from './wav-read.js';
export { type BextLoudness, bextLoudness, wavTextChunks } from './wav-text.js';
export { WavWriter, wavHeader } from './wav-write.js';
export { decodeWords, encodeWords } from './words.js';

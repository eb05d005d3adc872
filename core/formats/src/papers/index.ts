export { BAG_DECLARATION, bagInfo, bagPath, readBagInfo } from './bag.js';
export { labelCopy, labelPaper, labelRows } from './label-copy.js';
export {
  type ListeningPage,
  answerSchema,
  listeningHtml,
  listeningPart,
  readListeningHtml,
} from './listening-page.js';
export {
  type LoudnessOrder,
  type PartLoudness,
  loudnessFigures,
  loudnessOrder,
  loudnessPaper,
  loudnessQuestions,
  loudnessRows,
} from './loudness-report.js';
export { listeningTexts } from './listening-page-texts.js';
export { manifestLine, readManifest } from './manifest.js';
export { type PlaylistEntry, readPlaylist, writePlaylist } from './playlist.js';
export {
  type Release,
  type ReleaseAudio,
  SHOP_COVER_PIXELS,
  encodeRelease,
  isReleaseDay,
  releaseJsonSchema,
  releaseOf,
  releaseSchema,
} from './release.js';

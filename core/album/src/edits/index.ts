export {
  type AlternateOffer,
  lineUpAlternate,
  removeAlternate,
  renameAlternate,
  setAlternate,
  takeAlternates,
} from './alternate-edits.js';
export { type OfferedMaster, offerAlternates } from './alternate-offers.js';
export {
  addEdition,
  adoptDraft,
  changeEdition,
  draftAsEdition,
  removeEdition,
  renameEdition,
} from './edition-edits.js';
export {
  addOverride,
  type EditionDifference,
  editionDifferences,
  removeOverride,
} from './edition-overrides.js';
export { asItCame, leavingOut, untreated } from './as-it-came.js';
export {
  appendSongs,
  changeSong,
  compareNames,
  editMarks,
  editRegion,
  editSound,
  editWords,
  hideFirstTrack,
  moveTracks,
  removeSongs,
  replaceMaster,
  selectDeliverable,
  showHidden,
  titleFromFileName,
} from './edit.js';
export {
  type LimiterForecast,
  type TrackLevel,
  albumLoudness,
  limiterForecast,
  matchedGains,
} from './levels.js';
export { loudestMoment, placedMoment } from './loudest-moment.js';
export {
  beginPart,
  editPart,
  joinPart,
  moveInPart,
  spreadOver,
  spreadSongs,
  withSpread,
} from './part-edits.js';
export { type AlbumPatch, albumPatchSchema, patchBetween, patched, PatchMisfit } from './patch.js';
export { mergeEdits, type Merged, sameContent, sameValue, takeBack } from './revert.js';
export {
  addIndex,
  crossfade,
  holdFrom,
  setFade,
  setGap,
  setOut,
  setPause,
  setStartMark,
  songAfter,
  startAt,
  startOnLastBeat,
  trimIn,
  waitBars,
} from './spacing.js';
export { suggestSpacing, type SpacingSuggestion } from './suggested-spacing.js';
export { ALIKE, UNALIKE, type VersionOffer, offerVersions, outlineLikeness } from './version-offers.js';

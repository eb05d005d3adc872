export { type Album, albumSchema, hiddenSong, newAlbum, songBefore, songOf, tracksOf } from './album.js';
export {
  albumOfDeliverable,
  albumOfEdition,
  editionNameOf,
  isOfDraft,
  lostOverlaps,
  newNeighbours,
  withoutDrafts,
} from './album-of-edition.js';
export { type Edition, type EditionTrack, newEdition } from './edition.js';
export { editionKey } from './edition-name.js';
export { MAIN, alternateName } from './alternate-schema.js';
export {
  alternateNames,
  alternateOf,
  lackingAtEnd,
  mastersOfSong,
  mastersPlayed,
  sequenceOfAlternate,
} from './alternates.js';
export {
  type ContinuousDeliverable,
  type CueDeliverable,
  type CuttingRoomDeliverable,
  type DdpDeliverable,
  type Deliverable,
  type ListeningDeliverable,
  type PackageDeliverable,
  type Place,
  type SoundDeliverable,
  type TracksDeliverable,
  bitrateOf,
  codingOf,
  continuousDeliverable,
  continuousOfListening,
  cueDeliverable,
  cuttingRoomDeliverable,
  ddpDeliverable,
  deliverableSchema,
  ditherOf,
  hasFormat,
  isImage,
  isLossy,
  listeningDeliverable,
  packageDeliverable,
  recordingsOf,
  tracksDeliverable,
  tracksOfPackage,
} from './deliverable.js';
export { PATTERN_WORDS, fillPattern, safeFileName, uniqueNames, unknownWords } from './name-pattern.js';
export {
  COMMON_LIMIT,
  MEDIA,
  type Medium,
  type PartSongs,
  cutsWell,
  mediumWords,
  mostOf,
  partName,
  partsOf,
  positionOf,
  trackNumber,
  withSongs,
} from './parts.js';
export { SHIPPED_PRESETS } from './presets.js';
export { NO_FADE, type PlayedRegion, type Region, wholeMaster } from './region.js';
export {
  type MasterFacts,
  type MasterFactsByKey,
  type Sequence,
  type SequencedSong,
  masterTicks,
  outOf,
} from './sequence.js';
export { DEFAULT_GAP, NO_MARKS, type Song, type SongMarks, newSong } from './song.js';
export { soundKey } from './sound-key.js';
export {
  FASTEST_BPM,
  SLOWEST_BPM,
  type Tempo,
  beatLength,
  beatsBetween,
  beginsBar,
  tempoOfTaps,
} from './tempo.js';
export {
  CD_TEXT_FIELDS,
  type CdTextField,
  MOST_TEXT,
  TAG_NAME,
  TEXT_NAMES,
  keptText,
} from './text-fields.js';

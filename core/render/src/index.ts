export { type ProofComparison, compareProofs, comparisonWords } from './compare-proofs.js';
export {
  type DeliveredRow,
  type FilePlace,
  audioOf,
  deliveredRows,
  trackOfMoment,
  tracksInFile,
} from './delivered.js';
export { fileWords } from './files/files.js';
export { partOfPath } from './kinds/kind.js';
export { SUMS, formWords, kindWords, planDeliverable } from './kinds/kinds.js';
export { measureSide } from './measure-side.js';
export { measureSound, sequenceOfSound } from './measure-sound.js';
export { type Plan, type PlannedAudio, audioFiles, bytesAtMost, expectedSize, planBytes } from './planned.js';
export { type DigestAlgorithm, type Hasher, type RenderPorts } from './ports.js';
export { Programme, type SourcesByKey } from './programme.js';
export { type Made, PROOF_TESTS, type Proof, type ProofFile, type ProofTest } from './proof-file.js';
export { Proving } from './proof.js';
export { ReadAhead } from './read-ahead.js';
export { type RenderInput } from './render-input.js';
export { renderPlan } from './render.js';
export { type WordsOrder } from './stream.js';
export {
  type ProgrammeOrder,
  type ShortenedStretch,
  type Stretch,
  StretchMaker,
  type Stretches,
  wordBytes,
} from './stretches.js';
export { type SampleChange, sampleChanges, untouchedSongs } from './untouched.js';
export { VERSION } from './version.js';

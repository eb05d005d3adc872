export { type EditionFindings, checkEditions, checkWhole } from './check-editions.js';
export {
  acceptFinding,
  acceptFindings,
  acceptedReason,
  checkAlbum,
  errorsFirst,
  errorsFor,
  placeWords,
} from './check.js';
export { editionFindings } from './edition-rules.js';
export { type CheckSubject, type CoverFacts, type Finding, type Severity } from './finding.js';
export { wordDoubt } from './master-doubt-words.js';
export { type DoubtSubject, type MasterDoubt, masterDoubts } from './master-doubts.js';
export { fixOf } from './fix.js';
export { wordFinding } from './words.js';

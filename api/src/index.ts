export { addressOf } from './endpoint.js';
export type { AnswerOf, Asked, Call, Door, Endpoint } from './endpoint.js';
export { ApiFailure, ask, fetchWithKey, misfitWords, NO_ANSWER, refusalOf } from './ask.js';
export type { Fetch } from './ask.js';
export { CONTRACT, ENDPOINTS } from './contract.js';
export { mayDo, role, ROLES } from './rights.js';
export type { Right, Role } from './rights.js';
export { EVENT_KINDS } from './access.js';
export type { EventRecord, KeyRecord, Visitor } from './access.js';
export type { AlbumRecord, ShelfEntry } from './albums.js';
export type { MasterRecord } from './masters.js';
export type { DeliveryRecord, NoteRecord, Revision, RevisionRecord } from './deliveries.js';
export { lineUpFigures, roomFigures, sideFigures, soundFigures } from './sounds.js';
export type { SoundRecord } from './sounds.js';
export { CLEARABLE, STORED_KINDS, verifyReport } from './keeping.js';
export type { Health, Keeping, UnusedFile, VerifyReport } from './keeping.js';
export type { Preset, TreatmentPreset } from './others.js';
export {
  coding,
  comparison,
  embedded,
  jobProgress,
  jobState,
  made,
  measurement,
  pcmInfo,
  proof,
} from './values.js';
export type { JobProgress, JobState } from './values.js';

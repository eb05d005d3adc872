export { messageSchema } from './failure.js';
export { addressOf } from './endpoint.js';
export type { AnswerOf, Asked, Call, Door, Endpoint } from './endpoint.js';
export { ApiFailure, ask, fetchWithKey, misfitWords, NO_ANSWER, refusalOf } from './ask.js';
export { CONTRACT, ENDPOINTS } from './contract.js';
export { mayDo, role, ROLES } from './rights.js';
export type { Right, Role } from './rights.js';
export { EVENT_KINDS } from './access.js';
export type { EventRecord, KeyRecord, Visitor } from './access.js';
export { SHELF_ORDERS } from './albums.js';
export type { AlbumRecord, ShelfEntry, ShelfSort } from './albums.js';
export { change, CHANGES_KEPT_MS, type Change, type ChangeTopic } from './changes.js';
export type { IntakeAnswer, MasterRecord } from './masters.js';
export type {
  AnswerRecord,
  DeliveryRecord,
  NoteRecord,
  QueuedRender,
  Revision,
  RevisionRecord,
} from './deliveries.js';
export { isHandoverActive, statusOf, type HandoverFacts, type HandoverStatus } from './handover-status.js';
export { refusalReason, told } from './handovers.js';
export {
  RECEIVER_KINDS,
  receiverKind,
  recipientOf,
  stateWords,
  type ReceiverKind,
} from './recipients/recipients.js';
export type { DiscReportRecord, HandoverRecord, ReceiverRecord, RefusalReason, Told } from './handovers.js';
export { LONGEST_INVITATION_DAYS } from './invitations.js';
export type {
  InvitationRecord,
  ListenerNote,
  ListeningPageRecord,
  ListeningRow,
  ListeningTrack,
} from './invitations.js';
export { driveFacts } from './recipients/drive.js';
export { writing, type Writing } from './recipients/writing.js';
export { plantReceipt } from './recipients/plant.js';
export { serviceReceipt } from './recipients/service.js';
export { lineUpFigures, roomFigures, sideFigures, soundFigures } from './sounds.js';
export type { SoundRecord } from './sounds.js';
export { verifyReport } from './keeping.js';
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

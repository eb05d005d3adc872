export {
  type AlbumFile,
  AlbumFileError,
  albumFromFile,
  albumToFile,
  mastersInFile,
  parseAlbumFile,
  sumsInFile,
} from './file.js';
export { albumFileJsonSchema } from './json-schema.js';
export {
  LaterDocument,
  albumDocument,
  deliverableDocument,
  newestForm,
  readAlbumDocument,
  readDeliverableDocument,
  readTreatmentDocument,
} from './stored.js';
export { describeIssues, MOST_ISSUES } from './issues.js';

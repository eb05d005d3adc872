export {
  type AlbumFile,
  AlbumFileError,
  MOST_ISSUES,
  albumFromFile,
  albumToFile,
  describeIssues,
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

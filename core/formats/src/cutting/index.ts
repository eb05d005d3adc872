export {
  type Cutting,
  type Piece,
  changePiece,
  cutAt,
  cutAtMarks,
  cutAtSoundings,
  joinToPrevious,
  keepNames,
  moveCut,
  pieceAt,
  pieceEnd,
  startCutting,
} from './cutting.js';
export { ImageUnusable, albumFromImage } from './from-image.js';
export { MarkListError, readMarks } from './mark-list.js';
export { type ReadingSettings, cutSongs, cutsToLength, framesOfMaster } from './reading.js';
export { type PieceJoin, applyCutting } from './tracks.js';
export { type TrimSettings, suggestTrim } from './trim.js';

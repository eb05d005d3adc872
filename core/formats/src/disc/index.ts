export { type CdTextBlock, MOST_PACKS, packCount } from './cd-text-packs.js';
export { CD_TEXT_GENRES, type UnfitText, cdTextBlocks, cdTextWords, unfitTexts } from './cd-text.js';
export { compareImage } from './compare-image.js';
export { encodeCsv, readCsv } from './csv.js';
export { type CueSheet, CueSheetError, encodeCueSheet, readCueSheet } from './cue-sheet.js';
export {
  type CuttingFigures,
  type CuttingOrder,
  type CuttingSide,
  cuttingPaper,
  cuttingRows,
} from './cutting-sheet.js';
export { DdpError, type DdpFolder, type DdpFound, type DdpMarkFound, readDdp } from './ddp-read.js';
export {
  DDP_CD_TEXT,
  DDP_ID,
  DDP_IMAGE,
  DDP_MAP,
  DDP_MARKS,
  DDP_SUMS,
  type DdpDisc,
  type DdpName,
  checksumLines,
  ddpBytes,
  ddpNames,
  summedPaths,
} from './ddp.js';
export { type DiscImage, imageOfCue, imageOfDdp } from './disc-image.js';
export { eanCheckDigit, eanFault, parseEan } from './ean.js';
export { asTyped, withoutFormula } from './formulas.js';
export { formatIsrc, isrcFault, isrcRun, nextIsrcNumber, parseIsrc } from './isrc.js';
export { type Mark, marksInOrder } from './marks.js';
export { type Paper, type PaperOf, type PaperRow, wordPaper } from './paper.js';
export { placeInPart } from './place.js';
export { type PqSheet, flagsOf, pqPaper, pqSheet, pqText } from './pq-sheet.js';
export { type SideSheetRow, encodeSideSheet, readSideSheet, sideSheetCells } from './side-sheet.js';
export { RAW_SECTOR } from './subcode.js';
export { trackMarks } from './track-marks.js';
export { DiscComparison, type WantedDisc } from './written-disc.js';

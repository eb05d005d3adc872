export { digestFile } from './checksum.js';
export { FileByteSource } from './file-source.js';
export { syncFile } from './file-sink.js';
export { SummedSource } from './summed-source.js';
export { isDiskFull, systemCode } from './errors.js';
export { makeFolder } from './make-folder.js';
export { decodeFile } from './decode.js';
export { CodecError } from './ffmpeg-process.js';
export { codingOf, prepareMaster } from './master-intake.js';
export type { PrepareOptions, SourceCoding, PreparedMaster } from './master-intake.js';
export { openMaster } from './open-master.js';
export type { OpenMaster } from './open-master.js';
export { paperPdf } from './paper-pdf.js';
export { planSeconds, renderToFolder } from './render-folder.js';
export type { BesideIt } from './render-folder.js';
export { Threads } from './threads.js';
export { TargetRefused } from './target-folder.js';
export { demandFile, FileOutside } from './files-of-album.js';
export {
  coverFacts,
  embeddedCover,
  shopCover,
  thumbnail,
  MOST_COVER_BYTES,
  MOST_COVER_PIXELS,
} from './cover.js';
export { NoDiscImage, openImage } from './open-image.js';
export { versionsHere } from './versions.js';
export { overshootOf } from './overshoot.js';
export type { Coded } from './overshoot.js';

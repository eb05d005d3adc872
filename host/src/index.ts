export { createFile, FileByteSource } from './byte-files.js';
export { systemCode } from './errors.js';
export { decodeFile } from './decode.js';
export { CodecError } from './ffmpeg-process.js';
export { prepareMaster } from './master-intake.js';
export type { Coding, PreparedMaster } from './master-intake.js';
export { openMaster } from './open-master.js';
export type { OpenMaster } from './open-master.js';
export { partialFolder, planSeconds, renderToFolder } from './render-folder.js';

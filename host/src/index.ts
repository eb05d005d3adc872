export { createFile, FileByteSource } from './byte-files.js';
export { systemCode } from './errors.js';
export { CodecError, decodeFile } from './ffmpeg.js';
export { partialFolder, planSeconds, renderToFolder } from './render-folder.js';

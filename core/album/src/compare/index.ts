export { compareAlbums } from './compare.js';

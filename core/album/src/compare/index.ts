export { compareAlbums } from './compare.js';
export { differingTransitions, type Transition } from './transition-differences.js';

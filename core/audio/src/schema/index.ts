export { atMost } from './at-most.js';
export { isDeeperThan } from './json-depth.js';
export { safelyParsed } from './safely-parsed.js';

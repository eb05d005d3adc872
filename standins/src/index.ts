export { type Misbehaviour } from './receiver.js';
export { startStandins, type Standin } from './start.js';

export { drive } from './drive.js';
export { Intake } from './intake.js';
export { plant } from './plant.js';
export { MISBEHAVIOURS, type Misbehaviour } from './receiver.js';
export { service } from './service.js';
export { shop } from './shop.js';
export { startStandins, type Standin } from './start.js';

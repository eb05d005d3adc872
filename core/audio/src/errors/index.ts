export { Failure, type FailureOptions, type FailureStatus } from './failure.js';

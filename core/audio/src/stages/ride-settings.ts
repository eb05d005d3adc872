import { constantOf, movingDb, type MovingDb } from './automation.js';

/** A moving gain, dB (docs/rules.md 10). */
export const rideSchema = movingDb(-60, 24);

export const rideIsNeutral = (ride: MovingDb): boolean => constantOf(ride) === 0;

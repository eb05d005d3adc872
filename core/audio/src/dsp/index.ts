export { DITHER_KINDS, type DitherKind, Quantiser, errorDensityDb, mostErrorLsb } from './dither.js';
export { FADE_SHAPES, type FadeShape, applyFade, fadeGain } from './fade.js';
export { decibelText } from './decibel-text.js';
export { dbToLinear, linearToDb } from './gain.js';
export { type Seed, seedFromText, uniform } from './random.js';
export { atRate, fitsInteger } from './resample.js';
export { ShiftedSource } from './shifted-source.js';
export { nearestZeroCrossing, zeroCrossingIn } from './zero-crossing.js';

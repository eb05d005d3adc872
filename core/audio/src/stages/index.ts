export {
  type MovingDb,
  type MovingPoint,
  constantOf,
  pointsOf,
  rangeOf,
  valueAt,
  withPoint,
} from './automation.js';
export { coefficientsOf, memoryOf, runSections } from './biquads.js';
export { type Compressor, MOST_KNEE_DB } from './compressor-settings.js';
export { type Band } from './equaliser-settings.js';
export { fitSection } from './fit.js';
export { TakenAwayMeter, reductionsBetween } from './gain-reduction.js';
export { type Limiter, limiterSchema } from './limiter-settings.js';
export { LimitedSource } from './limiter.js';
export { type AnalogueSection, highCut, lowCut } from './prototype.js';
export { responseDb } from './response.js';
export { RideSource } from './ride.js';
export { type OnStage, type TreatedOptions, treated } from './treated.js';
export {
  type AlbumTreatment,
  NO_ALBUM_TREATMENT,
  NO_TREATMENT,
  type Treatment,
  albumTreatmentSchema,
  isUntreated,
  treatmentSchema,
  treatmentWords,
} from './treatment.js';
export { type Width } from './width-settings.js';

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
export { MOST_KNEE_DB } from './compressor.js';
export { type Band, responseDb } from './equaliser.js';
export { fitSection } from './fit.js';
export { TakenAwayMeter, reductionsBetween } from './gain-reduction.js';
export { LimitedSource, type Limiter, limiterSchema } from './limiter.js';
export { type AnalogueSection, highCut, lowCut } from './prototype.js';
export { RideSource } from './ride.js';
export { type AutomatedValue, type Stage, type StageFigure } from './stage.js';
export { REDUCING_STAGES, type ReducingStage, STAGE_NAMES, type StageName, stageOf } from './stages.js';
export { type OnStage, type TreatedOptions, treated } from './treated.js';
export {
  type AlbumTreatment,
  NO_ALBUM_TREATMENT,
  NO_TREATMENT,
  type Treatment,
  albumTreatmentOverridesSchema,
  albumTreatmentSchema,
  automatedValues,
  isUntreated,
  reducesGain,
  treatmentOverridesSchema,
  treatmentSchema,
  treatmentWords,
  withStages,
} from './treatment.js';

export { correlation } from './correlation.js';
export { type LineUp, measureLineUp } from './line-up.js';
export { LiveMeters, type LiveReading } from './live-meters.js';
export { LoudnessMeter, integratedLoudness, loudnessOverTime } from './loudness.js';
export { FigureMeters, type MasterMeasurement, MasterMeters } from './master-meters.js';
export { type Measurement, Meters, readThrough } from './measure.js';
export { NullTest } from './null-test.js';
export { Silhouette, SilhouetteMeter } from './silhouette.js';
export { type SilenceSettings, type Sounding, soundWithin, soundings } from './sounding.js';
export { THIRD_OCTAVES_HZ } from './spectrum.js';
export {
  type MeasureOrder,
  type MeasuredState,
  type Measurer,
  StretchedSignal,
  measureHere,
  measureMaster,
  measureStretch,
  wordsOf,
} from './stretched-meters.js';
export { type FoundTempo, type TempoCertainty, lastTempo } from './tempo.js';
export { TruePeakMeter } from './true-peak.js';
export { bandwidthOf } from './upper-edge.js';

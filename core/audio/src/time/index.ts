export {
  FIRST_PAUSE_FRAMES,
  FRAMES_PER_SECOND,
  SAMPLES_PER_FRAME,
  SECTOR_BYTES,
  TICKS_PER_FRAME,
  ceilToFrame,
  floorToFrame,
  formatMsf,
  frames,
  framesToTicks,
  parseMsf,
} from './frames.js';
export { type Interval, intervalLength, isInside, overlaps } from './interval.js';
export {
  type Frames,
  type Samples,
  TICKS_PER_SECOND,
  type Ticks,
  samples,
  samplesToTicks,
  secondsToTicks,
  ticks,
  ticksToSamples,
  ticksToSeconds,
} from './ticks.js';
export { formatClock, formatRate, parseTime } from './timecode.js';

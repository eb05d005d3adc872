import type { MasterMeasurement } from '../measure/master-meters.js';
import { isInteger, wordBits } from '../pcm/block.js';
import type { PcmInfo } from '../pcm/pcm-file.js';

/** How long it may be quiet before the sound, and after it has fallen under −72 dBFS, before somebody asks, seconds. */
const LONG_HEAD = 3;
const LONG_TAIL = 4;
/** Sound that still stands this close to the very end (or begins there) was cut off, seconds. */
const EDGE = 0.005;
/** Share of full scale from which an offset is worth a word: −60 dB. */
const LARGE_OFFSET = 0.001;
/** Correlation below which the channels work against each other. */
const INVERTED = -0.3;

/** What is doubtful about a master: figures, no sentence. */
export type MasterDoubt =
  | { readonly code: 'lossy'; readonly codec: string }
  | { readonly code: 'silent' }
  | { readonly code: 'clips'; readonly runs: number; readonly firstSeconds: number }
  | { readonly code: 'over-full-scale'; readonly peakDbfs: number }
  | { readonly code: 'fewer-bits'; readonly declared: number; readonly used: number }
  | { readonly code: 'dithered'; readonly bits: number }
  | { readonly code: 'mono' }
  | { readonly code: 'one-sided' }
  | { readonly code: 'same-channels' }
  | { readonly code: 'inverted'; readonly correlation: number }
  | { readonly code: 'offset'; readonly percent: number }
  | { readonly code: 'starts-abruptly' }
  | { readonly code: 'ends-abruptly' }
  | { readonly code: 'noise-before'; readonly seconds: number }
  | { readonly code: 'long-head'; readonly seconds: number }
  | { readonly code: 'long-tail'; readonly seconds: number };
export type MasterDoubtCode = MasterDoubt['code'];

export interface DoubtSubject {
  readonly info: PcmInfo;
  readonly coding: { readonly codec: string; readonly lossy: boolean } | null;
  readonly measurement: MasterMeasurement | null;
}

/** Everything that an engineer would want to know before the file goes on the record, the gravest first. */
export function masterDoubts({ info, coding, measurement }: DoubtSubject): MasterDoubt[] {
  const lossy: MasterDoubt[] = coding?.lossy ? [{ code: 'lossy', codec: coding.codec }] : [];
  if (!measurement) return lossy;
  if (measurement.samplePeakDbfs === null) return [...lossy, { code: 'silent' }];
  return [
    ...lossy,
    ...levelDoubts(info, measurement),
    ...channelDoubts(info, measurement),
    ...edgeDoubts(info, measurement),
    ...wordDoubts(info, measurement),
  ];
}

function levelDoubts({ rate, format }: PcmInfo, measurement: MasterMeasurement): MasterDoubt[] {
  const found: MasterDoubt[] = [];
  const first = measurement.clipped[0];
  if (first) found.push({ code: 'clips', runs: measurement.clippedRuns, firstSeconds: first.at / rate });
  const peakDbfs = measurement.samplePeakDbfs ?? -Infinity;
  if (!isInteger(format) && peakDbfs > 0) found.push({ code: 'over-full-scale', peakDbfs });
  return found;
}

function channelDoubts({ channels }: PcmInfo, measurement: MasterMeasurement): MasterDoubt[] {
  const { correlation, dcLeft, dcRight } = measurement;
  const found: MasterDoubt[] = [];
  if (channels === 1) found.push({ code: 'mono' });
  else if (correlation === null) found.push({ code: 'one-sided' });
  else if (correlation > 0.99999) found.push({ code: 'same-channels' });
  else if (correlation < INVERTED) found.push({ code: 'inverted', correlation });
  const offset = Math.max(Math.abs(dcLeft), Math.abs(dcRight));
  if (offset > LARGE_OFFSET) found.push({ code: 'offset', percent: 100 * offset });
  return found;
}

function edgeDoubts({ rate, length }: PcmInfo, measurement: MasterMeasurement): MasterDoubt[] {
  const found: MasterDoubt[] = [];
  const [loud, soft, quiet] = measurement.edges;
  if (loud?.start == null || loud.end === null) return found;
  const head = loud.start / rate;
  const tail = (length - (soft?.end ?? loud.end)) / rate;
  const noise = head - (quiet?.start ?? loud.start) / rate;
  if (head < EDGE) found.push({ code: 'starts-abruptly' });
  if ((length - loud.end) / rate < EDGE) found.push({ code: 'ends-abruptly' });
  if (noise > 0.5) found.push({ code: 'noise-before', seconds: noise });
  if (head > LONG_HEAD) found.push({ code: 'long-head', seconds: head });
  if (tail > LONG_TAIL) found.push({ code: 'long-tail', seconds: tail });
  return found;
}

function wordDoubts({ format, validBits }: PcmInfo, measurement: MasterMeasurement): MasterDoubt[] {
  const { bitsUsed, ditherTrace } = measurement;
  if (bitsUsed === null) return [];
  const declared = isInteger(format) ? validBits : wordBits(format);
  const found: MasterDoubt[] = [];
  if (bitsUsed < declared) found.push({ code: 'fewer-bits', declared, used: bitsUsed });
  if (bitsUsed <= 16 && ditherTrace === 'yes') found.push({ code: 'dithered', bits: bitsUsed });
  return found;
}

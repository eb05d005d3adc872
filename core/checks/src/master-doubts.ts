import type { MasterMeasurement } from '@oiseau/audio/measure';
import { isInteger, wordBits, type PcmInfo } from '@oiseau/audio/pcm';

/** Silence before the sound, and after it falls below −72 dBFS, that is likely to be queried, seconds. */
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
  | {
      readonly code: 'lossy-past';
      readonly edgeHz: number;
      readonly dropDb: number;
      readonly degree: DoubtDegree;
      /** The moment that shows it best. */
      readonly atSeconds: number;
    }
  | {
      readonly code: 'upsampled';
      /** Above it there is nothing but noise, or the mirror of what is below. */
      readonly edgeHz: number;
      /** The rate that it may have come from. */
      readonly fromHz: number;
      readonly mirrored: boolean;
      readonly degree: DoubtDegree;
      readonly atSeconds: number;
    }
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
/** How sure: a converter's filter can look the same · little else looks like it · next to nothing else does. */
export type DoubtDegree = 'possible' | 'likely' | 'clear';
export type MasterDoubtCode = MasterDoubt['code'];

export interface DoubtSubject {
  readonly info: Pick<PcmInfo, 'rate' | 'channels' | 'format' | 'validBits' | 'length'>;
  readonly coding: { readonly codec: string; readonly lossy: boolean } | null;
  readonly measurement: MasterMeasurement | null;
}

type Info = DoubtSubject['info'];

/** Everything that an engineer would want to know before the file goes on the record, the gravest first. */
export function masterDoubts({ info, coding, measurement }: DoubtSubject): MasterDoubt[] {
  const lossy: MasterDoubt[] = coding?.lossy ? [{ code: 'lossy', codec: coding.codec }] : [];
  if (!measurement) return lossy;
  if (measurement.samplePeakDbfs === null) return [...lossy, { code: 'silent' }];
  return [
    ...lossy,
    ...(lossy.length > 0 ? [] : pastDoubts(info, measurement)),
    ...levelDoubts(info, measurement),
    ...channelDoubts(info, measurement),
    ...edgeDoubts(info, measurement),
    ...wordDoubts(info, measurement),
  ];
}

/** What a natural spectrum does not fall by within a kilohertz, dB, and what makes it certain (docs/rules.md 12.3). */
const STEEP_DB = 25;
const VERY_STEEP_DB = 40;
/** Above it a converter's own filter ends; from the lower one on it may, Hz. */
const CONVERTERS_HZ = 20_700;
const MAYBE_CONVERTERS_HZ = 19_800;
/** Edges of conversions lie so near half of the rate that was, by its multiple. */
const UNDER = 0.955;
const OVER = 1.01;
/** A conversion leaves more stillness than this above its edge; coders that cut at 16 kHz left 54 dB at the most of what was tried. */
const CONVERTED_DB = 60;
const CODERS_TOO_HZ = 32_000;
const RATES_HZ = [22_050, 32_000, 44_100, 48_000, 88_200, 96_000] as const;

/** A lossy past and a lower rate, told by a steep edge that stands where it is in the loudest moments as well (docs/rules.md 12.3). */
function pastDoubts({ rate }: Info, { upperEnd }: MasterMeasurement): MasterDoubt[] {
  if (!upperEnd) return [];
  const { edge, mirror, at } = upperEnd;
  const atSeconds = at / rate;
  if (mirror)
    return [
      {
        ...{ code: 'upsampled', edgeHz: mirror.hz, fromHz: 2 * mirror.hz, mirrored: true },
        ...{ degree: 'clear', atSeconds },
      },
    ];
  if (!edge || edge.dropDb < STEEP_DB) return [];
  const { hz, dropDb } = edge;
  const sure: DoubtDegree = dropDb >= VERY_STEEP_DB ? 'clear' : 'likely';
  const from = RATES_HZ.find(
    (each) => each < 0.96 * rate && hz >= UNDER * (each / 2) && hz <= OVER * (each / 2),
  );
  // Coders cut at half of 32 kHz as well: the stillness above an edge tells them from a conversion.
  if (from !== undefined && (from !== CODERS_TOO_HZ || dropDb >= CONVERTED_DB))
    return [{ code: 'upsampled', edgeHz: hz, fromHz: from, mirrored: false, degree: sure, atSeconds }];
  if (hz > CONVERTERS_HZ) {
    // So far under half of the rate no converter ends; which rate it was can be guessed only.
    const guess = RATES_HZ.findLast((each) => each / 2 <= hz) ?? 44_100;
    return hz < 0.42 * rate
      ? [{ code: 'upsampled', edgeHz: hz, fromHz: guess, mirrored: false, degree: 'likely', atSeconds }]
      : [];
  }
  const degree = hz >= MAYBE_CONVERTERS_HZ ? 'possible' : sure;
  return [{ code: 'lossy-past', edgeHz: hz, dropDb, degree, atSeconds }];
}

function levelDoubts({ rate, format }: Info, measurement: MasterMeasurement): MasterDoubt[] {
  const found: MasterDoubt[] = [];
  const first = measurement.clipped[0];
  if (first) found.push({ code: 'clips', runs: measurement.clippedRuns, firstSeconds: first.at / rate });
  const peakDbfs = measurement.samplePeakDbfs ?? -Infinity;
  if (!isInteger(format) && peakDbfs > 0) found.push({ code: 'over-full-scale', peakDbfs });
  return found;
}

function channelDoubts({ channels }: Info, measurement: MasterMeasurement): MasterDoubt[] {
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

function edgeDoubts({ rate, length }: Info, measurement: MasterMeasurement): MasterDoubt[] {
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

function wordDoubts({ format, validBits }: Info, measurement: MasterMeasurement): MasterDoubt[] {
  const { bitsUsed, ditherTrace } = measurement;
  if (bitsUsed === null) return [];
  const declared = isInteger(format) ? validBits : wordBits(format);
  const found: MasterDoubt[] = [];
  if (bitsUsed < declared) found.push({ code: 'fewer-bits', declared, used: bitsUsed });
  if (bitsUsed <= 16 && ditherTrace === 'yes') found.push({ code: 'dithered', bits: bitsUsed });
  return found;
}

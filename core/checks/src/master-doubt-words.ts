import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import type { DoubtDegree, MasterDoubt, MasterDoubtCode } from './master-doubts.js';

type Of<C extends MasterDoubtCode> = Extract<MasterDoubt, { code: C }>;
type Table = { [C in MasterDoubtCode]: (doubt: Of<C>) => string };

const seconds = (value: number): string => `${value.toFixed(1)} s`;

const DEGREES: Readonly<Record<DoubtDegree, string>> = {
  possible: 'maybe',
  likely: 'likely',
  clear: 'very likely',
};
const kHz = (hz: number): string => `${Number((hz / 1000).toFixed(2))} kHz`;
const clock = (at: number): string => formatClock(secondsToTicks(at));

/** A few words for each doubt. A new code breaks the build here until somebody words it. */
const WORDS = {
  lossy: ({ codec }) => `lossy (${codec}), no master`,
  'lossy-past': ({ edgeHz, dropDb, degree, atSeconds }) =>
    `${DEGREES[degree]} out of a lossy file: ends at ${kHz(edgeHz)}, ${dropDb.toFixed(0)} dB steep, best heard at ${clock(atSeconds)}`,
  upsampled: ({ edgeHz, fromHz, mirrored, degree, atSeconds }) =>
    `${DEGREES[degree]} upsampled from ${kHz(fromHz)}: ${mirrored ? `mirrored about ${kHz(edgeHz)}` : `nothing but noise above ${kHz(edgeHz)}`}, best seen at ${clock(atSeconds)}`,
  silent: () => 'nothing but digital silence',
  clips: ({ runs, firstSeconds }) =>
    `clips ${runs === 1 ? 'once, at' : `${runs} times, first at`} ${formatClock(secondsToTicks(firstSeconds), 3)}`,
  'over-full-scale': ({ peakDbfs }) => `float peaks ${peakDbfs.toFixed(1)} dB over full scale`,
  'fewer-bits': ({ declared, used }) => `${declared}-bit words hold ${used} bits`,
  dithered: ({ bits }) => `dithered to ${bits} bit already`,
  mono: () => 'mono, on both sides',
  'one-sided': () => 'one channel is silent',
  'same-channels': () => 'both channels are the same',
  inverted: ({ correlation }) =>
    `channels work against each other (correlation ${correlation.toFixed(2).replace('-', '−')})`,
  offset: ({ percent }) => `DC offset of ${percent.toFixed(2)} %`,
  'starts-abruptly': () => 'sound from the first sample: chopped, or noise?',
  'ends-abruptly': () => 'ends at full sound: chopped, or runs into the next',
  'noise-before': ({ seconds: value }) => `noise for ${seconds(value)} before the sound`,
  'long-head': ({ seconds: value }) => `${seconds(value)} before the sound starts`,
  'long-tail': ({ seconds: value }) => `${seconds(value)} after the sound has died away`,
} satisfies Table;

export function wordDoubt(doubt: MasterDoubt): string {
  return (WORDS[doubt.code] as (doubt: MasterDoubt) => string)(doubt);
}

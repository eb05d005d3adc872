import { decibelText } from '@oiseau/audio/dsp';
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

/** A short text for each concern. A new code doesn't compile until it has one. */
const WORDS = {
  lossy: ({ codec }) => `lossy file (${codec})`,
  'lossy-past': ({ edgeHz, dropDb, degree, atSeconds }) =>
    `${DEGREES[degree]} decoded from a lossy file: cut off at ${kHz(edgeHz)} by ${dropDb.toFixed(0)} dB, clearest at ${clock(atSeconds)}`,
  upsampled: ({ edgeHz, fromHz, mirrored, degree, atSeconds }) =>
    `${DEGREES[degree]} upsampled from ${kHz(fromHz)}: ${mirrored ? `mirrored about ${kHz(edgeHz)}` : `only noise above ${kHz(edgeHz)}`}, clearest at ${clock(atSeconds)}`,
  silent: () => 'only digital silence',
  clips: ({ runs, firstSeconds }) =>
    `clips ${runs === 1 ? 'once, at' : `${runs} times, first at`} ${formatClock(secondsToTicks(firstSeconds), 3)}`,
  'over-full-scale': ({ peakDbfs }) => `float peaks ${decibelText(peakDbfs, 1, 0)} dB over full scale`,
  'fewer-bits': ({ declared, used }) => `${declared}-bit file with ${used} bits in use`,
  dithered: ({ bits }) => `already dithered to ${bits} bit`,
  mono: () => 'mono on both channels',
  'one-sided': () => 'one channel is silent',
  'same-channels': () => 'both channels are identical',
  inverted: ({ correlation }) =>
    `channels out of phase (correlation ${correlation.toFixed(2).replace('-', '−')})`,
  offset: ({ percent }) => `DC offset of ${percent.toFixed(2)} %`,
  'starts-abruptly': () => 'starts with sound at the first sample: cut off, or noise?',
  'ends-abruptly': () => 'ends in full sound: cut off, or runs into the next track',
  'noise-before': ({ seconds: value }) => `${seconds(value)} of noise before the sound`,
  'long-head': ({ seconds: value }) => `${seconds(value)} of silence before the sound`,
  'long-tail': ({ seconds: value }) => `${seconds(value)} of silence after the sound`,
} satisfies Table;

export function wordDoubt(doubt: MasterDoubt): string {
  return (WORDS[doubt.code] as (doubt: MasterDoubt) => string)(doubt);
}

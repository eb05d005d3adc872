import { decibelText } from '@oiseau/audio/dsp';
import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import type { DoubtDegree, MasterDoubt, MasterDoubtCode } from './master-doubts.js';
import { figure, msg, type Message } from '@oiseau/messages';

type Of<C extends MasterDoubtCode> = Extract<MasterDoubt, { code: C }>;
type Table = { [C in MasterDoubtCode]: (doubt: Of<C>) => Message };

const seconds = (value: number) => figure(`${value.toFixed(1)} s`);

const DEGREES: Readonly<Record<DoubtDegree, Message>> = {
  possible: msg('maybe'),
  likely: msg('likely'),
  clear: msg('very likely'),
};
const kHz = (hz: number) => figure(`${Number((hz / 1000).toFixed(2))} kHz`);
const clock = (at: number): string => formatClock(secondsToTicks(at));

/** A short text for each concern. A new code doesn't compile until it has one. */
const WORDS = {
  lossy: ({ codec }) => msg('lossy file ({codec})', { codec }),
  'lossy-past': ({ edgeHz, dropDb, degree, atSeconds }) =>
    msg('{degree} decoded from a lossy file: cut off at {edge} by {drop} dB, clearest at {at}', {
      degree: DEGREES[degree],
      edge: kHz(edgeHz),
      drop: dropDb.toFixed(0),
      at: clock(atSeconds),
    }),
  upsampled: ({ edgeHz, fromHz, mirrored, degree, atSeconds }) =>
    mirrored
      ? msg('{degree} upsampled from {from}: mirrored about {edge}, clearest at {at}', {
          degree: DEGREES[degree],
          from: kHz(fromHz),
          edge: kHz(edgeHz),
          at: clock(atSeconds),
        })
      : msg('{degree} upsampled from {from}: only noise above {edge}, clearest at {at}', {
          degree: DEGREES[degree],
          from: kHz(fromHz),
          edge: kHz(edgeHz),
          at: clock(atSeconds),
        }),
  silent: () => msg('only digital silence'),
  clips: ({ runs, firstSeconds }) =>
    msg('{runs, plural, one {clips once, at {at}} other {clips # times, first at {at}}}', {
      runs,
      at: figure(formatClock(secondsToTicks(firstSeconds), 3)),
    }),
  'over-full-scale': ({ peakDbfs }) =>
    msg('float peaks {peak} dB over full scale', { peak: figure(decibelText(peakDbfs, 1, 0)) }),
  'fewer-bits': ({ declared, used }) =>
    msg('{declared}-bit file with {used} bits in use', { declared, used }),
  dithered: ({ bits }) => msg('already dithered to {bits} bit', { bits }),
  mono: () => msg('mono on both channels'),
  'one-sided': () => msg('one channel is silent'),
  'same-channels': () => msg('both channels are identical'),
  inverted: ({ correlation }) =>
    msg('channels out of phase (correlation {correlation})', {
      correlation: figure(correlation.toFixed(2).replace('-', '−')),
    }),
  offset: ({ percent }) => msg('DC offset of {percent} %', { percent: figure(percent.toFixed(2)) }),
  'starts-abruptly': () => msg('starts with sound at the first sample: cut off, or noise?'),
  'ends-abruptly': () => msg('ends in full sound: cut off, or runs into the next track'),
  'noise-before': ({ seconds: value }) =>
    msg('{seconds} of noise before the sound', { seconds: seconds(value) }),
  'long-head': ({ seconds: value }) =>
    msg('{seconds} of silence before the sound', { seconds: seconds(value) }),
  'long-tail': ({ seconds: value }) =>
    msg('{seconds} of silence after the sound', { seconds: seconds(value) }),
} satisfies Table;

export function wordDoubt(doubt: MasterDoubt): Message {
  return (WORDS[doubt.code] as (doubt: MasterDoubt) => Message)(doubt);
}

import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import type { MasterMeasurement } from '@oiseau/audio/measure';
import type { PcmInfo } from '@oiseau/audio/pcm';
import { wordDoubt } from './master-doubt-words.js';
import { masterDoubts, type DoubtSubject, type MasterDoubtCode } from './master-doubts.js';

const rate = 44_100;
const info: PcmInfo = {
  container: 'RIFF',
  rate,
  channels: 2,
  format: 'int24',
  order: 'little',
  validBits: 24,
  length: 60 * rate,
  dataOffset: 44,
};
/** A healthy master of a minute: sound from 0.2 s to 58 s. */
const measurement: MasterMeasurement = {
  integratedLufs: -14,
  loudnessRangeLu: 5,
  maxMomentaryLufs: -9,
  maxShortTermLufs: -11,
  samplePeakDbfs: -1,
  samplePeakAt: 10,
  truePeakDbtp: -0.9,
  clippedRuns: 0,
  clipped: [],
  dcLeft: 0.0001,
  dcRight: -0.0001,
  correlation: 0.6,
  bitsUsed: 24,
  ditherTrace: 'unclear',
  thirdOctavesDb: [],
  upperEnd: null,
  edges: [
    { levelDb: -60, start: 0.2 * rate, end: 58 * rate },
    { levelDb: -72, start: 0.2 * rate, end: 58.5 * rate },
    { levelDb: -90, start: 0.19 * rate, end: 59 * rate },
  ],
  silentHead: 10,
  silentTail: 10,
};
const edges = (start: number, end: number, quietStart = start): Partial<MasterMeasurement> => ({
  edges: [
    { levelDb: -60, start: start * rate, end: end * rate },
    { levelDb: -72, start: start * rate, end: end * rate },
    { levelDb: -90, start: quietStart * rate, end: end * rate },
  ],
});
const subject = (change: Partial<MasterMeasurement>, of: Partial<PcmInfo> = {}): DoubtSubject => ({
  info: { ...info, ...of },
  coding: null,
  measurement: { ...measurement, ...change },
});

/** A master whose upper end falls by so many dB at a place. */
const falling = (hz: number, dropDb: number, mirrorHz?: number): Partial<MasterMeasurement> => ({
  upperEnd: {
    ...{ bandHz: 100, bandsDb: [], at: 30 * rate, edge: { hz, dropDb, aboveDb: 0 } },
    mirror: mirrorHz === undefined ? null : { hz: mirrorHz, likeness: 0.9 },
  },
});

describe('what a master hides', () => {
  it.each([
    [44_100, 16_000, 45, { code: 'lossy-past', degree: 'clear', atSeconds: 30 }],
    [44_100, 17_300, 30, { code: 'lossy-past', degree: 'likely' }],
    // A converter's own filter can end here.
    [44_100, 20_200, 50, { code: 'lossy-past', degree: 'possible' }],
    [48_000, 15_600, 95, { code: 'upsampled', fromHz: 32_000 }],
    [48_000, 21_400, 70, { code: 'upsampled', fromHz: 44_100, degree: 'clear' }],
    [96_000, 23_400, 60, { code: 'upsampled', fromHz: 48_000 }],
    [96_000, 25_700, 37, { code: 'upsampled', degree: 'likely' }],
  ] as const)('at %i Hz, an edge at %i Hz of %i dB: %o', (of, hz, drop, wanted) => {
    const found = masterDoubts({ ...subject(falling(hz, drop), { rate: of }) });
    expect(found.filter(({ code }) => ['lossy-past', 'upsampled'].includes(code))).toMatchObject([wanted]);
    for (const doubt of found) expect(english(wordDoubt(doubt))).toMatch(/\S/);
  });

  it('is nothing where it falls gently, near half of the rate, or in a file that says itself that it is lossy', () => {
    const past = (hz: number, drop: number, of = rate): string[] =>
      masterDoubts(subject(falling(hz, drop), { rate: of }))
        .map(({ code }) => code)
        .filter((code) => ['lossy-past', 'upsampled'].includes(code));
    expect(past(16_000, 20)).toEqual([]);
    expect(past(21_500, 90)).toEqual([]);
    expect(past(23_500, 60, 48_000)).toEqual([]);
    expect(past(46_000, 60, 96_000)).toEqual([]);
    const lossy = { ...subject(falling(16_000, 60)), coding: { codec: 'mp3', lossy: true } };
    expect(masterDoubts(lossy).map(({ code }) => code)).toEqual(['lossy']);
  });

  it('is told by a mirror alone', () => {
    expect(masterDoubts(subject(falling(40_000, 10, 22_050), { rate: 96_000 }))).toMatchObject([
      { code: 'upsampled', fromHz: 44_100, mirrored: true },
    ]);
  });
});

describe('doubts about a master', () => {
  it('are none about a healthy one, nor about one that is not measured yet', () => {
    expect(masterDoubts(subject({}))).toEqual([]);
    expect(masterDoubts({ info, coding: null, measurement: null })).toEqual([]);
    expect(masterDoubts({ info, coding: { codec: 'flac', lossy: false }, measurement: null })).toEqual([]);
  });

  it.each<[MasterDoubtCode, DoubtSubject, DoubtSubject, string]>([
    ['lossy', { ...subject({}), coding: { codec: 'mp3', lossy: true } }, subject({}), 'lossy file (mp3)'],
    ['silent', subject({ samplePeakDbfs: null }), subject({}), 'only digital silence'],
    [
      'clips',
      subject({ clippedRuns: 14, clipped: [{ at: 42.31 * rate, length: 4, channel: 'left' }] }),
      subject({}),
      'clips 14 times, first at 0:42.310',
    ],
    [
      'over-full-scale',
      subject({ samplePeakDbfs: 1.26 }, { format: 'float32' }),
      subject({ samplePeakDbfs: 0 }, { format: 'float32' }),
      'float peaks 1.3 dB over full scale',
    ],
    ['fewer-bits', subject({ bitsUsed: 16 }), subject({ bitsUsed: 24 }), '24-bit file with 16 bits in use'],
    [
      'dithered',
      subject({ bitsUsed: 16, ditherTrace: 'yes' }),
      subject({ bitsUsed: 16, ditherTrace: 'no' }),
      'already dithered to 16 bit',
    ],
    ['mono', subject({}, { channels: 1 }), subject({}), 'mono on both channels'],
    ['one-sided', subject({ correlation: null }), subject({ correlation: 0 }), 'one channel is silent'],
    [
      'same-channels',
      subject({ correlation: 1 }),
      subject({ correlation: 0.9999 }),
      'both channels are identical',
    ],
    [
      'inverted',
      subject({ correlation: -0.85 }),
      subject({ correlation: -0.2 }),
      'channels out of phase (correlation −0.85)',
    ],
    ['offset', subject({ dcRight: -0.0123 }), subject({ dcRight: -0.0009 }), 'DC offset of 1.23 %'],
    [
      'starts-abruptly',
      subject(edges(0.001, 58)),
      subject(edges(0.01, 58)),
      'starts with sound at the first sample: cut off, or noise?',
    ],
    [
      'ends-abruptly',
      subject(edges(0.2, 59.999)),
      subject(edges(0.2, 59.9)),
      'ends in full sound: cut off, or runs into the next track',
    ],
    [
      'noise-before',
      subject(edges(2.5, 58, 0.3)),
      subject(edges(2.5, 58, 2.1)),
      '2.2 s of noise before the sound',
    ],
    ['long-head', subject(edges(3.5, 58)), subject(edges(2.9, 58)), '3.5 s of silence before the sound'],
    ['long-tail', subject(edges(0.2, 51)), subject(edges(0.2, 56.1)), '9.0 s of silence after the sound'],
  ])('%s is found where it is, and only there', (code, doubtful, right, words) => {
    const found = masterDoubts(doubtful).find((doubt) => doubt.code === code);
    expect(found && english(wordDoubt(found))).toBe(words);
    expect(masterDoubts(right).map((doubt) => doubt.code)).not.toContain(code);
  });
});

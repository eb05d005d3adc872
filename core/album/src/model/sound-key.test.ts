import { describe, expect, it } from 'vitest';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { sequence, sequenced } from '../testing.js';
import { soundKey } from './sound-key.js';

const s = secondsToTicks;
const two = (change: Parameters<typeof sequenced>[2] = {}) =>
  sequence(sequenced('a', 5), sequenced('b', 5, { master: 'n', ...change }));

describe('the sound key', () => {
  it('is written as it has been since the first render, so that old seeds give old dither', () => {
    // End pause, then of each song: rate, length and word of its master, in, out, gap, gain, both fades.
    const facts = (master: string) => (master === 'm' ? [44_100, 9, 'int16'] : [96_000, 8, 'int24']);
    expect(soundKey({ ...two({ gainDb: -1.5 }), endPause: ticks(7) }, facts)).toBe(
      '[7,[[44100,9,"int16",0,3528000000,1411200000,0,[0,"linear"],[0,"linear"]],' +
        '[96000,8,"int24",0,3528000000,1411200000,-1.5,[0,"linear"],[0,"linear"]]]]',
    );
  });

  it.each<[string, Parameters<typeof sequenced>[2]]>([
    ['master', { master: 'o' }],
    ['in point', { in: s(1) }],
    ['out point', { out: s(4) }],
    ['gap', { gapBefore: s(1) }],
    ['gain', { gainDb: 1 }],
    ['fade-in', { fadeIn: { length: s(1), shape: 'linear' } }],
    ['shape of a fade', { fadeOut: { length: ticks(0), shape: 'slow' } }],
  ])('changes with the %s', (_, change) => {
    expect(soundKey(two(change))).not.toBe(soundKey(two()));
  });

  it('stays with what is silent: marks, pauses, tempo, ids and numbers', () => {
    const tempo = { bpm: 90, bar: 4, beat: ticks(0) };
    const silent = two({ indexes: [s(1)], markLead: s(1), pauseDelay: s(1), tempo });
    expect(soundKey({ ...silent, markLead: s(3) })).toBe(soundKey(two()));
    const [first, ...rest] = two().songs;
    const hidden = { ...two(), songs: first ? [{ ...first, id: 'x', numbered: false }, ...rest] : [] };
    expect(soundKey(hidden)).toBe(soundKey(two()));
  });
});

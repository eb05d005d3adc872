import { newAlbum, newTrack, type Album, type Track } from './album/album.js';
import type { Sequence, SequenceTrack } from './album/sequence.js';
import type { PcmSource, WordFormat } from './pcm/block.js';
import { secondsToTicks, ticks } from './time/ticks.js';

/** Makers of small albums and sources for tests; nothing in the product imports this. */

const noFade = { length: ticks(0), shape: 'linear' } as const;

/** A track of so many seconds with two seconds before it. */
export function sequenceTrack(seconds: number, change: Partial<SequenceTrack> = {}): SequenceTrack {
  return {
    in: ticks(0),
    out: secondsToTicks(seconds),
    gapBefore: secondsToTicks(2),
    gainDb: 0,
    fadeIn: noFade,
    fadeOut: noFade,
    indexes: [],
    markLead: null,
    pauseDelay: null,
    ...change,
  };
}

export function sequence(...tracks: SequenceTrack[]): Sequence {
  return { hidden: null, tracks, markLead: ticks(0), endPause: ticks(0) };
}

/** A source whose sample n is `value(n)` on the left and its negative on the right. */
export function source(
  rate: number,
  seconds: number,
  value: (n: number) => number,
  format: WordFormat = 'int16',
): PcmSource {
  const length = Math.round(rate * seconds);
  return {
    rate,
    length,
    format,
    read: (start, count) => {
      const left = Float64Array.from({ length: count }, (_, i) =>
        start + i >= 0 && start + i < length ? value(start + i) : 0,
      );
      return Promise.resolve({ left, right: left.map((v) => -v) });
    },
  };
}

/** 16-bit words that look like noise and differ from sample to sample; never zero. */
export const words16 = (n: number): number => (((n * 7919) % 50_000) - 24_999.5 + 0.5 || 1) / 32_768;

export function album(...tracks: Partial<Track>[]): Album {
  return {
    ...newAlbum('Nine Tides'),
    performer: 'Marram Lamps',
    tracks: tracks.map((change, i) => ({
      ...newTrack(`t${i + 1}`, 'ab'.repeat(32), `Song ${i + 1}`),
      ...change,
    })),
  };
}

/** Place of the first difference between two stretches of audio or bytes, or −1; one number is easier to read than a million. */
export function firstDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const length = Math.max(a.length, b.length);
  for (let i = 0; i < length; i++) if (a[i] !== b[i]) return i;
  return -1;
}

import type { PcmSource, WordFormat } from './pcm/block.js';

/** Sources of samples for tests; nothing in the product imports this. */

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

/** Place of the first difference between two stretches of audio or bytes, or −1; one number is easier to read than a million. */
export function firstDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const length = Math.max(a.length, b.length);
  for (let i = 0; i < length; i++) if (a[i] !== b[i]) return i;
  return -1;
}

/** A source of samples in memory. @param right left out, both channels are alike */
export function sampleSource(left: Float64Array, rate: number, right = left): PcmSource {
  const cut = (audio: Float64Array, start: number, count: number): Float64Array =>
    Float64Array.from({ length: count }, (_, i) => audio[start + i] ?? 0);
  return {
    ...{ rate, length: left.length, format: 'float64' as const },
    read: (start, count) =>
      Promise.resolve({ left: cut(left, start, count), right: cut(right, start, count) }),
  };
}

import { describe, expect, it } from 'vitest';
import { seedFromText, uniform } from '../dsp/random.js';
import type { Block } from '../pcm/block.js';
import { estimateTempo } from './tempo.js';

const seed = seedFromText('strokes');
const noise = (n: number): number => uniform(seed, n) - 0.5;

/** Strokes of noise that die away, `strike(beat)` loud, from `first` s on, over a steady chord. */
function strokes(
  rate: number,
  seconds: number,
  bpm: number,
  first: number,
  strike: (beat: number) => number,
): Block {
  const length = Math.round(rate * seconds);
  const left = Float64Array.from({ length }, (_, n) => 0.05 * Math.sin((2 * Math.PI * 220 * n) / rate));
  for (let beat = 0; ; beat++) {
    const start = Math.round((first + (beat * 60) / bpm) * rate);
    if (start >= length) return { left, right: left };
    for (let n = 0; n < 0.2 * rate && start + n < length; n++)
      left[start + n] =
        (left[start + n] as number) + strike(beat) * Math.exp(-n / (0.03 * rate)) * noise(start + n);
  }
}

describe('the tempo of an ending', () => {
  it.each([
    [44_100, 92, 0.3],
    [48_000, 71.5, 0.11],
    [96_000, 128, 0.42],
  ])('is found at %i Hz: %f beats a minute', (rate, bpm, first) => {
    const found = estimateTempo(
      strokes(rate, 20, bpm, first, () => 0.5),
      rate,
      4,
    );
    expect(Math.abs((found?.bpm ?? 0) / bpm - 1)).toBeLessThan(0.003);
    // A beat lies within 15 ms of a stroke.
    const beats = ((found?.firstBeat ?? 0) - first) / (60 / bpm);
    expect((Math.abs(beats - Math.round(beats)) * 60) / bpm).toBeLessThan(0.015);
  });

  it('is found where the channels are against each other', () => {
    const { left } = strokes(44_100, 20, 92, 0.3, () => 0.5);
    const found = estimateTempo({ left, right: left.map((value) => -value) }, 44_100, 4);
    expect(Math.abs((found?.bpm ?? 0) / 92 - 1)).toBeLessThan(0.003);
  });

  it('begins a bar where it is struck hardest', () => {
    const found = estimateTempo(
      strokes(44_100, 20, 100, 0.2, (beat) => (beat % 3 === 2 ? 0.9 : 0.15)),
      44_100,
      3,
    );
    const beats = Math.round(((found?.firstBeat ?? 0) - 0.2) / 0.6);
    expect(beats % 3).toBe(2);
  });

  it('is none in silence, in a steady tone and in noise', () => {
    const length = 20 * 44_100;
    const block = (value: (n: number) => number): Block => {
      const left = Float64Array.from({ length }, (_, n) => value(n));
      return { left, right: left };
    };
    expect(
      estimateTempo(
        block(() => 0),
        44_100,
        4,
      ),
    ).toBeNull();
    expect(
      estimateTempo(
        block((n) => 0.5 * Math.sin((2 * Math.PI * 440 * n) / 44_100)),
        44_100,
        4,
      ),
    ).toBeNull();
    expect(
      estimateTempo(
        block((n) => 0.3 * noise(n)),
        44_100,
        4,
      ),
    ).toBeNull();
  });
});

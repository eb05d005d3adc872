import { describe, expect, it } from 'vitest';
import { seedFromText, uniform } from '../dsp/random.js';
import type { Block, PcmSource } from '../pcm/block.js';
import { estimateTempo, lastTempo } from './tempo.js';

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

describe('the last stretch that has a beat', () => {
  const rate = 44_100;
  const source = (audio: Block): PcmSource => ({
    ...{ rate, length: audio.left.length, format: 'float64' },
    read: (start, count) =>
      Promise.resolve({
        left: audio.left.slice(start, start + count),
        right: audio.right.slice(start, start + count),
      }),
  });
  /** Strokes at 92 a minute up to some second, then a chord that fades. */
  const fading = (seconds: number, until: number): Block => {
    const { left } = strokes(rate, seconds, 92, 0.3, () => 0.5);
    const chord = left.map((value, n) =>
      n < until * rate
        ? value
        : 0.05 * Math.sin((2 * Math.PI * 220 * n) / rate) * Math.exp(-(n / rate - until) / 4),
    );
    return { left: chord, right: chord };
  };

  it('is the end itself where that pulses, and it is sure', async () => {
    const { left } = strokes(rate, 40, 92, 0.3, () => 0.5);
    const found = await lastTempo(source({ left, right: left }), 0, 40 * rate, 4);
    expect(found).toMatchObject({ certainty: 'sure', start: 20 * rate, end: 40 * rate });
  });

  it('is one further back where the end fades away', async () => {
    const found = await lastTempo(source(fading(80, 40)), 0, 80 * rate, 4);
    expect(Math.abs((found?.bpm ?? 0) / 92 - 1)).toBeLessThan(0.003);
    expect(found?.end).toBeLessThanOrEqual(60 * rate);
    // The beat is told from the start of the stretch: it lies on a stroke of the song.
    const beat = ((found?.start ?? 0) / rate + (found?.firstBeat ?? 0) - 0.3) / (60 / 92);
    expect(Math.abs(beat - Math.round(beat))).toBeLessThan(0.03);
  });

  it('is none where nothing pulses, and nothing is looked at before the song begins', async () => {
    const still = fading(60, 20);
    expect(await lastTempo(source(still), 25 * rate, 60 * rate, 4)).toBeNull();
  });

  it('is a guess, at the most likely, where strokes wander', async () => {
    const left = new Float64Array(20 * rate);
    for (let at = 0.3, n = 0; at < 20; n++) {
      for (let i = 0; i < 0.2 * rate; i++)
        left[Math.round(at * rate) + i] = 0.5 * Math.exp(-i / (0.03 * rate)) * noise(i + 1000 * n);
      at += 0.5 + 0.25 * (noise(n) + 0.5);
    }
    const found = await lastTempo(source({ left, right: left }), 0, 20 * rate, 4);
    expect(found?.certainty ?? 'guess').not.toBe('sure');
  });
});

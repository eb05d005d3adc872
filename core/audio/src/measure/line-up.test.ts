import { describe, expect, it } from 'vitest';
import { sampleSource } from '../testing.js';
import { seedFromText, uniform } from '../dsp/random.js';
import type { PcmSource } from '../pcm/block.js';
import { measureLineUp } from './line-up.js';

const SECONDS = 20;

/** Strokes of filtered noise at uneven times, each with a ring of its own, from `late` seconds on. */
function band(name: string, rate: number, late: number): Float64Array {
  const seed = seedFromText(name);
  const audio = new Float64Array(rate * SECONDS);
  for (let n = 0; n < 60; n++) {
    const at = (n + 0.6 * uniform(seed, n)) * (SECONDS / 60) + late;
    const hz = 80 + 900 * uniform(seed, 100 + n);
    const phase = 2 * Math.PI * uniform(seed, 200 + n);
    const from = Math.max(0, Math.ceil(at * rate));
    for (let i = from; i < Math.min(audio.length, from + 0.3 * rate); i++) {
      const t = i / rate - at;
      // A function of time, so that the same band can be heard at any rate.
      const ring = Math.sin(2 * Math.PI * hz * t + phase) + 0.5 * Math.sin(2 * Math.PI * 7.3 * hz * t);
      audio[i] = (audio[i] as number) + 0.2 * Math.exp(-t / 0.05) * ring;
    }
  }
  return audio;
}
const mix = (...parts: Float64Array[]): Float64Array =>
  (parts[0] as Float64Array).map((_, i) => parts.reduce((sum, part) => sum + (part[i] as number), 0));
const of = (rate: number, ...parts: Float64Array[]): PcmSource => sampleSource(mix(...parts), rate);

describe('the shift of another recording', () => {
  const rate = 44_100;
  const full = of(rate, band('drums', rate, 0), band('voice', rate, 0));

  it.each([0, 1, 137, -2205, 44_100])('is told to the sample: %i', async (late) => {
    const instrumental = of(rate, band('drums', rate, late / rate));
    expect(await measureLineUp(full, instrumental)).toMatchObject({ samples: late, rate });
  });

  it('is told for what has nothing but the voice, and with the polarity turned round', async () => {
    const voice = band('voice', rate, 31 / rate).map((value) => -value);
    expect((await measureLineUp(full, of(rate, voice)))?.samples).toBe(31);
  });

  it('is told in samples of its own rate', async () => {
    const other = of(48_000, band('drums', 48_000, 0.01));
    expect(await measureLineUp(full, other)).toMatchObject({ samples: 480, rate: 48_000 });
  });

  it('is not told where nothing shows it', async () => {
    expect(await measureLineUp(full, of(rate, band('elsewhere', rate, 0)))).toBeNull();
    expect(await measureLineUp(full, of(rate, new Float64Array(rate * SECONDS)))).toBeNull();
  });

  it('is told of songs that are shorter than a window', async () => {
    const short = (audio: Float64Array): PcmSource => sampleSource(audio.subarray(0, rate), rate);
    const found = await measureLineUp(short(band('drums', rate, 0)), short(band('drums', rate, 0.002)));
    expect(found?.samples).toBe(88);
  });
});

import { describe, expect, it } from 'vitest';
import { uniform } from '../dsp/random.js';
import { bandwidthOf, UpperEndMeter, type UpperEnd } from './upper-edge.js';

const SIZE = 8192;

/** What the meter says of a spectrum that is the same at every moment. @param db of a bin at a frequency in Hz */
function upperEnd(rate: number, db: (hz: number, bin: number) => number, moments = 20): UpperEnd | null {
  const meter = new UpperEndMeter(rate, SIZE, 1);
  const power = Float64Array.from({ length: SIZE / 2 + 1 }, (_, k) => 10 ** (db((k * rate) / SIZE, k) / 10));
  for (let i = 0; i < moments; i++) meter.push(power);
  return meter.result();
}
const noise = (bin: number, seed = 1): number => 6 * (uniform({ a: seed, b: 2 }, bin) - 0.5);

describe('the upper end of a spectrum', () => {
  it('has its edge where it falls most steeply, and says by how much', () => {
    const found = upperEnd(44_100, (hz) => (hz < 16_000 ? -60 : -92));
    expect(found?.edge?.hz).toBeGreaterThanOrEqual(15_900);
    expect(found?.edge?.hz).toBeLessThanOrEqual(16_100);
    expect(found?.edge?.dropDb).toBeCloseTo(32, 0);
    expect(found?.edge?.aboveDb).toBeLessThan(1);
  });

  it('falls gently under a filter of 24 dB an octave: 200 Hz to 600 Hz beside 9.4 kHz are less than 3 dB', () => {
    const found = upperEnd(44_100, (hz) => -50 - 24 * Math.max(0, Math.log2(hz / 6000)));
    expect(found?.edge?.dropDb).toBeLessThan(4);
  });

  it('is that of the brightest moments, and names the first of them', () => {
    const meter = new UpperEndMeter(44_100, SIZE, 1);
    const flat = (db: number): Float64Array => new Float64Array(SIZE / 2 + 1).fill(10 ** (db / 10));
    for (let i = 0; i < 300; i++) meter.push(flat(-100));
    for (let i = 0; i < 30; i++) meter.push(flat(-60));
    for (let i = 0; i < 300; i++) meter.push(flat(-100));
    const found = meter.result();
    expect(found?.at).toBe(300 * SIZE);
    // A band of 100 Hz holds 18.6 bins.
    expect(found?.bandsDb[100]).toBeCloseTo(-60 + 10 * Math.log10(18.6), 0);
    expect(found?.bandsDb).toHaveLength(220);
  });

  it('repeats itself about half of the rate that it came from, and about nothing by chance', () => {
    const half = 22_050;
    const bands = (hz: number): number => noise(Math.floor((half - Math.abs(hz - half)) / 100));
    expect(upperEnd(88_200, (hz) => -60 + bands(hz) - (hz > half ? 20 : 0))?.mirror).toMatchObject({
      hz: half,
    });
    expect(upperEnd(88_200, (hz) => -60 + noise(Math.floor(hz / 100)))?.mirror).toBeNull();
  });

  it('sees no edge in tones, and no mirror in ripples', () => {
    // Partials of 3 kHz up to 18 kHz, in one bin of 18.6 each.
    const tones = upperEnd(44_100, (hz) => (hz < 18_100 && Math.abs((hz % 3000) - 30) < 3 ? -20 : -130));
    expect(tones?.edge?.dropDb).toBeLessThan(5);
    const ripples = (hz: number): number => 6 * Math.cos((2 * Math.PI * (hz - 22_050)) / 1900);
    expect(upperEnd(88_200, (hz) => -60 + ripples(hz))?.mirror).toBeNull();
  });

  it('is told of a signal that ends at 3 kHz, far below where edges are looked for', () => {
    const low = upperEnd(44_100, (hz) => (hz < 2950 ? -60 : -Infinity));
    expect(low && bandwidthOf(low)).toBe(3000);
    expect(low?.mirror).toBeNull();
    expect(low?.edge?.dropDb ?? 0).toBeLessThan(1);
  });

  it('is none of silence', () => {
    expect(upperEnd(44_100, () => -Infinity)).toBeNull();
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kWeighting } from './k-weighting.js';
import { LiveMeters } from './live-meters.js';
import { SignalMeter } from './signal.js';
import { Silhouette, SilhouetteMeter } from './silhouette.js';

describe('K-weighting', () => {
  it('gives the coefficients that BS.1770-4 tabulates at 48 kHz', () => {
    const { shelf, highPass: pass } = kWeighting(48_000);
    expect(shelf.b0).toBeCloseTo(1.53512485958697, 6);
    expect(shelf.b1).toBeCloseTo(-2.69169618940638, 6);
    expect(shelf.b2).toBeCloseTo(1.19839281085285, 6);
    expect(shelf.a1).toBeCloseTo(-1.69065929318241, 6);
    expect(shelf.a2).toBeCloseTo(0.73248077421585, 6);
    expect(pass.a1).toBeCloseTo(-1.99004745483398, 6);
    expect(pass.a2).toBeCloseTo(0.99007225036621, 6);
  });
});

describe('samples', () => {
  it('finds peak, clipped runs, offset and correlation', () => {
    const full = 32_767 / 32_768;
    const left = Float64Array.of(0.1, full, full, full, full, 0.2, full, full, 0);
    const right = left.map((v) => -v);
    const meter = new SignalMeter('int16');
    // A run that goes on over the edge of a block is one run.
    meter.push({ left: left.slice(0, 3), right: right.slice(0, 3) });
    meter.push({ left: left.slice(3), right: right.slice(3) });
    const found = meter.result();
    expect(found).toMatchObject({ samplePeak: full, samplePeakAt: 1, clippedRuns: 2, correlation: -1 });
    // −32767 of 32768 is full scale as well: the right channel clips where the left does.
    expect(found.clipped).toEqual([
      { at: 1, length: 4, channel: 'left' },
      { at: 1, length: 4, channel: 'right' },
    ]);
    expect(found.dcLeft).toBeCloseTo((0.1 + 6 * full + 0.2) / 9, 12);
    expect(found.dcRight).toBe(-found.dcLeft);
  });

  it('end a clipped run at the end of the file', () => {
    const meter = new SignalMeter('float32');
    meter.push({ left: Float64Array.of(0, 1, 1, 1.2), right: new Float64Array(4) });
    expect(meter.result().clipped).toEqual([{ at: 1, length: 3, channel: 'left' }]);
  });

  it('has no correlation where a channel is silent', () => {
    const meter = new SignalMeter('float32');
    meter.push({ left: Float64Array.of(0.5), right: Float64Array.of(0) });
    expect(meter.result().correlation).toBeNull();
  });
});

describe('silhouette', () => {
  it('has a peak and an RMS for each 1/75 s, however the blocks are cut', () => {
    const left = new Float64Array(588 * 3);
    left.fill(0.5, 588, 1176);
    left[1200] = -0.25;
    const meter = new SilhouetteMeter(44_100, left.length);
    for (let at = 0; at < left.length; at += 100)
      meter.push({ left: left.subarray(at, at + 100), right: left.subarray(at, at + 100) });
    const outline = meter.result();
    expect(outline.length).toBe(3);
    expect(outline.over(0, 1)).toEqual({ peak: 0, rms: 0 });
    expect(outline.over(1, 2)).toEqual({ peak: 0.5, rms: 0.5 });
    expect(outline.over(2, 3).peak).toBe(0.25);
    expect(outline.over(0, 3).peak).toBe(0.5);
  });

  it('is seen in coarser steps by its highest peak and its mean power', () => {
    const values = Uint16Array.of(100, 30, 400, 40, 200, 0, 8, 8, 16, 16);
    const coarse = new Silhouette(values).coarser(2);
    // √((30² + 40²)/2) = 35.36, √(0 + 8²)/2) = 5.66; the last stands alone
    expect([...coarse.values]).toEqual([400, 35, 200, 6, 16, 16]);
    expect(new Silhouette(values).coarser(1).values).toBe(values);
    expect([...Silhouette.fromBytes(Uint8Array.of(0, 1, 2, 0)).values]).toEqual([256, 2]);
  });

  it('is read over any buckets as if each of them were looked at', () => {
    // Bucket k has the peak 7k mod 101 and the RMS k mod 50; 32 of them together are also kept as one.
    const length = 500;
    const values = Uint16Array.from({ length: 2 * length }, (_, i) =>
      i % 2 ? (i >> 1) % 50 : (7 * (i >> 1)) % 101,
    );
    const outline = new Silhouette(values);
    fc.assert(
      fc.property(fc.nat(length - 1), fc.nat(length), (from, count) => {
        const to = Math.min(length, from + Math.max(1, count));
        const buckets = Array.from({ length: to - from }, (_, i) => from + i);
        const peak = Math.max(...buckets.map((k) => (7 * k) % 101)) / 32_768;
        const power = buckets.reduce((sum, k) => sum + (k % 50) ** 2, 0) / buckets.length;
        expect(outline.over(from, to)).toEqual({ peak, rms: Math.sqrt(power) / 32_768 });
      }),
    );
  });

  it('keeps in step at a rate that 75 does not divide', () => {
    const meter = new SilhouetteMeter(32_000, 32_000);
    const audio = new Float64Array(32_000);
    audio[31_999] = 1;
    meter.push({ left: audio, right: audio });
    const outline = meter.result();
    expect(outline.length).toBe(75);
    expect(outline.over(74, 75).peak).toBe(1);
    expect(outline.over(73, 74).peak).toBe(0);
  });
});

describe('live meters', () => {
  const tone = (from: number, count: number, level: number): Float64Array =>
    Float64Array.from(
      { length: count },
      (_, n) => level * Math.sin((2 * Math.PI * 1000 * (from + n)) / 44_100),
    );
  /** Feeds them in the blocks of 128 samples that an audio thread has. */
  let fed = 0;
  const feed = (meters: LiveMeters, seconds: number, level: number, right: number): void => {
    for (const end = fed + seconds * 44_100; fed < end; fed += 128) {
      const left = tone(fed, 128, level);
      meters.push({ left, right: left.map((value) => right * value) });
    }
  };

  it('read a stereo sine at −23 dBFS as −23 LUFS, and follow it', () => {
    const meters = new LiveMeters(44_100);
    const level = 10 ** (-23 / 20);
    feed(meters, 0.3, level, 1);
    expect(meters.read().momentaryLufs).toBeNull();
    feed(meters, 3, level, 1);
    const { momentaryLufs, shortTermLufs, samplePeak, truePeak, correlation } = meters.read();
    for (const found of [momentaryLufs, shortTermLufs]) expect(found).toBeCloseTo(-23, 1);
    for (const peak of [samplePeak, truePeak]) expect(20 * Math.log10(peak)).toBeCloseTo(-23, 1);
    expect(correlation).toBeCloseTo(1, 9);
    feed(meters, 0.5, level / 10, -1);
    const later = meters.read();
    expect(later.momentaryLufs).toBeCloseTo(-43, 1);
    expect(later.shortTermLufs).toBeGreaterThan(-25);
    expect(20 * Math.log10(later.samplePeak)).toBeCloseTo(-43, 1);
    expect(later.correlation).toBeCloseTo(-1, 9);
  });

  it('have no figure for silence', () => {
    const meters = new LiveMeters(44_100);
    feed(meters, 3.1, 0, 0);
    expect(meters.read()).toEqual({
      samplePeak: 0,
      truePeak: 0,
      momentaryLufs: null,
      shortTermLufs: null,
      correlation: null,
    });
  });
});

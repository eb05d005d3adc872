import { describe, expect, it } from 'vitest';
import type { Block } from '../pcm/block.js';
import { kWeighting } from './k-weighting.js';
import { LoudnessMeter, type Loudness } from './loudness.js';
import { SignalMeter } from './signal.js';
import { SilhouetteMeter } from './silhouette.js';
import { TruePeakMeter } from './true-peak.js';

/** A stereo 1 kHz sine in steps of [seconds, dBFS], as EBU Tech 3341 makes its test signals. */
function steps(rate: number, ...parts: [number, number][]): Block {
  const left = new Float64Array(parts.reduce((sum, [seconds]) => sum + Math.round(seconds * rate), 0));
  let at = 0;
  for (const [seconds, db] of parts) {
    const end = at + Math.round(seconds * rate);
    for (; at < end; at++) left[at] = 10 ** (db / 20) * Math.sin((2 * Math.PI * 1000 * at) / rate);
  }
  return { left, right: left };
}

function loudness(rate: number, block: Block, blockLength = 10_007): Loudness {
  const meter = new LoudnessMeter(rate);
  for (let at = 0; at < block.left.length; at += blockLength) {
    meter.push({
      left: block.left.subarray(at, at + blockLength),
      right: block.right.subarray(at, at + blockLength),
    });
  }
  return meter.result();
}

describe('K-weighting', () => {
  it('gives the coefficients that BS.1770-4 tabulates at 48 kHz', () => {
    const [shelf, pass] = kWeighting(48_000);
    expect(shelf.b0).toBeCloseTo(1.53512485958697, 6);
    expect(shelf.b1).toBeCloseTo(-2.69169618940638, 6);
    expect(shelf.b2).toBeCloseTo(1.19839281085285, 6);
    expect(shelf.a1).toBeCloseTo(-1.69065929318241, 6);
    expect(shelf.a2).toBeCloseTo(0.73248077421585, 6);
    expect(pass.a1).toBeCloseTo(-1.99004745483398, 6);
    expect(pass.a2).toBeCloseTo(0.99007225036621, 6);
  });
});

describe('loudness: EBU Tech 3341 and 3342', () => {
  it.each([44_100, 48_000, 96_000])('case 1 and 2 at %i Hz: a sine at −23 and −33 dBFS', (rate) => {
    for (const level of [-23, -33]) {
      const found = loudness(rate, steps(rate, [20, level]));
      expect(found.integratedLufs).toBeCloseTo(level, 1);
      expect(found.maxMomentaryLufs).toBeCloseTo(level, 1);
      expect(found.maxShortTermLufs).toBeCloseTo(level, 1);
    }
  });

  it.each<[string, [number, number][]]>([
    [
      'case 3',
      [
        [10, -36],
        [60, -23],
        [10, -36],
      ],
    ],
    [
      'case 4',
      [
        [10, -72],
        [10, -36],
        [60, -23],
        [10, -36],
        [10, -72],
      ],
    ],
    [
      'case 5',
      [
        [20, -26],
        [20.1, -20],
        [20, -26],
      ],
    ],
  ])('%s: the gates leave −23.0 ±0.1 LUFS', (_, parts) => {
    expect(Math.abs((loudness(48_000, steps(48_000, ...parts)).integratedLufs ?? 0) + 23)).toBeLessThan(0.1);
  });

  it.each<[number, [number, number][]]>([
    [
      10,
      [
        [20, -20],
        [20, -30],
      ],
    ],
    [
      5,
      [
        [20, -20],
        [20, -15],
      ],
    ],
    [
      20,
      [
        [20, -40],
        [20, -20],
      ],
    ],
    [
      15,
      [
        [20, -50],
        [20, -35],
        [20, -20],
        [20, -35],
        [20, -50],
      ],
    ],
  ])('Tech 3342: a range of %i LU ±1', (range, parts) => {
    expect(Math.abs((loudness(48_000, steps(48_000, ...parts)).loudnessRangeLu ?? 0) - range)).toBeLessThan(
      1,
    );
  });

  it('has no figure for silence', () => {
    const quiet = new Float64Array(48_000 * 4);
    expect(loudness(48_000, { left: quiet, right: quiet })).toEqual({
      integratedLufs: null,
      loudnessRangeLu: null,
      maxMomentaryLufs: null,
      maxShortTermLufs: null,
    });
  });
});

describe('true peak: EBU Tech 3341 cases 15 to 19', () => {
  const tone = (fraction: number, degrees: number, amplitude: number): Block => {
    const left = Float64Array.from({ length: 48_000 }, (_, n) => {
      const edge = Math.min(1, n / 2_400, (47_999 - n) / 2_400);
      return edge * amplitude * Math.sin(2 * Math.PI * fraction * n + (degrees * Math.PI) / 180);
    });
    return { left, right: new Float64Array(48_000) };
  };
  it.each([
    [1 / 4, 0, 0.5, -6],
    [1 / 4, 45, 0.5, -6],
    [1 / 6, 60, 0.5, -6],
    [1 / 8, 67.5, 0.5, -6],
    [1 / 4, 45, 1.41, 3],
  ])('fs·%f at %f° and %f reads %f dBTP within +0.2/−0.4 dB', (fraction, degrees, amplitude, wanted) => {
    const meter = new TruePeakMeter(48_000);
    const { left, right } = tone(fraction, degrees, amplitude);
    for (let at = 0; at < left.length; at += 999)
      meter.push({ left: left.subarray(at, at + 999), right: right.subarray(at, at + 999) });
    const found = 20 * Math.log10(meter.result());
    expect(found - wanted).toBeLessThan(0.2);
    expect(found - wanted).toBeGreaterThan(-0.4);
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
    expect(found.dcOffset).toBeCloseTo((0.1 + 6 * full + 0.2) / 9, 12);
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

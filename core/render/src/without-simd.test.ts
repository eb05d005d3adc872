import { sequence, sequenced } from '@oiseau/album/testing';
import { source } from '@oiseau/audio/testing';
import { afterEach, expect, it, vi } from 'vitest';

/** What an album of two masters sounds and measures like, computed by modules that are loaded anew. */
async function heard() {
  vi.resetModules();
  const { Meters } = await import('@oiseau/audio/measure');
  const { SpectrumMeter } = await import('../../audio/src/measure/spectrum.js');
  const { Quantiser } = await import('@oiseau/audio/dsp');
  const { NullTest } = await import('@oiseau/audio/measure');
  const { Programme } = await import('./programme.js');
  const { kernels } = await import('../../audio/src/kernels/kernels.js');
  const masters = new Map([
    ['a', source(96_000, 0.6, (n) => 0.7 * Math.sin(n * 0.031) * Math.sin(n * 0.0007), 'int24')],
    ['b', source(44_100, 0.6, (n) => 0.99 * Math.sin(n * 0.4) * Math.cos(n * 0.011), 'int24')],
  ]);
  const of = sequence(
    sequenced('a', 0.6, { master: 'a' }),
    sequenced('b', 0.6, { master: 'b', gainDb: -1.5 }),
  );
  const programme = new Programme(of, masters, 44_100);
  const quantiser = new Quantiser('int16', 'shaped', { a: 3, b: 4 }, programme.touchedRanges(16), 588);
  const nullTest = new NullTest('int16');
  const meters = new Meters(44_100, 'int16');
  const spectrum = new SpectrumMeter(44_100);
  const words: number[] = [];
  for (let at = 0; at < programme.length; at += 588 * 8) {
    const block = await programme.read(at, 588 * 8);
    const piece = quantiser.words(block, at);
    words.push(...piece);
    nullTest.push(piece, block);
    meters.pushWords(piece);
    spectrum.push(block);
  }
  const { samplePeak, residual } = nullTest;
  return {
    ...{ simd: kernels !== null, words, samplePeak, residual },
    ...{ measured: meters.result(), bands: spectrum.result() },
  };
}

afterEach(() => {
  vi.doUnmock('../../audio/src/kernels/kernels.js');
  vi.resetModules();
});

it('a machine without SIMD renders the same words and measures the same figures', async () => {
  const withSimd = await heard();
  vi.doMock('../../audio/src/kernels/kernels.js', () => ({ kernels: null }));
  const without = await heard();
  expect([withSimd.simd, without.simd]).toEqual([true, false]);
  expect(without.words.length).toBeGreaterThan(44_100 * 4 * 4);
  expect({ ...without, simd: true }).toEqual(withSimd);
});

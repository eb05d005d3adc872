import { describe, expect, it } from 'vitest';
import { NullTest } from './null-test.js';

/** Words of one sample, left and right, laid against a programme. */
function laid(format: 'int16' | 'float32', words: number[], left: number, right: number): NullTest {
  const test = new NullTest(format);
  const stored = format === 'int16' ? Int16Array.from(words) : Float32Array.from(words);
  test.push(new Uint8Array(stored.buffer), { left: Float64Array.of(left), right: Float64Array.of(right) });
  return test;
}

describe('the null test', () => {
  it('finds the largest difference in either channel, and the highest magnitude stored', () => {
    // 100 and −300 steps stored, 100.25 and −301.5 wanted.
    const { samplePeak, residual } = laid('int16', [100, -300], 100.25 / 32_768, -301.5 / 32_768);
    expect(samplePeak).toBe(300 / 32_768);
    expect(residual).toBe(1.5 / 32_768);
  });

  it('holds nothing against a word that a louder programme was limited to', () => {
    const { samplePeak, residual } = laid('int16', [32_767, -32_768], 1.7, -1.2);
    expect([samplePeak, residual]).toEqual([1, 0]);
  });

  it('holds a word against a programme that it could have reached', () => {
    expect(laid('int16', [32_766, 0], 1.7, 0).residual).toBe(1 / 32_768);
  });

  it('limits nothing in float, whose words go beyond full scale', () => {
    const { samplePeak, residual } = laid('float32', [1.5, -0.25], 1.75, -0.25);
    expect([samplePeak, residual]).toEqual([1.5, 0.25]);
  });

  it('remembers the worst of all stretches', () => {
    const test = new NullTest('int16');
    const words = new Uint8Array(Int16Array.of(0, 0).buffer);
    for (const level of [3, -7, 2])
      test.push(words, { left: Float64Array.of(level / 32_768), right: Float64Array.of(0) });
    expect([test.samplePeak, test.residual]).toEqual([0, 7 / 32_768]);
  });

  it('allows a float half a unit in its last place, however large it is, and no more', () => {
    // Between 8 and 16 floats are 2⁻²⁰ apart, between 2⁻¹¹ and 2⁻¹⁰ 2⁻³⁴ (24 bits).
    for (const [word, unit] of [
      [12, 2 ** -20],
      [1.5, 2 ** -23],
      [3 * 2 ** -12, 2 ** -34],
    ] as const) {
      expect(laid('float32', [word, word], word + 0.49 * unit, word - 0.49 * unit).isNearest).toBe(true);
      expect(laid('float32', [word, word], word + 0.51 * unit, word).isNearest).toBe(false);
      expect(laid('float32', [word, word], word, word - 0.51 * unit).isNearest).toBe(false);
    }
    expect(laid('int16', [0, 0], 0.4, 0).isNearest).toBe(true);
  });
});

import { describe, expect, it } from 'vitest';
import { samples } from '../time/ticks.js';
import { Quantiser, type DitherKind } from '../dsp/dither.js';
import type { Block, WordFormat } from '../pcm/block.js';
import { decodeWords } from '../pcm/words.js';
import { BitsMeter } from './bits.js';
import { DitherTraceMeter, type DitherTrace } from './dither-trace.js';
import { SoundEdgesMeter } from './sound-edges.js';

const mono = (...values: number[]): Block => ({
  left: Float64Array.from(values),
  right: new Float64Array(values.length),
});
const bits = (format: WordFormat, ...blocks: Block[]): number | null => {
  const meter = new BitsMeter(format);
  blocks.forEach((block) => meter.push(block));
  return meter.result();
};

describe('bits in use', () => {
  it.each<[string, WordFormat, number[], number | null]>([
    ['16-bit content in 24-bit words', 'int24', [3 / 32_768, -0.5], 16],
    ['all 24 bits', 'int24', [0.5, 1 / 8_388_608], 24],
    ['20 bits', 'int24', [7 / 524_288], 20],
    ['the lowest word of 32 bits', 'int32', [1 / 2_147_483_648], 32],
    ['full scale of 32 bits', 'int32', [-1], 1],
    ['16-bit content in float words', 'float32', [3 / 32_768, -1], 16],
    ['float words of 24 bits', 'float32', [0.5, 1 / 8_388_608], 24],
    ['float words off the grid', 'float32', [0.5, 0.1], null],
    ['float words over full scale', 'float32', [2.5], null],
    ['silence', 'int16', [0, 0], null],
  ])('%s', (_, format, values, wanted) => {
    expect(bits(format, mono(...values))).toBe(wanted);
    expect(bits(format, mono(0), mono(...values), mono(0))).toBe(wanted);
  });
});

/** A tone that dies away over two seconds, then a second of what is left, shortened to 16 bit. */
function traceOf(kind: DitherKind, floor: (n: number) => number = () => 0): DitherTrace {
  const length = 3 * 44_100;
  const value = (n: number): number => 0.5 * 10 ** (-n / 20_000) * Math.sin((2 * Math.PI * 220 * n) / 44_100);
  const left = Float64Array.from({ length }, (_, n) => value(n) + floor(n));
  const quantiser = new Quantiser(
    'int16',
    kind,
    { a: 1, b: 2 },
    [{ start: samples(0), end: samples(length) }],
    588,
  );
  const block = decodeWords(quantiser.words({ left, right: left.slice() }, 0), 'int16', 2);
  const meter = new DitherTraceMeter();
  for (let at = 0; at < length; at += 3000)
    meter.push({ left: block.left.subarray(at, at + 3000), right: block.right.subarray(at, at + 3000) });
  return meter.result(16);
}

describe('a trace of dither', () => {
  it.each<[DitherKind, DitherTrace]>([
    ['triangular', 'yes'],
    ['shaped', 'yes'],
    ['none', 'no'],
  ])('after %s: %s', (kind, wanted) => {
    expect(traceOf(kind)).toBe(wanted);
  });

  it('is unclear where the music never gets quiet enough to tell, in silence and in float words', () => {
    expect(traceOf('none', (n) => 0.2 * Math.sin(n / 3))).toBe('unclear');
    const silent = new DitherTraceMeter();
    silent.push({ left: new Float64Array(4096), right: new Float64Array(4096) });
    expect([silent.result(16), silent.result(null)]).toEqual(['unclear', 'unclear']);
  });
});

describe('where the sound starts and dies away', () => {
  it('is told for each level, in either channel, over blocks of any size', () => {
    // −60, −72 and −90 dBFS are 0.001, 0.00025 and 0.0000316.
    const left = Float64Array.of(0, 0.00004, 0.0003, 0.5, 0, 0, 0, 0);
    const right = Float64Array.of(0, 0, 0, 0.5, 0.002, 0.0004, 0.00001, 0);
    for (const size of [1, 3, 8]) {
      const meter = new SoundEdgesMeter();
      for (let at = 0; at < 8; at += size)
        meter.push({ left: left.subarray(at, at + size), right: right.subarray(at, at + size) });
      expect(meter.result()).toEqual({
        edges: [
          { levelDb: -60, start: 3, end: 5 },
          { levelDb: -72, start: 2, end: 6 },
          { levelDb: -90, start: 1, end: 6 },
        ],
        silentHead: 1,
        silentTail: 1,
      });
    }
  });

  it('is nowhere in silence', () => {
    const meter = new SoundEdgesMeter();
    meter.push(mono(0, 0, 0));
    expect(meter.result()).toMatchObject({
      edges: [
        { start: null, end: null },
        { start: null, end: null },
        { start: null, end: null },
      ],
      silentHead: 3,
      silentTail: 3,
    });
  });
});

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { firstDifference } from '../testing.js';
import { kernels, type Kernels } from '../kernels/kernels.js';
import { CHANNELS, WORD_BYTES, type WordFormat } from './block.js';
import { memorySource } from './bytes.js';
import { PcmFileSource, type PcmInfo } from './pcm-file.js';

const machine = kernels as Kernels;

it('what is fetched into the memory of the kernels is what is read, and silence around it', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom<WordFormat>('int16', 'int24', 'int32', 'float32', 'float64'),
      fc.constantFrom(1, 2),
      fc.constantFrom<PcmInfo['order']>('little', 'big'),
      fc.integer({ min: 1, max: 60 }),
      fc.integer({ min: -80, max: 80 }),
      fc.integer({ min: 1, max: 100 }),
      async (format, channels, order, length, start, count) => {
        const bytes = Uint8Array.from(
          { length: length * channels * WORD_BYTES[format] },
          (_, i) => (i * 37) % 120,
        );
        const info: PcmInfo = {
          ...{ container: 'RIFF', rate: 44_100, channels, format, order },
          ...{ validBits: 16, length, dataOffset: 0 },
        };
        const source = new PcmFileSource(info, memorySource(bytes));
        const wanted = await source.read(start, count);
        const fetched = await source.fetch(start, count);
        machine.begin();
        const at = machine.room(count);
        machine.doubles(at.left, count).fill(7);
        machine.doubles(at.right, count).fill(7);
        fetched(machine, at);
        for (const channel of CHANNELS)
          expect(firstDifference(machine.view(at)[channel], wanted[channel])).toBe(-1);
      },
    ),
  );
});

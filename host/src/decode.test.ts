import fc from 'fast-check';
import { expect, it } from 'vitest';
import { inWhole } from './decode.js';

it('gives whole samples, whatever the chunks that they come in', async () => {
  const chunks = fc.array(fc.uint8Array({ maxLength: 20 }), { maxLength: 12 });
  await fc.assert(
    fc.asyncProperty(chunks, fc.constantFrom(2, 4, 6, 8), async (given, step) => {
      const pieces: number[] = [];

      async function* stream() {
        for (const chunk of given) yield Buffer.from(chunk);
      }
      for await (const piece of inWhole(stream(), step)) {
        expect(piece.length % step).toBe(0);
        expect(piece.length).toBeGreaterThan(0);
        pieces.push(...piece);
      }
      const all = given.flatMap((chunk) => [...chunk]);
      expect(pieces).toEqual(all.slice(0, all.length - (all.length % step)));
    }),
  );
});

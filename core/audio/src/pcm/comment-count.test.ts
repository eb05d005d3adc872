import { describe, expect, it } from 'vitest';
import { ByteWriter, memorySource } from './bytes.js';
import { demandFewComments } from './comment-count.js';

/** The head of a FLAC file whose comment block says that it has so many comments [RFC 9639 8.6]. */
function flacWith(comments: number, before = 0): Uint8Array {
  const out = new ByteWriter().latin1('fLaC');
  for (let i = 0; i < before; i++) out.raw([1, 0, 0, 0]);
  return out.raw([0x84, 0, 0, 14]).u32(6).latin1('Oiseau').u32(comments).done();
}
const judged = (bytes: Uint8Array) => demandFewComments(memorySource(bytes));

describe('the tags of a FLAC file', () => {
  it('are counted by the number that the file gives, before a decoder reads them', async () => {
    await expect(judged(flacWith(5000))).resolves.toBeUndefined();
    await expect(judged(flacWith(5000, 3))).resolves.toBeUndefined();
    await expect(judged(flacWith(5001))).rejects.toThrow('The file has more than 5000 tags.');
    await expect(judged(flacWith(2_000_000, 3))).rejects.toMatchObject({ reason: 'too-many-tags' });
    await expect(judged(flacWith(1, 1001))).rejects.toThrow('more than 1000 blocks of metadata');
  });

  it('of a file that is cut short, or of another form, are left to whoever reads it', async () => {
    for (const length of [0, 3, 4, 8, 12, 20]) await judged(flacWith(9_000_000).subarray(0, length));
    await judged(new TextEncoder().encode('OggS and more'));
  });
});

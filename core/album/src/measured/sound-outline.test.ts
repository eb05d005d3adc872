import { describe, expect, it } from 'vitest';
import { outlineBytes, readOutline } from './sound-outline.js';

describe('the outline of a sound', () => {
  it('has six bytes for each 1/75 s: peak and RMS little-endian, then compressor and limiter', () => {
    const outline = {
      silhouette: Uint16Array.of(0x0102, 0x0304, 0x0506, 0x0708),
      reductions: Uint8Array.of(10, 20, 30, 40),
    };
    const bytes = outlineBytes(outline);
    expect([...bytes]).toEqual([2, 1, 4, 3, 6, 5, 8, 7, 10, 20, 30, 40]);
    expect(readOutline(bytes.slice().buffer)).toEqual(outline);
  });
});

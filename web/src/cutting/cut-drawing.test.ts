import { cutAt, startCutting } from '@oiseau/formats/cutting';
import { describe, expect, it } from 'vitest';
import { cutUnder, sampleAt, xOf } from './cut-drawing.js';

const view = { from: 1000, to: 3000 };

describe('a picture of a recording', () => {
  it('has a place for each sample, and a sample for each place', () => {
    expect([xOf(1000, view, 500), xOf(2000, view, 500), xOf(3000, view, 500)]).toEqual([0, 250, 500]);
    for (const sample of [1000, 1400, 2996]) expect(sampleAt(xOf(sample, view, 500), view, 500)).toBe(sample);
  });

  it('gives hold of a cut within five pixels, of the nearer one of two, never of the start', () => {
    const cutting = [1000, 2000, 2020].reduce((all, at) => cutAt(all, at), startCutting(4000));
    // 1000 → 0, 2000 → 250, 2020 → 255
    expect([cutUnder(3, cutting, view, 500), cutUnder(6, cutting, view, 500)]).toEqual([1, null]);
    expect([cutUnder(252, cutting, view, 500), cutUnder(253, cutting, view, 500)]).toEqual([2, 3]);
    expect(cutUnder(0, startCutting(4000), { from: 0, to: 4000 }, 500)).toBeNull();
  });
});

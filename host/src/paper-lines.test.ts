import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { breakLines } from './paper-lines.js';

const oneWide = (): number => 1;

describe('lines of long texts', () => {
  it('are broken at blanks, and inside words that no line holds', () => {
    expect(breakLines('the long groyne', 8, oneWide)).toEqual(['the long', 'groyne']);
    expect(breakLines('ab abcdefgh', 4, oneWide)).toEqual(['ab', 'abcd', 'efgh']);
    expect(breakLines('----------', 4, oneWide)).toEqual(['----', '----', '--']);
    expect(breakLines('one\ntwo\r\nthree', 9, oneWide)).toEqual(['one', 'two', 'three']);
    expect(breakLines('', 4, oneWide)).toEqual(['']);
  });

  it('keep a mark with its letter, and both halves of a sign outside the basic plane', () => {
    expect(breakLines('e\u0302e\u0302', 1, oneWide)).toEqual(['e\u0302', 'e\u0302']);
    expect(breakLines('😀😀', 1, oneWide)).toEqual(['😀', '😀']);
  });

  it('lose nothing but blanks and are never wider than asked for', () => {
    const text = fc.string({ unit: fc.constantFrom('a', 'b', ' ', '-'), maxLength: 300 });
    fc.assert(
      fc.property(text, fc.integer({ min: 1, max: 40 }), (given, width) => {
        const lines = breakLines(given, width, oneWide);
        expect(lines.join('').replaceAll(' ', '')).toBe(given.replaceAll(' ', ''));
        for (const line of lines) expect(line.length).toBeLessThanOrEqual(width);
      }),
    );
  });
});

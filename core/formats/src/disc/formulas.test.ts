import fc from 'fast-check';
import { expect, it } from 'vitest';
import { asTyped, withoutFormula } from './formulas.js';

it('no cell begins like a formula, and what was typed comes back', () => {
  expect(['=1+1', '+1', '-1+1', '-A1', '@SUM(A1)', '\t=1', "'=1"].map(withoutFormula)).toEqual([
    ...["'=1+1", "'+1", "'-1+1", "'-A1", "'@SUM(A1)", "'\t=1", "''=1"],
  ]);
  // Figures below zero stay figures.
  expect(['-1', '-14.0', '-0.5'].map(withoutFormula)).toEqual(['-1', '-14.0', '-0.5']);
  expect(['Lamp', "'Tis the Season", '', '5'].map(withoutFormula)).toEqual([
    'Lamp',
    "'Tis the Season",
    '',
    '5',
  ]);
  fc.assert(
    fc.property(
      fc.string({ unit: fc.constantFrom("'", '=', '+', '-', '@', '\t', '\r', 'a', ' ') }),
      (text) => {
        expect(withoutFormula(text)).not.toMatch(/^[=+\-@\t\r]/);
        expect(asTyped(withoutFormula(text))).toBe(text);
      },
    ),
  );
});

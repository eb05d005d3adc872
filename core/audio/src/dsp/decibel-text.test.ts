import { expect, it } from 'vitest';
import { decibelText } from './decibel-text.js';

it.each([
  [-1.24, 1, undefined, '−1.2'],
  [0, 1, undefined, '0.0'],
  [-0.04, 1, undefined, '0.0'],
  [12, 0, undefined, '12'],
  // Over the limit that it would round to: more digits, until it is seen.
  [0.04, 1, 0, '0.04'],
  [-0.996, 1, -1, '−0.996'],
  [-0.97, 1, -1, '−0.97'],
  // At the limit or under it, and far over it: as usual.
  [0, 1, 0, '0.0'],
  [-1.04, 1, -1, '−1.0'],
  [0.31, 1, 0, '0.3'],
  // So little over that two more digits do not show it.
  [0.00001, 1, 0, '0.000'],
] as const)('%f with %i decimals and the limit %s is %s', (value, decimals, limit, text) => {
  expect(decibelText(value, decimals, limit)).toBe(text);
});

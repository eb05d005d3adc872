import type { CoverFacts, Finding, Rule } from './finding.js';

/** Pixels that every shop takes, and the most that any does. */
const LEAST_PIXELS = 1400;
const GOOD_PIXELS = 3000;
const MOST_BYTES = 10 * 1024 * 1024;

/** A cover that is known is large enough, square, in RGB and not too heavy. */
export const cover: Rule = ({ cover: facts }) => (facts ? faults(facts) : []);

function faults({ width, height, space, bytes, hasAlpha }: CoverFacts): Finding[] {
  const found: Finding[] = [];
  const least = Math.min(width, height);
  if (least < GOOD_PIXELS)
    found.push({ code: 'cover-small', severity: least < LEAST_PIXELS ? 'warning' : 'hint', width, height });
  if (width !== height) found.push({ code: 'cover-not-square', severity: 'warning', width, height });
  if (space !== 'srgb') found.push({ code: 'cover-colours', severity: 'warning', space });
  if (hasAlpha) found.push({ code: 'cover-see-through', severity: 'hint' });
  if (bytes > MOST_BYTES) found.push({ code: 'cover-heavy', severity: 'warning', bytes });
  return found;
}

import { codes } from './codes.js';
import { discLength } from './disc-length.js';
import type { CheckSubject, Finding, Rule, Severity } from './finding.js';
import { firstPause } from './first-pause.js';
import { overlaps } from './overlaps.js';
import { regions } from './regions.js';
import { titles } from './titles.js';
import { trackCount } from './track-count.js';
import { trackLength } from './track-length.js';

/** All rules, in the order in which a person meets them: the sound, the disc, the codes, the words. */
const RULES: readonly Rule[] = [
  trackCount,
  regions,
  overlaps,
  firstPause,
  trackLength,
  discLength,
  codes,
  titles,
];

const RANK: Record<Severity, number> = { error: 0, warning: 1, hint: 2 };

/** Everything that is wrong or doubtful, errors first, else in the order of the rules. */
export function checkAlbum(subject: CheckSubject): Finding[] {
  return RULES.flatMap((rule) => rule(subject)).sort((a, b) => RANK[a.severity] - RANK[b.severity]);
}

import { eanFault } from '../disc/ean.js';
import { formatIsrc, isrcFault } from '../disc/isrc.js';
import { formatMsf } from '../time/frames.js';
import { formatClock } from '../time/timecode.js';
import { ticksToSeconds } from '../time/ticks.js';
import type { CheckCode, Finding } from './finding.js';

type Of<C extends CheckCode> = Extract<Finding, { code: C }>;
type Table = { [C in CheckCode]: (finding: Of<C>) => string };

const s = (seconds: number): string => `${seconds.toFixed(2)} s`;

/** One sentence for each finding. A new code breaks the build here until somebody words it. */
const WORDS = {
  'no-tracks': () => 'The album has no track yet.',
  'too-many-tracks': ({ count }) => `${count} tracks; a disc holds 99.`,
  'region-outside-master': ({ out, masterLength }) =>
    `The out point ${formatClock(out, 3)} lies past the end of the master, ${formatClock(masterLength, 3)}.`,
  'region-empty': () => 'The in point is not before the out point, so nothing is played.',
  'fades-too-long': ({ fades, region }) =>
    `The fades last ${s(ticksToSeconds(fades))} together, the track only ${s(ticksToSeconds(region))}.`,
  'overlap-over-two': () => 'The overlap reaches over more than two tracks; at most two may sound at once.',
  'first-pause-short': ({ pause }) =>
    `The first pause is ${s(ticksToSeconds(pause))}; a disc needs at least 2 s.`,
  'track-short': ({ length }) => `The track lasts ${formatMsf(length)} on the disc; 4 s is the least.`,
  'index-outside-track': ({ index }) => `Index ${index} does not lie inside the track, after the one before.`,
  'disc-too-long': ({ leadOut, severity }) =>
    severity === 'error'
      ? `The disc ends at ${formatMsf(leadOut)}; the last possible time is 79:59:74.`
      : `The disc ends at ${formatMsf(leadOut)}; many plants take 79:57:00 at the most.`,
  'isrc-malformed': ({ text }) => `“${text}” is no ISRC. ${isrcFault(text) ?? ''}`.trim(),
  'isrc-double': ({ isrc, first }) => `ISRC ${formatIsrc(isrc)} stands on track ${first + 1} already.`,
  'upc-malformed': ({ text }) => `“${text}” is no UPC/EAN. ${eanFault(text) ?? ''}`.trim(),
  'title-empty': () => 'The track has no title.',
  'album-title-empty': () => 'The album has no title.',
} satisfies Table;

export function wordFinding(finding: Finding): string {
  return (WORDS[finding.code] as (finding: Finding) => string)(finding);
}

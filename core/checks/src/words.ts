import { eanFault, type UnfitText, formatIsrc, isrcFault } from '@oiseau/formats/disc';
import type { CdTextCharset } from '@oiseau/codings';
import { decibelText } from '@oiseau/audio/dsp';
import { formatMsf, formatClock, ticksToSeconds } from '@oiseau/audio/time';
import type { CheckCode, Finding, StoreRequirement } from './finding.js';
import { wordDoubt } from './master-doubt-words.js';

type Of<C extends CheckCode> = Extract<Finding, { code: C }>;
type Table = { [C in CheckCode]: (finding: Of<C>) => string };

const s = (seconds: number): string => `${seconds.toFixed(2)} s`;

const STORE_REQUIREMENTS: Readonly<Record<StoreRequirement, string>> = {
  title: 'it has no title',
  performer: 'the album has no performer',
  label: 'the album has no label',
  upc: 'the album has no valid UPC/EAN',
  isrc: 'it has no valid ISRC',
  'release-date': 'the release date isn’t a full date such as 2026-11-09',
  language: 'the album has no language',
  copyright: 'the © line is empty',
  phonogram: 'the ℗ line is empty',
  cover: 'the album has no cover',
  'cover-size': 'the cover must be square, with 3000 pixels a side or more',
};

const FIELD_WORDS: Readonly<Partial<Record<UnfitText['field'], string>>> = {
  catalogNumber: 'catalogue number',
};
const CHARSET_WORDS: Readonly<Record<CdTextCharset, string>> = {
  'iso-8859-1': 'Western',
  ascii: 'plain ASCII',
  'ms-jis': 'Japanese',
};

/** Lossy files may clip above it, dBTP. */
const LOSSY_CEILING_DBTP = -1;

/** One sentence for each finding. A new code doesn't compile until it has one. */
const WORDS = {
  'no-tracks': () => 'The album has no tracks.',
  'too-many-tracks': ({ count }) => `${count} tracks: a disc holds at most 99.`,
  'region-outside-master': ({ out, masterLength }) =>
    `The out point ${formatClock(out, 3)} is after the end of the master, ${formatClock(masterLength, 3)}.`,
  'region-empty': () => 'The in point is not before the out point, so the track is empty.',
  'fades-too-long': ({ fades, region }) =>
    `The fades add up to ${s(ticksToSeconds(fades))}, but the track is only ${s(ticksToSeconds(region))} long.`,
  'overlap-over-two': () => 'More than two tracks overlap; at most two may play at once.',
  'first-pause-short': ({ pause }) =>
    `The first pause is ${s(ticksToSeconds(pause))}; a disc needs at least 2 s.`,
  'track-short': ({ length }) => `The track is ${formatMsf(length)} long on the disc; the minimum is 4 s.`,
  'index-outside-track': ({ index }) =>
    `Index ${index} must be inside the track and after the previous index.`,
  'disc-too-long': ({ leadOut, severity }) =>
    severity === 'error'
      ? `The disc ends at ${formatMsf(leadOut)}; the maximum is 79:59:74.`
      : `The disc ends at ${formatMsf(leadOut)}; many plants accept at most 79:57:00.`,
  'side-too-long': ({ length, limit }) =>
    `The side is ${formatClock(length)} long; the maximum is ${formatClock(limit)}.`,
  'side-long': ({ length, limit }) =>
    `The side is ${formatClock(length)} long; over ${formatClock(limit)} it must be cut at a lower level.`,
  'sides-uneven': ({ by, other }) =>
    `The side is ${formatClock(by)} longer than side ${other} of the same record.`,
  'bass-against': ({ at, value }) =>
    `At ${formatClock(at)} the bass is out of phase (correlation ${decibelText(value, 2)} below 150 Hz); the cutter head may leave the groove.`,
  'bass-wide': ({ at, value }) =>
    `At ${formatClock(at)} the bass is wide: side is ${decibelText(value, 1)} dB relative to mid below 150 Hz.`,
  'bright-inside': ({ at, value }) =>
    `The last third of the side is ${decibelText(value, 1)} dB brighter than the rest, most at ${formatClock(at)}; inner grooves distort such sound most.`,
  'no-disc': ({ deliverable }) => `“${deliverable}” is a disc image, but the album has no disc.`,
  'no-side': ({ deliverable }) => `“${deliverable}” is for a cutting room, but the album has no vinyl side.`,
  'isrc-malformed': ({ text }) => `“${text}” isn’t a valid ISRC. ${isrcFault(text) ?? ''}`.trim(),
  'isrc-double': ({ isrc, first }) => `ISRC ${formatIsrc(isrc)} is already used for track ${first}.`,
  'upc-malformed': ({ text }) => `“${text}” isn’t a valid UPC/EAN. ${eanFault(text) ?? ''}`.trim(),
  'title-empty': () => 'The track has no title.',
  'album-title-empty': () => 'The album has no title.',
  'upc-missing': () => 'The album has no UPC/EAN; stores and plants ask for one.',
  'isrc-missing': () => 'The track has no ISRC.',
  'isrc-all-missing': () => 'No track has an ISRC; stores ask for them.',
  'title-like-file': ({ text, tidy }) => `“${text}” looks like a file name. Should it be “${tidy}”?`,
  'stray-blanks': ({ field, text }) => `The ${field} “${text}” has leading, trailing or double spaces.`,
  'cd-text-lost': ({ field, chars, block, charset }) =>
    `CD-Text has no substitute for ${[...chars].join(' ')} in the ${FIELD_WORDS[field] ?? field}${block > 0 ? ' of the second language' : ''} (${CHARSET_WORDS[charset]} characters). Use other characters${charset === 'ms-jis' || field === 'genre' || field === 'catalogNumber' ? '' : ', or choose Japanese'}.`,
  'cd-text-unfit': ({ field, chars, plain, block }) =>
    `CD-Text can’t show ${[...chars].join(' ')} in the ${FIELD_WORDS[field] ?? field}${block > 0 ? ' of the second language' : ''}; the disc will read “${plain}”.`,
  'cd-text-too-long': ({ packs, block }) =>
    `The CD-Text${block > 0 ? ' of the second language' : ''} takes ${packs} packs; a disc holds 256.`,
  'mark-in-song-before': ({ by }) =>
    `The start mark is ${s(ticksToSeconds(by))} before the end of the previous track, so players start with its ending.`,
  'cut-off': ({ end }) =>
    end === 'head'
      ? 'The track starts in full sound without a fade-in.'
      : 'The track ends in full sound without a fade-out.',
  'long-silence': ({ end, seconds }) =>
    end === 'head'
      ? `${s(seconds)} of silence before the sound.`
      : `${s(seconds)} of silence after the sound.`,
  clipped: ({ runs }) => `The master is clipped ${runs === 1 ? 'once' : `${runs} times`}.`,
  'over-full-scale': ({ peakDbfs }) =>
    `With its gain the peak is ${decibelText(peakDbfs, 1, 0)} dB over full scale and will clip.`,
  'lossy-master': ({ codec }) => `The master is a lossy file (${codec}).`,
  'dithered-again': ({ why }) =>
    `The master is already dithered to 16 bit and will be dithered again: ${why}.`,
  'channels-inverted': ({ correlation }) =>
    `The channels are out of phase (correlation ${decibelText(correlation, 2)}).`,
  'one-sided': () => 'One channel is silent.',
  'loudness-apart': ({ lufs, by }) =>
    `${decibelText(lufs, 1)} LUFS: ${Math.abs(by).toFixed(1)} LU ${by > 0 ? 'louder' : 'quieter'} than its neighbours.`,
  'rates-differ': ({ rates }) =>
    `The masters have different sample rates: ${rates.map((rate) => `${rate / 1000} kHz`).join(', ')}.`,
  'masters-unused': ({ count }) =>
    count === 1 ? 'One master is not used by any track.' : `${count} masters are not used by any track.`,
  'cover-small': ({ width, height }) =>
    `The cover is ${width} × ${height} pixels; stores ask for 3000 × 3000 and at least 1400 × 1400.`,
  'cover-not-square': ({ width, height }) => `The cover is not square: ${width} × ${height} pixels.`,
  'cover-colours': ({ space }) =>
    `The cover’s colour space is ${space.toUpperCase()}; stores and players need RGB (sRGB).`,
  'cover-see-through': () => 'The cover has transparent areas; embedded copies show them white.',
  'cover-heavy': ({ bytes }) =>
    `The cover file is ${(bytes / 2 ** 20).toFixed(1)} MB; many stores accept at most 10 MB.`,
  'lossy-peak': ({ peakDbtp, deliverable }) =>
    `The true peak is ${decibelText(peakDbtp, 1, LOSSY_CEILING_DBTP)} dBTP; “${deliverable}” is lossy and may clip above −1 dBTP.`,
  'limiter-deep': ({ mostDb }) =>
    `The limiter reduces gain by up to ${decibelText(mostDb, 1, 6)} dB; more than 6 dB is audible.`,
  'limiter-always': ({ share }) =>
    `The limiter is active ${Math.round(100 * share)} % of the time; it changes the level rather than catching peaks.`,
  'lowest-lifted': ({ byDb }) =>
    `The equaliser boosts the lowest octave, 20 to 40 Hz, by ${decibelText(byDb, 1)} dB; few rooms let you hear the effect.`,
  'bits-lost': ({ songs }) =>
    `The album treatment applies to all tracks, so ${songs === 1 ? 'one otherwise untreated track is' : `${songs} otherwise untreated tracks are`} no longer bit-perfect.`,
  'clipped-pressed': ({ runs }) =>
    `The master is already clipped ${runs === 1 ? 'once' : `${runs} times`}; more limiting makes that more audible.`,
  'ceiling-high': ({ ceiling, deliverable }) =>
    `The ceiling is ${decibelText(ceiling, 1, LOSSY_CEILING_DBTP)} dBTP; “${deliverable}” is lossy and may clip above −1 dBTP.`,
  'points-outside': ({ points }) =>
    `${points === 1 ? 'One automation point lies' : `${points} automation points lie`} outside the played range.`,
  'alternate-short': ({ alternate, lacking }) =>
    `“${alternate}” ends ${formatClock(lacking, 3)} before the end of the track.`,
  'alternate-silent': ({ alternate }) => `“${alternate}” is silent throughout.`,
  'alternate-shifted': ({ alternate, samples, by }) =>
    `“${alternate}” is ${Math.abs(samples)} ${Math.abs(samples) === 1 ? 'sample' : 'samples'} (${Math.abs(1000 * ticksToSeconds(by)).toFixed(2)} ms) ${samples > 0 ? 'later' : 'earlier'} than the master.`,
  'alternate-unknown': ({ deliverable, alternate }) =>
    `“${deliverable}” uses “${alternate}”, which none of its tracks has.`,
  'alternate-missing': ({ deliverable, alternate, of, missing, leftOut }) =>
    `${missing} of ${of} tracks of “${deliverable}” have no “${alternate}”: ${leftOut ? 'no file is written for them' : 'their masters are used instead'}.`,
  'shop-refuses': ({ deliverable, lacks }) =>
    `Stores will refuse “${deliverable}”: ${STORE_REQUIREMENTS[lacks]}.`,
  'store-may-refuse': ({ deliverable, doubt }) =>
    `Stores may refuse “${deliverable}”. Master: ${wordDoubt(doubt)}.`,
  'section-empty': ({ deliverable }) => `The section of “${deliverable}” is empty.`,
  'names-alike': ({ deliverable, name }) =>
    `Two files of “${deliverable}” have the name “${name}”; a number is added to one.`,
} satisfies Table;

export function wordFinding(finding: Finding): string {
  return (WORDS[finding.code] as (finding: Finding) => string)(finding);
}

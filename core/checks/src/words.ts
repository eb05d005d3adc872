import { eanFault, type UnfitText, formatIsrc, isrcFault } from '@oiseau/formats/disc';
import type { CdTextCharset } from '@oiseau/codings';
import { formatMsf, formatClock, ticksToSeconds } from '@oiseau/audio/time';
import type { CheckCode, Finding, ShopWish } from './finding.js';
import { wordDoubt } from './master-doubt-words.js';

type Of<C extends CheckCode> = Extract<Finding, { code: C }>;
type Table = { [C in CheckCode]: (finding: Of<C>) => string };

const s = (seconds: number): string => `${seconds.toFixed(2)} s`;
/** With a real minus sign. */
const signed = (value: number, decimals: number): string => value.toFixed(decimals).replace('-', '−');

const SHOP_WISHES: Readonly<Record<ShopWish, string>> = {
  title: 'it has no title',
  performer: 'the album has no performer',
  label: 'the album has no label',
  upc: 'the album has no valid UPC/EAN',
  isrc: 'it has no valid ISRC',
  'release-date': 'the release date is no day like 2026-11-09',
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
  'side-too-long': ({ length, limit }) =>
    `The side lasts ${formatClock(length)}; ${formatClock(limit)} is the most that cuts well.`,
  'side-long': ({ length, limit }) =>
    `The side lasts ${formatClock(length)}; over ${formatClock(limit)} it must be cut softer.`,
  'sides-uneven': ({ by, other }) =>
    `The side is ${formatClock(by)} longer than side ${other} of the same record.`,
  'bass-against': ({ at, value }) =>
    `At ${formatClock(at)} the bass of both channels works against each other (correlation ${signed(value, 2)} below 150 Hz); a cutter may leave the groove.`,
  'bass-wide': ({ at, value }) =>
    `At ${formatClock(at)} the bass lies wide: its side signal is ${signed(value, 1)} dB against the middle below 150 Hz.`,
  'bright-inside': ({ at, value }) =>
    `The last third of the side is ${signed(value, 1)} dB brighter than what comes before, most at ${formatClock(at)}; inner grooves hold that worst.`,
  'no-disc': ({ deliverable }) => `“${deliverable}” is an image of a disc, and the album has none.`,
  'no-side': ({ deliverable }) => `“${deliverable}” is for a cutting room, and the album has no side.`,
  'isrc-malformed': ({ text }) => `“${text}” is no ISRC. ${isrcFault(text) ?? ''}`.trim(),
  'isrc-double': ({ isrc, first }) => `ISRC ${formatIsrc(isrc)} stands on track ${first} already.`,
  'upc-malformed': ({ text }) => `“${text}” is no UPC/EAN. ${eanFault(text) ?? ''}`.trim(),
  'title-empty': () => 'The track has no title.',
  'album-title-empty': () => 'The album has no title.',
  'upc-missing': () => 'The album has no UPC/EAN; shops and plants ask for one.',
  'isrc-missing': () => 'The track has no ISRC.',
  'isrc-all-missing': () => 'No track has an ISRC; shops ask for them.',
  'title-like-file': ({ text, tidy }) => `“${text}” looks like a file’s name; “${tidy}” may be meant.`,
  'stray-blanks': ({ field, text }) =>
    `The ${field} “${text}” has blanks at an end, or two of them together.`,
  'cd-text-lost': ({ field, chars, block, charset }) =>
    `${[...chars].join(' ')} in the ${FIELD_WORDS[field] ?? field}${block > 0 ? ' of the second language' : ''} ${[...chars].length === 1 ? 'has' : 'have'} no plain form in the ${CHARSET_WORDS[charset]} letters of CD-Text, and no disc can say ${[...chars].length === 1 ? 'it' : 'them'}: write it in other letters${charset === 'ms-jis' || field === 'genre' || field === 'catalogNumber' ? '' : ', or choose Japanese ones'}.`,
  'cd-text-unfit': ({ field, chars, plain, block }) =>
    `${[...chars].join(' ')} in the ${FIELD_WORDS[field] ?? field}${block > 0 ? ' of the second language' : ''} can’t be shown by CD-Text; the disc would say “${plain}”.`,
  'cd-text-too-long': ({ packs, block }) =>
    `The CD-Text${block > 0 ? ' of the second language' : ''} takes ${packs} packs; a disc holds 256.`,
  'mark-in-song-before': ({ by }) =>
    `The start mark stands ${s(ticksToSeconds(by))} before the end of the song before, so its end is heard.`,
  'cut-off': ({ end }) =>
    end === 'head'
      ? 'The track begins in the middle of sound, without a fade-in.'
      : 'The track ends in the middle of sound, without a fade-out.',
  'long-silence': ({ end, seconds }) =>
    end === 'head' ? `${s(seconds)} of quiet before the sound.` : `${s(seconds)} of quiet after the sound.`,
  clipped: ({ runs }) => `The master is clipped in ${runs} ${runs === 1 ? 'place' : 'places'}.`,
  'over-full-scale': ({ peakDbfs }) =>
    `With its gain the peak is ${peakDbfs.toFixed(1)} dB over full scale, and would be cut off.`,
  'lossy-master': ({ codec }) => `The master was compressed with loss (${codec}).`,
  'dithered-again': ({ why }) => `The master is 16 bit with dither, and is dithered once more: ${why}.`,
  'channels-inverted': ({ correlation }) =>
    `The channels work against each other (correlation ${signed(correlation, 2)}).`,
  'one-sided': () => 'One channel is silent.',
  'loudness-apart': ({ lufs, by }) =>
    `${signed(lufs, 1)} LUFS: ${Math.abs(by).toFixed(1)} LU ${by > 0 ? 'louder' : 'softer'} than the songs around it.`,
  'rates-differ': ({ rates }) =>
    `The masters have different rates: ${rates.map((rate) => `${rate / 1000} kHz`).join(', ')}.`,
  'masters-unused': ({ count }) =>
    count === 1 ? 'A master is in no track.' : `${count} masters are in no track.`,
  'cover-small': ({ width, height }) =>
    `The cover is ${width} × ${height} pixels; shops ask for 3000 × 3000, and 1400 are the least.`,
  'cover-not-square': ({ width, height }) => `The cover is not square: ${width} × ${height} pixels.`,
  'cover-colours': ({ space }) =>
    `The cover’s colours are ${space.toUpperCase()}; shops and players want RGB (sRGB).`,
  'cover-see-through': () => 'The cover has see-through parts; copies in files show white there.',
  'cover-heavy': ({ bytes }) =>
    `The cover’s file has ${(bytes / 2 ** 20).toFixed(1)} MB; many shops take 10 MB at the most.`,
  'lossy-peak': ({ peakDbtp, deliverable }) =>
    `The true peak is ${signed(peakDbtp, 1)} dBTP; “${deliverable}” is coded with loss and may clip over −1 dBTP.`,
  'limiter-deep': ({ mostDb }) =>
    `The limiter takes ${signed(mostDb, 1)} dB away at the most; over 6 dB is heard.`,
  'limiter-always': ({ share }) =>
    `The limiter works for ${Math.round(100 * share)} % of the time; it is rather a level than a limit.`,
  'lowest-lifted': ({ byDb }) =>
    `The equaliser lifts the lowest octave, 20 to 40 Hz, by ${signed(byDb, 1)} dB; few rooms show what that does.`,
  'bits-lost': ({ songs }) =>
    `The album is treated as a whole, so ${songs === 1 ? 'one song' : `${songs} songs`} to which nothing else is done ${songs === 1 ? 'is' : 'are'} not kept bit for bit.`,
  'clipped-pressed': ({ runs }) =>
    `The master is clipped in ${runs} ${runs === 1 ? 'place' : 'places'} already; pressing it further makes that more audible.`,
  'ceiling-high': ({ ceiling, deliverable }) =>
    `The ceiling lies at ${signed(ceiling, 1)} dBTP; “${deliverable}” is coded with loss and may clip over −1 dBTP.`,
  'points-outside': ({ points }) =>
    `${points === 1 ? 'One point' : `${points} points`} of a moving value ${points === 1 ? 'lies' : 'lie'} where nothing is played.`,
  'alternate-short': ({ alternate, lacking }) =>
    `“${alternate}” ends ${formatClock(lacking, 3)} before the end of the track.`,
  'alternate-silent': ({ alternate }) => `“${alternate}” is silent from end to end.`,
  'alternate-shifted': ({ alternate, samples, by }) =>
    `“${alternate}” is ${Math.abs(samples)} ${Math.abs(samples) === 1 ? 'sample' : 'samples'} (${Math.abs(1000 * ticksToSeconds(by)).toFixed(2)} ms) ${samples > 0 ? 'later' : 'earlier'} than the master.`,
  'alternate-unknown': ({ deliverable, alternate }) =>
    `“${deliverable}” asks for “${alternate}”, which no track of it has.`,
  'alternate-missing': ({ deliverable, alternate, of, missing, leftOut }) =>
    `${missing} of ${of} tracks of “${deliverable}” have no “${alternate}”: ${leftOut ? 'no file is written for them' : 'their masters are heard instead'}.`,
  'shop-refuses': ({ deliverable, lacks }) => `A shop would refuse “${deliverable}”: ${SHOP_WISHES[lacks]}.`,
  'store-may-refuse': ({ deliverable, doubt }) =>
    `A store may refuse “${deliverable}”. The master: ${wordDoubt(doubt)}.`,
  'section-empty': ({ deliverable }) =>
    `“${deliverable}” has no section of the album between its two places.`,
  'names-alike': ({ deliverable, name }) =>
    `Two files of “${deliverable}” would be named “${name}”; one gets a number.`,
} satisfies Table;

export function wordFinding(finding: Finding): string {
  return (WORDS[finding.code] as (finding: Finding) => string)(finding);
}

import { eanFault, type UnfitText, formatIsrc, isrcFault } from '@oiseau/formats/disc';
import type { CdTextCharset } from '@oiseau/codings';
import { TEXT_NAMES } from '@oiseau/album/model';
import { decibelText } from '@oiseau/audio/dsp';
import { formatMsf, formatClock, ticksToSeconds } from '@oiseau/audio/time';
import type { CheckCode, Finding, StoreRequirement, TextName } from './finding.js';
import { wordDoubt } from './master-doubt-words.js';
import { figure, joined, msg, type Message } from '@oiseau/messages';

type Of<C extends CheckCode> = Extract<Finding, { code: C }>;
type Table = { [C in CheckCode]: (finding: Of<C>) => Message };

const inSeconds = (seconds: number) => figure(`${seconds.toFixed(2)} s`);

const STORE_REQUIREMENTS: Readonly<Record<StoreRequirement, Message>> = {
  title: msg('it has no title'),
  performer: msg('the album has no performer'),
  label: msg('the album has no label'),
  upc: msg('the album has no valid UPC/EAN'),
  isrc: msg('it has no valid ISRC'),
  'release-date': msg('the release date isn’t a full date such as 2026-11-09'),
  language: msg('the album has no language'),
  copyright: msg('the © line is empty'),
  phonogram: msg('the ℗ line is empty'),
  cover: msg('the album has no cover'),
  'cover-size': msg('the cover must be square, with 3000 pixels a side or more'),
};

const FIELD_WORDS: Readonly<Record<TextName | UnfitText['field'], Message>> = {
  ...TEXT_NAMES,
  lyricist: msg('lyricist'),
  publisher: msg('publisher'),
  genre: msg('genre'),
  label: msg('label'),
  copyright: msg('© line'),
  phonogram: msg('℗ line'),
  catalogNumber: msg('catalogue number'),
};
const cdTextField = (field: UnfitText['field'], block: number): Message =>
  block > 0 ? msg('{field} of the second language', { field: FIELD_WORDS[field] }) : FIELD_WORDS[field];

/** A sentence and one that says why, where there is one. */
const withReason = (sentence: Message, reason: Message | undefined): Message =>
  reason ? msg('{sentence} {reason}', { sentence, reason }) : sentence;

const CHARSET_WORDS: Readonly<Record<CdTextCharset, Message>> = {
  'iso-8859-1': msg('Western'),
  ascii: msg('plain ASCII'),
  'ms-jis': msg('Japanese'),
};

/** Lossy files may clip above it, dBTP. */
const LOSSY_CEILING_DBTP = -1;

/** One sentence for each finding. A new code doesn't compile until it has one. */
const WORDS = {
  'no-tracks': () => msg('The album has no tracks.'),
  'too-many-tracks': ({ count }) => msg('{count} tracks: a disc holds at most 99.', { count }),
  'region-outside-master': ({ out, masterLength }) =>
    msg('The out point {out} is after the end of the master, {masterLength}.', {
      out: figure(formatClock(out, 3)),
      masterLength: figure(formatClock(masterLength, 3)),
    }),
  'region-empty': () => msg('The in point is not before the out point, so the track is empty.'),
  'fades-too-long': ({ fades, region }) =>
    msg('The fades add up to {fades}, but the track is only {length} long.', {
      fades: inSeconds(ticksToSeconds(fades)),
      length: inSeconds(ticksToSeconds(region)),
    }),
  'overlap-over-two': () => msg('More than two tracks overlap; at most two may play at once.'),
  'edition-overlap-lost': () =>
    msg('This track overlaps another one on the album. In this edition it follows after 2 s: set its gap.'),
  'edition-not-heard': () =>
    msg('This edition gives the track another neighbour. Play the transition, or set its gap.'),
  'edition-own-isrc': () =>
    msg(
      'In this edition the track is cut or treated otherwise than on the album: it may need an ISRC of its own.',
    ),
  'edition-upc-same': ({ text, other }) =>
    msg('Edition “{other}” has the same UPC/EAN, {text}; each edition needs its own.', { text, other }),
  'first-pause-short': ({ pause }) =>
    msg('The first pause is {length}; a disc needs at least 2 s.', {
      length: inSeconds(ticksToSeconds(pause)),
    }),
  'track-short': ({ length }) =>
    msg('The track is {length} long on the disc; the minimum is 4 s.', { length: formatMsf(length) }),
  'index-outside-track': ({ index }) =>
    msg('Index {index} must be inside the track and after the previous index.', { index }),
  'disc-too-long': ({ leadOut, severity }) =>
    severity === 'error'
      ? msg('The disc ends at {leadOut}; the maximum is 79:59:74.', { leadOut: formatMsf(leadOut) })
      : msg('The disc ends at {leadOut}; many plants accept at most 79:57:00.', {
          leadOut: formatMsf(leadOut),
        }),
  'side-too-long': ({ length, limit }) =>
    msg('The side is {length} long; the maximum is {limit}.', {
      length: figure(formatClock(length)),
      limit: figure(formatClock(limit)),
    }),
  'side-long': ({ length, limit }) =>
    msg('The side is {length} long; over {limit} it must be cut at a lower level.', {
      length: figure(formatClock(length)),
      limit: figure(formatClock(limit)),
    }),
  'sides-uneven': ({ by, other }) =>
    msg('The side is {by} longer than side {other} of the same record.', {
      by: figure(formatClock(by)),
      other,
    }),
  'bass-against': ({ at, value }) =>
    msg(
      'At {at} the bass is out of phase (correlation {value} below 150 Hz); the cutter head may leave the groove.',
      { at: figure(formatClock(at)), value: figure(decibelText(value, 2)) },
    ),
  'bass-wide': ({ at, value }) =>
    msg('At {at} the bass is wide: side is {value} dB relative to mid below 150 Hz.', {
      at: figure(formatClock(at)),
      value: figure(decibelText(value, 1)),
    }),
  'bright-inside': ({ at, value }) =>
    msg(
      'The last third of the side is {value} dB brighter than the rest, most at {at}; inner grooves distort such sound most.',
      { value: figure(decibelText(value, 1)), at: figure(formatClock(at)) },
    ),
  'no-disc': ({ deliverable }) =>
    msg('“{deliverable}” is a disc image, but the album has no disc.', { deliverable }),
  'no-side': ({ deliverable }) =>
    msg('“{deliverable}” is for a cutting room, but the album has no vinyl side.', { deliverable }),
  'isrc-malformed': ({ text }) => withReason(msg('“{text}” isn’t a valid ISRC.', { text }), isrcFault(text)),
  'isrc-double': ({ isrc, first }) =>
    msg('ISRC {isrc} is already used for track {first}.', { isrc: formatIsrc(isrc), first }),
  'upc-malformed': ({ text }) => withReason(msg('“{text}” isn’t a valid UPC/EAN.', { text }), eanFault(text)),
  'title-empty': () => msg('The track has no title.'),
  'album-title-empty': () => msg('The album has no title.'),
  'upc-missing': () => msg('The album has no UPC/EAN; stores and plants ask for one.'),
  'isrc-missing': () => msg('The track has no ISRC.'),
  'isrc-all-missing': () => msg('No track has an ISRC; stores ask for them.'),
  'title-like-file': ({ text, tidy }) =>
    msg('“{text}” looks like a file name. Should it be “{tidy}”?', { text, tidy }),
  'stray-blanks': ({ field, text }) =>
    msg('The {field} “{text}” has leading, trailing or double spaces.', { field: FIELD_WORDS[field], text }),
  'cd-text-lost': ({ field, chars, block, charset }) => {
    const values = {
      chars: [...chars].join(' '),
      field: cdTextField(field, block),
      charset: CHARSET_WORDS[charset],
    };
    return charset === 'ms-jis' || field === 'genre' || field === 'catalogNumber'
      ? msg(
          'CD-Text has no substitute for {chars} in the {field} ({charset} characters). Use other characters.',
          values,
        )
      : msg(
          'CD-Text has no substitute for {chars} in the {field} ({charset} characters). Use other characters, or choose Japanese.',
          values,
        );
  },
  'cd-text-unfit': ({ field, chars, plain, block }) =>
    msg('CD-Text can’t show {chars} in the {field}; the disc will read “{plain}”.', {
      chars: [...chars].join(' '),
      field: cdTextField(field, block),
      plain,
    }),
  'cd-text-too-long': ({ packs, block }) =>
    block > 0
      ? msg('The CD-Text of the second language takes {packs} packs; a disc holds 256.', { packs })
      : msg('The CD-Text takes {packs} packs; a disc holds 256.', { packs }),
  'mark-in-song-before': ({ by }) =>
    msg(
      'The start mark is {length} before the end of the previous track, so players start with its ending.',
      {
        length: inSeconds(ticksToSeconds(by)),
      },
    ),
  'cut-off': ({ end }) =>
    end === 'head'
      ? msg('The track starts in full sound without a fade-in.')
      : msg('The track ends in full sound without a fade-out.'),
  'long-silence': ({ end, seconds }) =>
    end === 'head'
      ? msg('{length} of silence before the sound.', { length: inSeconds(seconds) })
      : msg('{length} of silence after the sound.', { length: inSeconds(seconds) }),
  clipped: ({ runs }) =>
    msg('{runs, plural, one {The master is clipped once.} other {The master is clipped # times.}}', { runs }),
  'over-full-scale': ({ peakDbfs }) =>
    msg('With its gain the peak is {value} dB over full scale and will clip.', {
      value: figure(decibelText(peakDbfs, 1, 0)),
    }),
  'lossy-master': ({ codec }) => msg('The master is a lossy file ({codec}).', { codec }),
  'dithered-again': ({ why }) =>
    msg('The master is already dithered to 16 bit and will be dithered again: {why}.', { why: joined(why) }),
  'channels-inverted': ({ correlation }) =>
    msg('The channels are out of phase (correlation {value}).', {
      value: figure(decibelText(correlation, 2)),
    }),
  'one-sided': () => msg('One channel is silent.'),
  'loudness-apart': ({ lufs, by }) => {
    const values = { loudness: figure(decibelText(lufs, 1)), by: figure(Math.abs(by).toFixed(1)) };
    return by > 0
      ? msg('{loudness} LUFS: {by} LU louder than its neighbours.', values)
      : msg('{loudness} LUFS: {by} LU quieter than its neighbours.', values);
  },
  'rates-differ': ({ rates }) =>
    msg('The masters have different sample rates: {rates}.', {
      rates: rates.map((rate) => figure(`${rate / 1000} kHz`)),
    }),
  'masters-unused': ({ count }) =>
    msg('{count, plural, one {One master is} other {# masters are}} not used by any track.', { count }),
  'cover-small': ({ width, height }) =>
    msg('The cover is {width} × {height} pixels; stores ask for 3000 × 3000 and at least 1400 × 1400.', {
      width,
      height,
    }),
  'cover-not-square': ({ width, height }) =>
    msg('The cover is not square: {width} × {height} pixels.', { width, height }),
  'cover-colours': ({ space }) =>
    msg('The cover’s colour space is {space}; stores and players need RGB (sRGB).', {
      space: space.toUpperCase(),
    }),
  'cover-see-through': () => msg('The cover has transparent areas; embedded copies show them white.'),
  'cover-heavy': ({ bytes }) =>
    msg('The cover file is {size} MB; many stores accept at most 10 MB.', {
      size: figure((bytes / 2 ** 20).toFixed(1)),
    }),
  'lossy-peak': ({ peakDbtp, deliverable }) =>
    msg('The true peak is {value} dBTP; “{deliverable}” is lossy and may clip above −1 dBTP.', {
      value: figure(decibelText(peakDbtp, 1, LOSSY_CEILING_DBTP)),
      deliverable,
    }),
  'limiter-deep': ({ mostDb }) =>
    msg('The limiter reduces gain by up to {value} dB; more than 6 dB is audible.', {
      value: figure(decibelText(mostDb, 1, 6)),
    }),
  'limiter-always': ({ share }) =>
    msg('The limiter is active {percent} % of the time; it changes the level rather than catching peaks.', {
      percent: Math.round(100 * share),
    }),
  'lowest-lifted': ({ byDb }) =>
    msg(
      'The equaliser boosts the lowest octave, 20 to 40 Hz, by {value} dB; few rooms let you hear the effect.',
      { value: figure(decibelText(byDb, 1)) },
    ),
  'bits-lost': ({ songs }) =>
    msg(
      'The album treatment applies to all tracks, so {songs, plural, one {one otherwise untreated track is} other {# otherwise untreated tracks are}} no longer bit-perfect.',
      { songs },
    ),
  'clipped-pressed': ({ runs }) =>
    msg(
      'The master is already clipped {runs, plural, one {once} other {# times}}; more limiting makes that more audible.',
      { runs },
    ),
  'ceiling-high': ({ ceiling, deliverable }) =>
    msg('The ceiling is {value} dBTP; “{deliverable}” is lossy and may clip above −1 dBTP.', {
      value: figure(decibelText(ceiling, 1, LOSSY_CEILING_DBTP)),
      deliverable,
    }),
  'points-outside': ({ points }) =>
    msg(
      '{points, plural, one {One automation point lies} other {# automation points lie}} outside the played range.',
      { points },
    ),
  'alternate-short': ({ alternate, lacking }) =>
    msg('“{alternate}” ends {lacking} before the end of the track.', {
      alternate,
      lacking: figure(formatClock(lacking, 3)),
    }),
  'alternate-silent': ({ alternate }) => msg('“{alternate}” is silent throughout.', { alternate }),
  'alternate-shifted': ({ alternate, samples, by }) => {
    const values = {
      alternate,
      count: Math.abs(samples),
      milliseconds: figure(Math.abs(1000 * ticksToSeconds(by)).toFixed(2)),
    };
    return samples > 0
      ? msg(
          '“{alternate}” is {count, plural, one {# sample} other {# samples}} ({milliseconds} ms) later than the master.',
          values,
        )
      : msg(
          '“{alternate}” is {count, plural, one {# sample} other {# samples}} ({milliseconds} ms) earlier than the master.',
          values,
        );
  },
  'alternate-unknown': ({ deliverable, alternate }) =>
    msg('“{deliverable}” uses “{alternate}”, which none of its tracks has.', { deliverable, alternate }),
  'alternate-missing': ({ deliverable, alternate, of, missing, leftOut }) => {
    const values = { missing, of, deliverable, alternate };
    return leftOut
      ? msg(
          '{missing} of {of} tracks of “{deliverable}” have no “{alternate}”: no file is written for them.',
          values,
        )
      : msg(
          '{missing} of {of} tracks of “{deliverable}” have no “{alternate}”: their masters are used instead.',
          values,
        );
  },
  'shop-refuses': ({ deliverable, lacks }) =>
    msg('Stores will refuse “{deliverable}”: {reason}.', { deliverable, reason: STORE_REQUIREMENTS[lacks] }),
  'store-may-refuse': ({ deliverable, doubt }) =>
    msg('Stores may refuse “{deliverable}”. Master: {doubt}.', { deliverable, doubt: wordDoubt(doubt) }),
  'section-empty': ({ deliverable }) => msg('The section of “{deliverable}” is empty.', { deliverable }),
  'names-alike': ({ deliverable, name }) =>
    msg('Two files of “{deliverable}” have the name “{name}”; a number is added to one.', {
      deliverable,
      name,
    }),
} satisfies Table;

export function wordFinding(finding: Finding): Message {
  return (WORDS[finding.code] as (finding: Finding) => Message)(finding);
}

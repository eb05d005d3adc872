import { ticksToSeconds } from '@oiseau/audio/time';
import type { Finding } from '@oiseau/checks';

const SLEEVE: ReadonlySet<Finding['code']> = new Set([
  'isrc-malformed',
  'isrc-double',
  'isrc-missing',
  'isrc-all-missing',
  'upc-malformed',
  'upc-missing',
  'edition-upc-same',
  'edition-own-isrc',
  'title-empty',
  'album-title-empty',
  'title-like-file',
  'stray-blanks',
  'cd-text-unfit',
  'cd-text-lost',
  'cd-text-too-long',
  'cover-small',
  'cover-not-square',
  'cover-colours',
  'cover-see-through',
  'cover-heavy',
  'shop-refuses',
]);
const MASTERS: ReadonlySet<Finding['code']> = new Set([
  'no-tracks',
  'clipped',
  'lossy-master',
  'store-may-refuse',
  'channels-inverted',
  'one-sided',
  'rates-differ',
  'masters-unused',
]);

const SOUND: ReadonlySet<Finding['code']> = new Set([
  'limiter-deep',
  'limiter-always',
  'lowest-lifted',
  'bits-lost',
  'clipped-pressed',
  'ceiling-high',
  'points-outside',
  'lossy-peak',
]);

const ALTERNATES: ReadonlySet<Finding['code']> = new Set([
  'alternate-short',
  'alternate-silent',
  'alternate-shifted',
]);
const RENDER: ReadonlySet<Finding['code']> = new Set([
  'names-alike',
  'section-empty',
  'no-disc',
  'no-side',
  'alternate-unknown',
  'alternate-missing',
]);

/** The step, and in it the song, where a finding is mended: the end of an address. */
export function placeToFix(finding: Finding): string {
  const { code } = finding;
  // A moment of a side: that part is shown, and the mark stands there.
  if ('at' in finding) return `sequence?part=${finding.part}&at=${ticksToSeconds(finding.at)}`;
  const song = 'song' in finding && finding.song !== null ? `?song=${encodeURIComponent(finding.song)}` : '';
  if (SLEEVE.has(code)) return `sleeve${song}`;
  if (SOUND.has(code)) return `sound${song}`;
  if (MASTERS.has(code)) return 'masters';
  if (ALTERNATES.has(code)) return 'masters/alternates';
  if (RENDER.has(code)) return 'render';
  return song === '' && 'part' in finding ? `sequence?part=${finding.part}` : `sequence${song}`;
}

import type { Album } from '../album/album.js';
import { trackAtIndex } from '../album/edit.js';
import { cdText } from './cd-text.js';
import { codes } from './codes.js';
import { discLength } from './disc-length.js';
import { ditherTwice } from './dither-twice.js';
import { edgesOfSound } from './edges-of-sound.js';
import { fileNames } from './file-names.js';
import { cover } from './cover.js';
import type { CheckSubject, Finding, Rule, Severity } from './finding.js';
import { firstPause } from './first-pause.js';
import { levels } from './levels.js';
import { lossyPeaks } from './lossy-peaks.js';
import { masterFaults } from './master-faults.js';
import { mastersOfAlbum } from './masters-of-album.js';
import { missingCodes } from './missing-codes.js';
import { overlaps } from './overlaps.js';
import { sections } from './sections.js';
import { regions } from './regions.js';
import { startMarks } from './start-marks.js';
import { textHabits } from './text-habits.js';
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
  startMarks,
  discLength,
  masterFaults,
  levels,
  edgesOfSound,
  ditherTwice,
  codes,
  missingCodes,
  titles,
  textHabits,
  cdText,
  cover,
  lossyPeaks,
  sections,
  fileNames,
  mastersOfAlbum,
];

const RANK: Record<Severity, number> = { error: 0, warning: 1, hint: 2 };

/** Everything that is wrong or doubtful, errors first, else in the order of the rules. */
export function checkAlbum(subject: CheckSubject): Finding[] {
  return RULES.flatMap((rule) => rule(subject)).sort((a, b) => RANK[a.severity] - RANK[b.severity]);
}

/** Whether somebody has accepted a finding, with the reason; an error can't be accepted. */
export function acceptedReason({ album }: CheckSubject, finding: Finding): string | null {
  if (finding.severity === 'error') return null;
  const track = placeOf(album, finding);
  return album.accepted.find((each) => each.code === finding.code && each.track === track)?.reason ?? null;
}

/** The id of the track that a finding concerns; null: the album. */
export const placeOf = (album: Album, finding: Finding): string | null =>
  'track' in finding && finding.track !== null ? (trackAtIndex(album, finding.track)?.id ?? null) : null;

/** Where a finding stands, for people: `5 Keeper’s Round`, `The album`. */
export function placeWords(album: Album, finding: Finding): string {
  if (!('track' in finding) || finding.track === null) return 'The album';
  const title = trackAtIndex(album, finding.track)?.title ?? '';
  return `${finding.track < 0 ? 'Hidden' : finding.track + 1} ${title}`.trim();
}

/** The album with a finding accepted for a reason, or (reason null) no longer accepted. */
export function acceptFinding(album: Album, finding: Finding, reason: string | null): Album {
  const track = placeOf(album, finding);
  const others = album.accepted.filter((each) => each.code !== finding.code || each.track !== track);
  const accepted = reason === null ? others : [...others, { code: finding.code, track, reason }];
  return { ...album, accepted };
}
